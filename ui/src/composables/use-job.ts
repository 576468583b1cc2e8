import { onScopeDispose, ref, type Ref } from 'vue';

import { Refused, sentence, type JobView } from '@/api/client';
import { followJob, stopJob } from '@/api/follow-job';

export interface UseJob<R> {
  job: Readonly<Ref<JobView | null>>;
  problem: Ref<string>;
  /** Start the work anew; what is still under way is stopped first. Null when it came to nothing. */
  run: (start: () => Promise<JobView>, result: (id: string) => Promise<R>) => Promise<R | null>;
  stop: () => void;
}

/** One job of a screen with its progress, its result, and the sentence when it failed. */
export function useJob<R>(): UseJob<R> {
  const job = ref<JobView | null>(null);
  const problem = ref('');
  let turn = new AbortController();

  function stop(): void {
    if (job.value) stopJob(job.value.id);
  }
  function leave(): void {
    turn.abort();
    stop();
  }

  async function run(
    start: () => Promise<JobView>,
    result: (id: string) => Promise<R>,
  ): Promise<R | null> {
    leave();
    const { signal } = (turn = new AbortController());
    problem.value = '';
    try {
      const first = await start();
      if (signal.aborted) stopJob(first.id);
      const done = await followJob(first, (view) => (job.value = view), signal);
      return done ? await result(first.id) : null;
    } catch (error) {
      const stopped = error instanceof Refused && error.code === 'cancelled';
      if (!signal.aborted && !stopped) problem.value = sentence(error);
      return null;
    } finally {
      if (!signal.aborted) job.value = null;
    }
  }

  onScopeDispose(leave);

  return { job, problem, run, stop };
}
