import { useLocalStorage } from '@vueuse/core';
import { pick } from 'lodash-es';
import { computed, ref, watch, type ComputedRef, type Ref } from 'vue';

import { api, sentence, take, type SprayAt, type TurnedBody } from '@/api/client';

import { SET } from './knobs';
import type { BenchChoice } from './use-bench-choice';

/** What lies on the bench, as a setting has it. */
export type Given = Pick<
  TurnedBody['setting'],
  'paint' | 'needle_mm' | 'thinner' | 'room' | 'ground'
>;
export interface BenchPoint {
  spray: Ref<SprayAt | null>;
  passes: Ref<number>;
  /** Why there is no recipe to begin with; empty when there is one. */
  none: Ref<string>;
  /** Back to the recipe, from wherever the point was turned to. */
  begin: () => Promise<void>;
}
interface KeptPoint {
  /** Of what it is: another paint, needle or task begins anew. */
  of: string;
  spray: SprayAt | null;
  passes: number;
}
const FALLBACK: SprayAt = {
  thinner_parts: 1,
  flow_aid_parts: 0,
  retarder_parts: 0,
  trigger: 0.35,
  pressure_psi: 18,
  distance_mm: 60,
  speed_mm_s: 80,
  rest_s: 0,
  blown: false,
};

/** The point of a bench: a recipe to begin with, then where the painter left it. */
export function useBenchPoint(
  name: string,
  given: ComputedRef<Given | null>,
  { paint, airbrush, task, school }: BenchChoice,
): BenchPoint {
  const kept = useLocalStorage<KeptPoint>(`haze-window-${name}-point`, {
    of: '',
    spray: null,
    passes: 2,
  });
  const spray = ref<SprayAt | null>(null);
  const passes = ref(2);
  const none = ref('');
  const of = computed(() =>
    JSON.stringify([given.value, paint.value?.id, airbrush.value?.id, task.value, school.value]),
  );
  watch(
    of,
    (now) => {
      if (!given.value) return;
      if (kept.value.of !== now || !kept.value.spray) return void begin();
      none.value = '';
      spray.value = { ...FALLBACK, ...kept.value.spray };
      passes.value = kept.value.passes;
    },
    { immediate: true },
  );
  watch([spray, passes], () => {
    if (!none.value) kept.value = { of: of.value, spray: spray.value, passes: passes.value };
  });

  async function begin(): Promise<void> {
    const [body, p, a] = [given.value, paint.value, airbrush.value];
    if (!body || !p || !a) return;
    const now = of.value;
    try {
      const ids = { paint_id: p.id, airbrush_id: a.id };
      const asked = { ...body, ...ids, task: task.value, school: school.value };
      const found = await take(
        api.POST('/api/recipe/known', { body: { ...asked, line_mm: null, speck_mm: null } }),
      );
      if (now !== of.value) return;
      none.value = 'none' in found ? `${found.none} ${found.change}` : '';
      if ('none' in found) {
        spray.value ??= { ...FALLBACK };
        return;
      }
      passes.value = found.passes;
      spray.value = { ...FALLBACK, ...pick(found, SET) };
    } catch (error) {
      none.value = sentence(error);
    }
  }
  return { spray, passes, none, begin };
}
