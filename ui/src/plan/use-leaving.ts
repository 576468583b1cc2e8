import { useEventListener } from '@vueuse/core';
import { ElMessageBox } from 'element-plus';
import { onBeforeRouteLeave, onBeforeRouteUpdate, type RouteLocationNormalized } from 'vue-router';

import type { usePlan } from '@/stores/plan';

const WORDS: Partial<Record<ReturnType<typeof usePlan>['saving'], string>> = {
  unsaved: 'What you changed last is not saved. It is lost when you leave.',
  stale:
    'What you changed here is not saved, because another window changed this plan. It is lost ' +
    'when you leave; you can keep it as a copy first.',
};

/** Whoever leaves a plan with a change that is not saved is asked first. */
export function useLeaving(store: ReturnType<typeof usePlan>): void {
  async function mayLeave(): Promise<boolean> {
    const words = store.edited && WORDS[store.saving];
    if (!words) return true;
    return ElMessageBox.confirm(words, 'Not saved', {
      confirmButtonText: 'Stay',
      cancelButtonText: 'Leave and lose it',
      distinguishCancelAndClose: true,
    }).then(
      () => false,
      (action: string) => action === 'cancel',
    );
  }
  onBeforeRouteLeave(mayLeave);
  onBeforeRouteUpdate((to: RouteLocationNormalized, from: RouteLocationNormalized) =>
    to.params.id === from.params.id ? true : mayLeave(),
  );
  useEventListener(window, 'beforeunload', (event: BeforeUnloadEvent) => {
    if (store.edited && WORDS[store.saving]) event.preventDefault();
  });
}
