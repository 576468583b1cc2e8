import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { createApp, h, nextTick, ref, type App } from 'vue';

import SkyDisc, { type SkyStation } from '@/instruments/sky/SkyDisc.vue';

const STATIONS: SkyStation[] = ['a', 'b', 'c'].map((id, n) => ({
  id,
  azimuth: 40 * n,
  elevation: 30,
  spread: 10,
  passes: 2,
  colour: '#4b5a35',
  label: `Station ${id}`,
}));

let app: App;
let room: HTMLElement;
const selected = ref<string | null>('a');

/** The stations in the order of the document, which is the order of Tab and of what lies on top. */
const order = (): string[] =>
  [...room.querySelectorAll<SVGElement>('[data-test^="station-"]')].map((e) =>
    e.dataset.test!.replace('station-', ''),
  );
const station = (id: string): SVGElement =>
  room.querySelector<SVGElement>(`[data-test="station-${id}"]`)!;

beforeEach(() => {
  selected.value = 'a';
  room = document.createElement('div');
  document.body.append(room);
  app = createApp({
    render: () =>
      h(SkyDisc, {
        stations: STATIONS,
        lights: [],
        selected: selected.value,
        onSelect: (id: string) => (selected.value = id),
      }),
  });
  app.mount(room);
});
afterEach(() => {
  app.unmount();
  room.remove();
});

describe('the sky', () => {
  it('draws what is selected on top', async () => {
    expect(order()).toEqual(['b', 'c', 'a']);
    selected.value = 'b';
    await nextTick();
    expect(order()).toEqual(['a', 'c', 'b']);
  });

  it('keeps its order while the keyboard is on it, so that Tab goes through and out', async () => {
    const before = order();
    for (const id of before) {
      station(id).dispatchEvent(new FocusEvent('focusin', { bubbles: true }));
      station(id).dispatchEvent(new FocusEvent('focus'));
      await nextTick();
      expect(selected.value).toBe(id);
      expect(order()).toEqual(before);
    }
    const next = station('b');
    station('a').dispatchEvent(new FocusEvent('focusout', { bubbles: true, relatedTarget: next }));
    selected.value = 'b';
    await nextTick();
    expect(order()).toEqual(before);
    station('b').dispatchEvent(new FocusEvent('focusout', { bubbles: true, relatedTarget: null }));
    await nextTick();
    expect(order().at(-1)).toBe('b');
  });
});
