import { beforeEach, describe, expect, it, vi } from 'vitest';
import { computed, effectScope, nextTick, ref, type EffectScope } from 'vue';

import type { BoothView } from '@/api/client';
import { useDayClock } from '@/booth/use-day-clock';
import type { BenchChoice } from '@/window/use-bench-choice';
import { useBenchPoint, type BenchPoint, type Given } from '@/window/use-bench-point';

import { serve } from './server';

const RECIPE = {
  thinner_parts: 1,
  trigger: 0.4,
  pressure_psi: 20,
  distance_mm: 60,
  speed_mm_s: 80,
  rest_s: 0,
  blown: false,
  passes: 3,
};

function bench(paint: ReturnType<typeof ref<string>>): { scope: EffectScope; point: BenchPoint } {
  const scope = effectScope();
  const given = computed(() => ({ needle_mm: 0.3 }) as Given);
  const chosen = {
    paint: computed(() => ({ id: paint.value })),
    airbrush: computed(() => ({ id: 'fine' })),
    task: ref('cover'),
    school: ref('middle'),
  } as unknown as BenchChoice;
  return { scope, point: scope.run(() => useBenchPoint('first', given, chosen))! };
}

describe('the point of a bench', () => {
  beforeEach(() => localStorage.clear());

  it('begins with a recipe and is found again where it was left', async () => {
    const asked = serve(() => ({ body: RECIPE }));
    const { scope, point } = bench(ref('white'));
    await vi.waitFor(() => expect(point.passes.value).toBe(3));
    point.spray.value = { ...point.spray.value!, pressure_psi: 27 };
    await nextTick();
    scope.stop();
    const later = bench(ref('white'));
    expect(later.point.spray.value?.pressure_psi).toBe(27);
    expect(asked).toHaveLength(1);
    await later.point.begin();
    expect(later.point.spray.value?.pressure_psi).toBe(20);
    later.scope.stop();
  });

  it('says that there is no recipe of one paint, and no longer when another is back', async () => {
    const paint = ref('white');
    serve(({ body }) =>
      (body as { paint_id: string }).paint_id === 'white'
        ? { body: RECIPE }
        : { body: { none: 'Nothing sprays this.', change: 'Thin it.' } },
    );
    const { scope, point } = bench(paint);
    await vi.waitFor(() => expect(point.passes.value).toBe(3));
    await nextTick();
    paint.value = 'glue';
    await vi.waitFor(() => expect(point.none.value).toBe('Nothing sprays this. Thin it.'));
    paint.value = 'white';
    await nextTick();
    expect(point.none.value).toBe('');
    scope.stop();
  });
});

describe('the clock of the booth', () => {
  const view = ref<BoothView | null>(null);
  const late = ref(0);
  const { timing, until } = useDayClock(view, ref(30), late);

  it('tells no end before the day is laid', () => {
    expect(timing.value).toBe('');
  });

  it('tells the end, how late, and another day by its name', () => {
    view.value = { start: '2026-11-28T14:00', finish_min: 415 } as BoothView;
    expect(timing.value).toBe('in time, till 20:55');
    late.value = 25;
    expect(timing.value).toBe('25 min late, till 20:55');
    expect(until(11 * 60)).toBe('Sunday 01:00');
  });
});
