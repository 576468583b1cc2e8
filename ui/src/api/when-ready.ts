import { shallowRef, type ShallowRef } from 'vue';

import { followJob } from './follow-job';
import type { components } from './schema';

type JobView = components['schemas']['JobView'];

/** The work that requests wait for just now, with its progress; null when none does. */
export const preparing: ShallowRef<JobView | null> = shallowRef(null);
const WAITS = 202;
let waiting = 0;

/**
 * The answer to a request. What needs a piece that is not worked out yet is answered 202 with the
 * job that works it out: it is waited for, then the same is asked again.
 */
export async function whenReady(
  send: () => Promise<Response>,
  signal: AbortSignal,
): Promise<Response> {
  for (;;) {
    const answer = await send();
    if (answer.status !== WAITS) return answer;
    const job = (await answer.json()) as JobView;
    waiting += 1;
    try {
      const done = await followJob(job, (view) => (preparing.value = view), signal);
      if (!done) throw new DOMException('No longer wanted', 'AbortError');
    } finally {
      waiting -= 1;
      if (!waiting) preparing.value = null;
    }
  }
}
