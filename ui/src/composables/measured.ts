import { nextTick } from 'vue';

/** Measure until the frame that shows what was just set, for whoever times the program. */
export async function measured(what: string, since: number): Promise<void> {
  await nextTick();
  requestAnimationFrame(() => performance.measure(what, { start: since, end: performance.now() }));
}
