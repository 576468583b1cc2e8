import { useIntersectionObserver } from '@vueuse/core';
import { computed, ref, useTemplateRef, type ComputedRef } from 'vue';

const PORTION = 6;
const AHEAD_PX = 500;

/**
 * How much of a long list is drawn: the first portion at once, the next when its end comes near.
 * The element after the list carries `ref="end"`.
 */
export function usePortions(length: () => number): ComputedRef<number> {
  const drawn = ref(PORTION);
  const end = useTemplateRef<HTMLElement>('end');
  let near = false;
  useIntersectionObserver(
    end,
    ([entry]) => {
      near = !!entry?.isIntersecting;
      grow();
    },
    { rootMargin: `${AHEAD_PX}px` },
  );
  // an end that stays in view after a portion is told of only once
  function grow(): void {
    if (!near || drawn.value >= length()) return;
    drawn.value += PORTION;
    requestAnimationFrame(grow);
  }
  return computed(() => Math.min(drawn.value, length()));
}
