import { onScopeDispose, ref, type Ref } from 'vue';

import { Refused, sentence, type JobView } from '@/api/client';

import { cancelJob, followJob } from './follow-job';

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
  let turn = 0;

  function stop(): void {
    if (job.value) void cancelJob(job.value.id).catch(() => undefined);
  }

  async function run(
    start: () => Promise<JobView>,
    result: (id: string) => Promise<R>,
  ): Promise<R | null> {
    const mine = ++turn;
    stop();
    problem.value = '';
    try {
      const first = await start();
      const done = await followJob(
        first,
        (view) => (job.value = view),
        () => mine === turn,
      );
      return done ? await result(first.id) : null;
    } catch (error) {
      const stopped = error instanceof Refused && error.code === 'cancelled';
      if (mine === turn && !stopped) problem.value = sentence(error);
      return null;
    } finally {
      if (mine === turn) job.value = null;
    }
  }

  onScopeDispose(() => {
    turn += 1;
    stop();
  });

  return { job, problem, run, stop };
}
