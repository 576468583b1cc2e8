import { ref, type Ref } from 'vue';

import { sentence } from '@/api/client';

export interface Attempt {
  /** What went wrong the last time, in a sentence. */
  problem: Ref<string>;
  busy: Ref<boolean>;
  attempt: (work: () => Promise<unknown>) => Promise<void>;
}

/** Something that may be refused: busy meanwhile, and the refusal told where it was asked. */
export function useAttempt(): Attempt {
  const problem = ref('');
  const busy = ref(false);
  async function attempt(work: () => Promise<unknown>): Promise<void> {
    problem.value = '';
    busy.value = true;
    try {
      await work();
    } catch (error) {
      problem.value = sentence(error);
    } finally {
      busy.value = false;
    }
  }
  return { problem, busy, attempt };
}
