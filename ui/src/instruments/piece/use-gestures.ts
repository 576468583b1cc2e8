import type { ShallowRef } from 'vue';

import type { PieceScene } from './piece-scene';

const CLICK_PX = 4;
const TURN_DEG = { across: 0.5, up: 0.4 }; // a pixel
const WHEEL = 0.0012;

type Share = [x: number, y: number];

interface Finger {
  x: number;
  y: number;
}

export interface Told {
  /** A press while something waits for a place, 0..1 from the upper left; true when it took it. */
  place: (x: number, y: number) => boolean;
  click: (x: number, y: number) => boolean;
}

/** Listeners of a card, for `v-on`. */
export interface Gestures {
  pointerdown: (event: PointerEvent) => void;
  pointermove: (event: PointerEvent) => void;
  pointerup: (event: PointerEvent) => void;
  pointercancel: (event: PointerEvent) => void;
  wheel: (event: WheelEvent) => void;
  contextmenu: (event: Event) => void;
  dblclick: () => void;
}

/** Whether a thing stands in something that is longer than its window. */
function scrolled(thing: Element): boolean {
  for (let at = thing.parentElement; at; at = at.parentElement) {
    const over = getComputedStyle(at).overflowY;
    if ((over === 'auto' || over === 'scroll') && at.scrollHeight > at.clientHeight + 1)
      return true;
  }
  return false;
}

/** Drag turns, with Shift or the right button moves; two fingers move and bring near. */
export function useGestures(
  scene: Readonly<ShallowRef<PieceScene | null>>,
  told: Told = { place: () => false, click: () => false },
): Gestures {
  const fingers = new Map<number, Finger>();
  let pressed = { x: 0, y: 0, moved: false };

  function share(event: MouseEvent, at: Finger = { x: event.clientX, y: event.clientY }): Share {
    const box = (event.currentTarget as Element).getBoundingClientRect();
    return [(at.x - box.left) / box.width, (at.y - box.top) / box.height];
  }

  function press(event: PointerEvent): void {
    if (!fingers.size && told.place(...share(event))) return;
    if (!fingers.size) pressed = { x: event.clientX, y: event.clientY, moved: false };
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    fingers.set(event.pointerId, { x: event.clientX, y: event.clientY });
    scene.value?.setCoarse(true);
  }

  function pinch(before: Finger[], now: Finger[], event: PointerEvent): void {
    const apart = ([a, b]: Finger[]): number => Math.hypot(a!.x - b!.x, a!.y - b!.y);
    const middle = ([a, b]: Finger[]): Finger => ({ x: (a!.x + b!.x) / 2, y: (a!.y + b!.y) / 2 });
    const [from, to] = [middle(before), middle(now)];
    scene.value?.move(to.x - from.x, to.y - from.y);
    scene.value?.magnify(apart(now) / Math.max(apart(before), 1), ...share(event, to));
    event.preventDefault();
  }

  function drag(event: PointerEvent): void {
    const last = fingers.get(event.pointerId);
    if (!last) return;
    const now = { x: event.clientX, y: event.clientY };
    pressed.moved ||= Math.hypot(now.x - pressed.x, now.y - pressed.y) > CLICK_PX;
    if (!pressed.moved) return;
    const before = [...fingers.values()];
    fingers.set(event.pointerId, now);
    const [right, down] = [now.x - last.x, now.y - last.y];
    if (fingers.size === 2) pinch(before, [...fingers.values()], event);
    else if (event.shiftKey || event.buttons & 2) scene.value?.move(right, down);
    else if (fingers.size === 1) scene.value?.turn(right * TURN_DEG.across, down * TURN_DEG.up);
  }

  function release(event: PointerEvent): void {
    const held = fingers.delete(event.pointerId);
    if (held && !pressed.moved && event.type === 'pointerup' && event.button === 0) {
      told.click(...share(event));
    }
    if (!fingers.size) scene.value?.setCoarse(false);
  }

  function wheel(event: WheelEvent): void {
    // there the wheel scrolls; with Ctrl, as a touchpad sends two fingers, it comes nearer
    if (!event.ctrlKey && scrolled(event.currentTarget as Element)) return;
    event.preventDefault();
    scene.value?.magnify(Math.exp(-event.deltaY * WHEEL), ...share(event));
  }

  return {
    pointerdown: press,
    pointermove: drag,
    pointerup: release,
    pointercancel: release,
    wheel,
    contextmenu: (event) => event.preventDefault(),
    dblclick: () => scene.value?.home(),
  };
}
