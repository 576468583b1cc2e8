import { useElementSize, type MaybeComputedElementRef } from '@vueuse/core';
import { computed, type ComputedRef } from 'vue';

/**
 * How many units of a drawing one pixel on the screen takes. A drawing shrinks with its window; its
 * words and what is pressed in it must not shrink below what one can read or press.
 */
export function useUnit(
  drawing: MaybeComputedElementRef,
  viewBox: { width: number; height: number },
): ComputedRef<number> {
  const { width, height } = useElementSize(drawing);
  return computed(() => {
    const scale = Math.min(width.value / viewBox.width, height.value / viewBox.height);
    return scale > 0 ? 1 / scale : 1;
  });
}
