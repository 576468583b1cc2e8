import { refusal, Refused, unreachable } from './refused';
import type { components } from './schema';

type JobView = components['schemas']['JobView'];

const ENDED = ['done', 'failed', 'cancelled'];
/** How often [ms] a job is asked after while no more open requests are granted. */
const ASK_MS = 1000;

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

async function asked(id: string): Promise<JobView> {
  let answer: Response;
  try {
    answer = await fetch(`/api/jobs/${id}`);
  } catch {
    throw unreachable();
  }
  const body: unknown = await answer.json().catch(() => null);
  if (!answer.ok) throw refusal(answer.status, body);
  return body as JobView;
}

function lastView(
  id: string,
  told: (view: JobView) => void,
  signal: AbortSignal,
): Promise<JobView | null> {
  const events = new EventSource(`/api/jobs/${id}/events`);
  let timer = 0;
  const last = new Promise<JobView | null>((resolve, reject) => {
    signal.addEventListener('abort', () => resolve(null), { once: true });
    function hear(view: JobView): void {
      if (signal.aborted) return;
      told(view);
      if (ENDED.includes(view.state)) resolve(view);
    }
    function ask(): void {
      asked(id).then((view) => {
        hear(view);
        // refused for good, when too many requests listen: the browser does not try again
        if (events.readyState === EventSource.CLOSED) timer = window.setTimeout(ask, ASK_MS);
      }, reject);
    }
    events.onmessage = (event: MessageEvent<string>) => hear(JSON.parse(event.data) as JobView);
    // the browser opens the request anew by itself; whether the job is still known must be asked
    events.onerror = ask;
  });
  return last.finally(() => {
    window.clearTimeout(timer);
    events.close();
    // what is still asked comes too late to set a timer
    events.onerror = null;
  });
}

/** Ask a job to stop; one that has ended or is forgotten needs none of it. */
export function stopJob(id: string): void {
  void fetch(`/api/jobs/${id}`, { method: 'DELETE' }).catch(() => undefined);
}
