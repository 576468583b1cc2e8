import { computed, ref, watch, type ComputedRef, type Ref } from 'vue';

import type { AirbrushUsed, PaintUsed, Shelf, ThinnerUsed } from '@/api/client';
import { SUITS, type ThinnerKind } from '@/craft.generated';

import type { WindowTask } from './use-setting';

export interface BenchChoice {
  paint: ComputedRef<PaintUsed | null>;
  airbrush: ComputedRef<AirbrushUsed | null>;
  thinner: ComputedRef<ThinnerUsed | null>;
  /** Thinners that suit the paint. */
  thinners: ComputedRef<ThinnerUsed[]>;
  over: Ref<string>;
  task: Ref<WindowTask>;
  school: Ref<'whisper' | 'middle' | 'brisk'>;
  choosePaint: (id: string) => void;
  chooseAirbrush: (id: string) => void;
  chooseThinner: (id: string) => void;
}
interface Kept {
  paint: string;
  airbrush: string;
  thinner: string;
  over: string;
  task: WindowTask;
  school: 'whisper' | 'middle' | 'brisk';
}
const START: Kept = {
  paint: '',
  airbrush: '',
  thinner: '',
  over: 'matt 50',
  task: 'cover',
  school: 'middle',
};

/** What lies on the bench; remembered by this browser under a name. */
export function useBenchChoice(name: string, shelf: () => Shelf): BenchChoice {
  const key = `haze-window-${name}`;
  const kept = ref<Kept>({ ...START, ...read(key) });
  watch(kept, (now) => localStorage.setItem(key, JSON.stringify(now)), { deep: true });

  const paint = computed(() => named(shelf().paints, kept.value.paint));
  // a second bench begins with another airbrush: that is what one compares
  const other = name === 'first' ? 0 : 1;
  const airbrush = computed(() => named(shelf().airbrushes, kept.value.airbrush, other));
  const thinners = computed(() => {
    const kinds: ThinnerKind[] = paint.value ? SUITS[paint.value.kind] : [];
    return shelf()
      .thinners.filter((t) => kinds.includes(t.kind))
      .sort((a, b) => kinds.indexOf(a.kind) - kinds.indexOf(b.kind));
  });
  const thinner = computed(() => named(thinners.value, kept.value.thinner));
  return {
    paint,
    airbrush,
    thinner,
    thinners,
    over: part('over'),
    task: part('task'),
    school: part('school'),
    choosePaint: (id) => (kept.value.paint = id),
    chooseAirbrush: (id) => (kept.value.airbrush = id),
    chooseThinner: (id) => (kept.value.thinner = id),
  };

  function part<K extends keyof Kept>(name: K): Ref<Kept[K]> {
    return computed({
      get: () => kept.value[name],
      set: (value) => (kept.value = { ...kept.value, [name]: value }),
    });
  }
}

function named<T extends { id: string }>(rows: T[], id: string, start = 0): T | null {
  return rows.find((row) => row.id === id) ?? rows[start] ?? rows[0] ?? null;
}

function read(key: string): Partial<Kept> {
  try {
    return JSON.parse(localStorage.getItem(key) ?? '{}') as Partial<Kept>;
  } catch {
    return {};
  }
}
