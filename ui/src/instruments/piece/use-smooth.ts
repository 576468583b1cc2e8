import { onScopeDispose, ref, watch, type Ref } from 'vue';

import { api, take } from '@/api/client';
import { cancelJob, followJob } from '@/composables/follow-job';
import type { usePlan } from '@/stores/plan';

const REST_MS = 250;

/**
 * When the plan rests, have fresh rays traced for what was moved, then ask for everything anew.
 * While something is dragged the quick picture stays. Value: `done` when the shadows are smooth.
 */
export function useSmooth(
  store: ReturnType<typeof usePlan>,
  key: () => string | null,
): Readonly<Ref<string>> {
  const state = ref('');
  let turn = 0;
  let job: string | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;

  function rest(): void {
    turn += 1;
    clearTimeout(timer);
    if (job) void cancelJob(job).catch(() => undefined);
    job = null;
    state.value = '';
  }

  async function smooth(mine: number): Promise<void> {
    const plan = store.plan;
    if (!plan || mine !== turn) return;
    const found = await take(api.POST('/api/smooth', { body: { plan } }));
    if (mine !== turn) return;
    if (found.job) {
      job = found.job.id;
      const done = await followJob(
        found.job,
        () => undefined,
        () => mine === turn,
      );
      if (!done) return;
      job = null;
      store.fineness += 1;
    }
    state.value = 'done';
  }

  watch(
    () => [store.plan, store.dragging, key()] as const,
    ([plan, dragging, ready]) => {
      rest();
      if (!plan || dragging || !ready) return;
      const mine = turn;
      // a picture that stays a little patchy is no reason to trouble the painter
      timer = setTimeout(() => void smooth(mine).catch(() => undefined), REST_MS);
    },
    { immediate: true },
  );
  onScopeDispose(rest);

  return state;
}
