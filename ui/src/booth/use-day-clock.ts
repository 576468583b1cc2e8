import { computed, type ComputedRef, type Ref } from 'vue';

import type { BoothView } from '@/api/client';
import { clockTime, hoursWords, weekday } from '@/displays/format';

const IN_TIME_MIN = 2;

/** Minutes of a day as a clock tells them, and how the day stands against its plan. */
export function useDayClock(
  view: Readonly<Ref<BoothView | null>>,
  minute: Readonly<Ref<number>>,
  lateMin: Readonly<Ref<number>>,
): { until: (minutes: number) => string; timing: ComputedRef<string> } {
  const begun = computed(() => {
    const [date, time] = (view.value?.start ?? '2026-01-01T00:00').split('T');
    const [h, m] = time!.split(':').map(Number) as [number, number];
    return { date: date!, min: 60 * h + m };
  });
  /** With its day, when that is not today's. */
  function until(minutes: number): string {
    const { date, min } = begun.value;
    const on = Math.floor((minutes + min) / (24 * 60));
    const today = Math.floor((minute.value + min) / (24 * 60));
    const day = on === Math.max(today, 0) ? '' : `${weekday(date, on)} `;
    return `${day}${clockTime(minutes + min)}`;
  }
  const timing = computed(() => {
    if (!view.value) return '';
    const late = Math.round(lateMin.value);
    const end = `till ${until(view.value.finish_min)}`;
    if (Math.abs(late) < IN_TIME_MIN) return `in time, ${end}`;
    return `${hoursWords(Math.abs(late))} ${late > 0 ? 'late' : 'early'}, ${end}`;
  });
  return { until, timing };
}
