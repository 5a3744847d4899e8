/** A product's sheet as somebody may see it: costs and orders are for those who pay, and they edit what is theirs. */
import { inScope, may } from '#core/authority/index';
import type { ProductSheet } from '../contract';
import type { Viewer } from '../services';

export function sheetFor(viewer: Viewer, sheet: ProductSheet): ProductSheet {
  const mayKeep = may(viewer, 'licenses.keep');
  return {
    ...sheet,
    licenses: sheet.licenses.map((license) =>
      inScope(viewer, license.schoolId)
        ? { ...license, mayEdit: mayKeep }
        : { ...license, costCents: null, orderNumber: null, mayEdit: false },
    ),
    rules: sheet.rules.map((rule) => ({
      ...rule,
      mayEdit: mayKeep && rule.ofSchools.every((schoolId) => inScope(viewer, schoolId)),
    })),
    proposal: inScope(viewer, null) ? sheet.proposal : { ...sheet.proposal, buyCents: null },
  };
}
