import { computed, type ComputedRef } from 'vue';

import type { Step } from '@/api/client';
import { usePlan } from '@/stores/plan';

export interface LaterFilm {
  masstone: string;
  opacity: NonNullable<Step['paint']>['opacity'];
  finish: NonNullable<NonNullable<Step['paint']>['finish']>;
  dry_film_um: number;
}
export interface Later {
  /** Colour of the last step below a place in the plan that leaves paint; the surface without one. */
  groundBelow: (steps: number) => string;
  /** Films that come over the selected step: tints, veils, washes and varnishes. */
  films: ComputedRef<LaterFilm[]>;
}

const MOST = 8;
const SEEN_THROUGH = ['tint', 'veil', 'wash', 'gloss', 'satin', 'matt'];

function isSeenThrough(step: Step): boolean {
  if (!step.paint || step.off || step.paint.kind === 'metallic') return false;
  return step.kind === 'hand' ? step.role === 'wash' : SEEN_THROUGH.includes(step.task);
}

/** What lies below a step, and what comes over it later. */
export function useLater(): Later {
  const store = usePlan();
  const films = computed(() =>
    (store.plan?.coats.slice(store.after) ?? [])
      .filter(isSeenThrough)
      .slice(0, MOST)
      .map((c) => ({
        masstone: c.paint!.masstone,
        opacity: c.paint!.opacity,
        finish: c.paint!.finish ?? 'matt',
        dry_film_um: store.layers.get(c.id)?.dry_um ?? 0,
      })),
  );
  function groundBelow(steps: number): string {
    const under = store.plan?.coats.slice(0, Math.max(steps, 0)).findLast((c) => c.paint && !c.off);
    return under?.paint?.masstone ?? store.plan?.piece.surface ?? '#8d8e8c';
  }
  return { groundBelow, films };
}
