import { onBeforeUnmount, shallowRef, watch, type ShallowRef } from 'vue';

import { takeAnswer, type BoothStep } from '@/api/client';

const AHEAD = 60;

/** How the piece looks as a step holds it; those of the next sides are fetched ahead. */
export function useHoldPictures(
  step: () => BoothStep | null,
  steps: () => readonly BoothStep[],
): Readonly<ShallowRef<string | null>> {
  const kept = new Map<string, string>();
  const picture = shallowRef<string | null>(null);

  async function show(one: BoothStep | null): Promise<void> {
    const url = urlOf(one);
    const made = url ? await fetched(url) : null;
    if (step()?.id === one?.id) picture.value = made;
    // ahead, so that they stand there when the connection drops
    const place = steps().findIndex((s) => s.id === one?.id);
    for (const s of steps().slice(place + 1, place + AHEAD)) {
      const later = urlOf(s);
      if (later) await fetched(later);
    }
  }
  function urlOf(one: BoothStep | null): string | null {
    if (!one?.hold || !one.plan || !one.coat) return null;
    return `/api/hold/${one.plan}/${one.coat}/${one.hold.station}.png`;
  }
  async function fetched(url: string): Promise<string | null> {
    const held = kept.get(url);
    if (held) return held;
    try {
      const answer = await takeAnswer(url);
      const made = URL.createObjectURL(await answer.blob());
      kept.set(url, made);
      return made;
    } catch {
      return null;
    }
  }
  watch(step, (one) => void show(one), { immediate: true });
  onBeforeUnmount(() => kept.forEach((url) => URL.revokeObjectURL(url)));
  return picture;
}
