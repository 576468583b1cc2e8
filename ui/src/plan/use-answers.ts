import { onScopeDispose, ref, watch, type Ref } from 'vue';

import { api, Refused, sentence, take, type Plan, type PlanWorkings } from '@/api/client';
import { followJob, stopJob } from '@/api/follow-job';
import { useLatest, type Latest } from '@/composables/use-latest';
import type { usePlan } from '@/stores/plan';

type Store = ReturnType<typeof usePlan>;
/** So long [ms] the answers wait for fresh rays, so that one change is worked out once. */
const WAIT_MS = 1200;

export interface Answers {
  /** `done` when the rays of the plan on the screen are traced as finely as they will be. */
  smooth: Readonly<Ref<string>>;
}

/**
 * What the server is asked for the plan on the screen, once for each change: first whether fresh
 * rays are wanted, then its workings and findings. A plan that has no answers yet gets coarse ones
 * at once; while something is dragged nothing is asked.
 */
export function useAnswers(store: Store, piece: () => string | null): Answers {
  const smooth = ref('');
  const workings = workingsOf(store);
  const findings = findingsOf(store);
  let turn = new AbortController();

  function ask(plan: Plan): void {
    workings.push(plan);
    findings.push(plan);
  }

  async function answer(plan: Plan, signal: AbortSignal): Promise<void> {
    let asked = store.workings === null;
    if (asked) ask(plan);
    const askOnce = (): void => {
      if (!asked && !signal.aborted) ask(plan);
      asked = true;
    };
    try {
      const finer = await traced(plan, askOnce, signal);
      if (signal.aborted) return;
      if (finer) {
        store.fineness += 1;
        ask(plan);
      } else askOnce();
      smooth.value = 'done';
    } catch {
      if (signal.aborted) return;
      // a picture that stays a little patchy is no reason to trouble the painter
      askOnce();
      smooth.value = 'patchy';
    }
  }

  watch(
    [() => store.plan, () => store.dragging, piece, () => store.taught],
    ([plan, dragging, ready]) => {
      turn.abort();
      smooth.value = '';
      if (!plan || dragging || !ready) return;
      turn = new AbortController();
      void answer(plan, turn.signal);
    },
    { immediate: true },
  );
  onScopeDispose(() => {
    turn.abort();
    workings.stop();
    findings.stop();
  });

  return { smooth };
}

/** Have rays traced for what was moved; true when there were some. `late` is told after a while. */
async function traced(plan: Plan, late: () => void, signal: AbortSignal): Promise<boolean> {
  const { job } = await take(api.POST('/api/smooth', { body: { plan } }));
  if (!job) return false;
  const timer = setTimeout(late, WAIT_MS);
  try {
    const done = await followJob(job, () => undefined, signal);
    if (!done) stopJob(job.id);
    return done;
  } finally {
    clearTimeout(timer);
  }
}

function workingsOf(store: Store): Latest<Plan> {
  return useLatest<Plan>(
    async (plan) => {
      const id = store.id;
      const found = (await take(api.POST('/api/workings', { body: { plan } }))) as PlanWorkings;
      if (id !== store.id) return;
      store.workings = found;
      store.refused = '';
    },
    (error) => {
      // a piece that is still in the making asks again when it is ready
      if (error instanceof Refused && error.status === 422) {
        store.workings = null;
        store.refused = sentence(error);
      }
    },
  );
}

function findingsOf(store: Store): Latest<Plan> {
  return useLatest<Plan>(
    async (plan) => {
      const id = store.id;
      const found = await take(api.POST('/api/findings', { body: { plan } }));
      if (id === store.id) store.findings = found.findings;
    },
    () => undefined,
  );
}
