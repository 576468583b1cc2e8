import { useEventListener } from '@vueuse/core';
import { ref, type Ref } from 'vue';

/** Keys a foot pedal sends, besides Space. */
const NEXT = new Set([' ', 'PageDown', 'F13', 'MediaPlayPause']);
const HELD_MS = 1000;

/**
 * Space, a pedal or the big button: a short press and a press held for a second are two things.
 * It never reaches the focused button. `held` runs from 0 to 1 while it is held.
 */
export function usePedal(
  short: () => void,
  long: () => void,
): {
  held: Readonly<Ref<number>>;
  down: () => void;
  up: () => void;
} {
  const held = ref(0);
  let begun = 0;
  let frame = 0;

  function down(): void {
    if (begun) return;
    begun = performance.now();
    const look = (): void => {
      if (!begun) return;
      held.value = Math.min(1, (performance.now() - begun) / HELD_MS);
      if (held.value >= 1) {
        begun = 0;
        held.value = 0;
        long();
      } else frame = window.setTimeout(look, 40);
    };
    frame = window.setTimeout(look, 40);
  }
  function up(): void {
    window.clearTimeout(frame);
    held.value = 0;
    if (!begun) return;
    begun = 0;
    short();
  }
  useEventListener(
    window,
    'keydown',
    (event: KeyboardEvent) => {
      if (!NEXT.has(event.key) || event.ctrlKey || event.altKey || event.metaKey) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      if (!event.repeat) down();
    },
    { capture: true },
  );
  useEventListener(
    window,
    'keyup',
    (event: KeyboardEvent) => {
      if (!NEXT.has(event.key)) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      up();
    },
    { capture: true },
  );
  useEventListener(window, 'blur', () => {
    begun = 0;
    held.value = 0;
    window.clearTimeout(frame);
  });
  return { held, down, up };
}
