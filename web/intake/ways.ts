/** How a feed comes, in words. */
import type { FeedWay } from '../../server/contract';
import { t } from '@/words';

export const waysInWords: Record<FeedWay, string> = {
  upload: t('intake.filesOpenedByHand'),
  folder: t('intake.folderKind'),
  service: t('intake.serviceKind'),
};
