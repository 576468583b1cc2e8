/** What is marked on a photo of a piece: a ring around it, or points; and the paper beside it. */
import { computed, ref, type ComputedRef, type Ref } from 'vue';

import type { PieceMarks, PointPair } from '@/api/client';
import { PAPER_LIGHTNESS, POINTS, RING } from '@/craft.generated';

import type { Mark } from './MarkedPicture.vue';

type Place = PieceMarks['patch'];

export interface Marking {
  way: Ref<'outline' | 'points'>;
  azimuth: Ref<number>;
  elevation: Ref<number>;
  ring: Ref<Place[]>;
  pairs: Ref<PointPair[]>;
  patching: Ref<boolean>;
  patch: Ref<Place | null>;
  lightness: Ref<number>;
  /** What the next press on the plan, or on the photo, marks; empty when nothing is wanted there. */
  nextOnPlan: ComputedRef<string>;
  nextOnPhoto: ComputedRef<string>;
  planMarks: ComputedRef<Mark[]>;
  photoMarks: ComputedRef<Mark[]>;
  counted: ComputedRef<string>;
  todo: ComputedRef<string>;
  /** Null while something is missing. */
  body: ComputedRef<PieceMarks | null>;
  canGoBack: ComputedRef<boolean>;
  show: (marks: PieceMarks | null) => void;
  markPlan: (x: number, y: number) => void;
  markPhoto: (x: number, y: number) => void;
  back: () => void;
}

const counts = (n: number, what: string): string => `${n} ${what}${n === 1 ? '' : 's'}`;

export function useMarks(): Marking {
  const way = ref<'outline' | 'points'>('outline');
  const azimuth = ref(20);
  const elevation = ref(12);
  const ring = ref<Place[]>([]);
  const pairs = ref<PointPair[]>([]);
  const onPlan = ref<PointPair['plan'] | null>(null);
  const patch = ref<Place | null>(null);
  const lightness = ref(PAPER_LIGHTNESS);
  const patching = ref(false);

  const byPoints = computed(() => way.value === 'points');
  const next = computed(() => `point ${pairs.value.length + 1}`);
  const most = computed(() =>
    byPoints.value ? pairs.value.length >= POINTS.most : ring.value.length >= RING.most,
  );
  const nextOnPlan = computed(() =>
    byPoints.value && !patching.value && !most.value && !onPlan.value ? next.value : '',
  );
  const nextOnPhoto = computed(() => {
    if (patching.value) return 'the paper';
    if (most.value) return '';
    if (byPoints.value) return onPlan.value ? next.value : '';
    return 'the next place around the piece';
  });
  const planMarks = computed(() => {
    if (!byPoints.value) return [];
    const here = pairs.value
      .map((p, n) => ({ ...p.plan, label: String(n + 1) }))
      .filter((m) => m.azimuth_deg === azimuth.value && m.elevation_deg === elevation.value);
    return onPlan.value ? [...here, { ...onPlan.value, label: `${pairs.value.length + 1}` }] : here;
  });
  const photoMarks = computed(() => {
    const points = byPoints.value
      ? pairs.value.map((p, n) => ({ ...p.photo, label: String(n + 1) }))
      : [];
    return patch.value ? [...points, { ...patch.value, label: 'paper' }] : points;
  });
  const left = computed(() =>
    byPoints.value ? POINTS.least - pairs.value.length : RING.least - ring.value.length,
  );
  const body = computed(() =>
    patch.value && left.value <= 0
      ? {
          points: byPoints.value ? pairs.value : [],
          ring: byPoints.value ? [] : ring.value,
          side: { azimuth_deg: azimuth.value, elevation_deg: elevation.value },
          patch: patch.value,
          lightness: lightness.value,
        }
      : null,
  );
  const todo = computed(() => {
    if (patching.value) return 'Press the middle of the paper on the photo.';
    if (byPoints.value && onPlan.value) return `Now the same place on the photo: ${next.value}.`;
    if (left.value > 0)
      return byPoints.value
        ? `Mark a place that is clear in both, on the plan first; ${left.value} more are needed.`
        : 'Turn the plan till it looks about as the photo does. Then press around the piece on ' +
            `the photo, a little outside; ${left.value} more are needed.`;
    if (!patch.value) return 'Mark the paper, or a grey of known lightness.';
    return byPoints.value && pairs.value.length < POINTS.checked
      ? `Ready; ${POINTS.checked} points are surer.`
      : 'Ready.';
  });

  function show(marks: PieceMarks | null): void {
    pairs.value = marks ? [...marks.points] : [];
    ring.value = marks ? [...marks.ring] : [];
    if (marks) way.value = marks.ring.length ? 'outline' : 'points';
    patch.value = marks?.patch ?? null;
    lightness.value = marks?.lightness ?? PAPER_LIGHTNESS;
    onPlan.value = null;
    patching.value = false;
    const side = marks?.points[0]?.plan ?? marks?.side;
    if (side) [azimuth.value, elevation.value] = [side.azimuth_deg, side.elevation_deg];
  }
  function markPlan(x: number, y: number): void {
    onPlan.value = { x, y, azimuth_deg: azimuth.value, elevation_deg: elevation.value };
  }
  function markPhoto(x: number, y: number): void {
    if (patching.value) {
      patch.value = { x, y };
      patching.value = false;
    } else if (!byPoints.value) {
      ring.value = [...ring.value, { x, y }];
    } else if (onPlan.value) {
      pairs.value = [...pairs.value, { plan: onPlan.value, photo: { x, y } }];
      onPlan.value = null;
    }
  }
  function back(): void {
    if (!byPoints.value) ring.value = ring.value.slice(0, -1);
    else if (onPlan.value) onPlan.value = null;
    else pairs.value = pairs.value.slice(0, -1);
  }

  return {
    way,
    azimuth,
    elevation,
    ring,
    pairs,
    patching,
    patch,
    lightness,
    nextOnPlan,
    nextOnPhoto,
    planMarks,
    photoMarks,
    counted: computed(() =>
      byPoints.value
        ? counts(pairs.value.length, 'point')
        : `${counts(ring.value.length, 'place')} around it`,
    ),
    todo,
    body,
    canGoBack: computed(() =>
      byPoints.value ? pairs.value.length > 0 || !!onPlan.value : ring.value.length > 0,
    ),
    show,
    markPlan,
    markPhoto,
    back,
  };
}
