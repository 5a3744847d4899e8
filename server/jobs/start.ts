/** A job that a person starts and does not wait for. */
import type { Services, Viewer } from '../services';
import { enqueue } from './queue';

export async function startJob(
  services: Services,
  kind: Parameters<typeof enqueue>[1],
  input: object,
  viewer: Viewer,
): Promise<{ jobId: string }> {
  const jobId = await enqueue(services.db, kind, input, viewer.personId);
  services.nudge();
  return { jobId };
}
