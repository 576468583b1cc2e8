import { useTimeoutFn } from '@vueuse/core';
import { onScopeDispose, shallowRef, type ShallowRef } from 'vue';

import { takeAnswer, type MixPart, type TurnedBody } from '@/api/client';
import { measured } from '@/composables/measured';
import { useLatest } from '@/composables/use-latest';

/** What a setting would leave on card, as a picture. */
export interface Swatch {
  picture: Blob;
  dark: boolean;
}

const NOTHING_TO_SEE = 204;

/** The picture of what a setting would leave on card, coarse as a draft; null for a clear coat. */
export async function takeSwatch(
  body: TurnedBody,
  parts: MixPart[],
  draft = false,
): Promise<Swatch | null> {
  const sharp = draft ? 0.5 : Math.min(window.devicePixelRatio || 1, 2);
  const answer = await takeAnswer('/api/swatch', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ ...body, parts, sharp }),
  });
  if (answer.status === NOTHING_TO_SEE) return null;
  return { picture: await answer.blob(), dark: answer.headers.get('X-Card') === 'dark' };
}

/** A setting that was turned: since when it stands, and whether the hand has let go. */
export interface Turned {
  body: TurnedBody;
  since: number;
  still: boolean;
}

const REST_MS = 120;

/** The swatch of what was turned last: a draft along with a drag, sharp where the hand rests. */
export function useSwatch(
  parts: () => MixPart[],
  failed: (error: unknown) => void,
): { swatch: ShallowRef<Swatch | null>; show: (turned: Turned) => void } {
  const swatch = shallowRef<Swatch | null>(null);
  let last: Turned | null = null;
  const drawing = useLatest<Turned>(async ({ body, since, still }) => {
    swatch.value = await takeSwatch(body, parts(), !still);
    await measured('haze:swatch', since);
  }, failed);
  const resting = useTimeoutFn(
    () => last && drawing.push({ body: last.body, since: performance.now(), still: true }),
    REST_MS,
    { immediate: false },
  );
  function show(turned: Turned): void {
    last = turned;
    drawing.push(turned);
    if (turned.still) resting.stop();
    else resting.start();
  }
  onScopeDispose(() => drawing.stop());
  return { swatch, show };
}
