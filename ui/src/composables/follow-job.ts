import { api, Refused, take, type JobView } from '@/api/client';

const ENDED = ['done', 'failed', 'cancelled'];

/**
 * Wait for a job on one open request until it ends. Resolves true when it is done, false when
 * `signal` aborts first; a job that failed or was stopped is a `Refused` with its sentence.
 */
export async function followJob(
  first: JobView,
  told: (view: JobView) => void,
  signal: AbortSignal,
): Promise<boolean> {
  if (signal.aborted) return false;
  told(first);
  const last = ENDED.includes(first.state) ? first : await lastView(first.id, told, signal);
  if (!last) return false;
  if (last.state === 'done') return true;
  const code = last.code ?? last.state;
  throw new Refused(last.error ?? 'Stopped. Nothing was changed.', 0, code);
}

function lastView(
  id: string,
  told: (view: JobView) => void,
  signal: AbortSignal,
): Promise<JobView | null> {
  const events = new EventSource(`/api/jobs/${id}/events`);
  const last = new Promise<JobView | null>((resolve, reject) => {
    signal.addEventListener('abort', () => resolve(null), { once: true });
    function hear(view: JobView): void {
      if (signal.aborted) return;
      told(view);
      if (ENDED.includes(view.state)) resolve(view);
    }
    events.onmessage = (event: MessageEvent<string>) => hear(JSON.parse(event.data) as JobView);
    // the browser opens the request anew by itself; whether the job is still known must be asked
    events.onerror = () => {
      take(api.GET('/api/jobs/{job_id}', { params: { path: { job_id: id } } })).then(hear, reject);
    };
  });
  return last.finally(() => events.close());
}

/** Ask a job to stop; one that has ended or is forgotten needs none of it. */
export function stopJob(id: string): void {
  void api
    .DELETE('/api/jobs/{job_id}', { params: { path: { job_id: id } } })
    .catch(() => undefined);
}
