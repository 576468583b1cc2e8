import { api, Refused, take, type JobView } from '@/api/client';

const POLL_MS = 120;

/**
 * Ask for a job until it ends. Resolves true when it is done, false when `alive` no longer holds;
 * a job that failed or was stopped is a `Refused` with its sentence.
 */
export async function followJob(
  first: JobView,
  told: (view: JobView) => void,
  alive: () => boolean,
): Promise<boolean> {
  let view = first;
  for (;;) {
    if (!alive()) return false;
    told(view);
    if (view.state === 'done') return true;
    if (view.state === 'failed' || view.state === 'cancelled') {
      throw new Refused(view.error ?? 'Stopped. Nothing was changed.', 0, view.state);
    }
    await new Promise((resolve) => setTimeout(resolve, POLL_MS));
    view = await take(api.GET('/api/jobs/{job_id}', { params: { path: { job_id: first.id } } }));
  }
}

export async function cancelJob(id: string): Promise<void> {
  await take(api.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: id } } }));
}
