import { enableAutoUnmount, flushPromises, mount } from '@vue/test-utils';
import { afterEach, expect, it } from 'vitest';

import type { PlanSummary } from '@/api/client';
import TurntableDialog from '@/plans/TurntableDialog.vue';

import { serve, type Answer } from './server';

enableAutoUnmount(afterEach);
const DONE = { id: 'j1', state: 'done', progress: 1, doing: '' };

async function dialog(shown: () => Answer) {
  const asked = serve(({ path }) => {
    if (path === '/api/plans/p1/shown') return { body: DONE };
    return shown();
  });
  mount(TurntableDialog, {
    props: { modelValue: true, plan: { id: 'p1', version: 3, name: 'Wardens' } as PlanSummary },
    attachTo: document.body,
  });
  await flushPromises();
  const box = document.querySelector<HTMLElement>('[data-test=turntable]')!;
  async function make(form: string): Promise<void> {
    box.querySelector<HTMLButtonElement>(`[data-test=make-${form}]`)!.click();
    await flushPromises();
  }
  return { box, make, asked };
}

it('shows an animated picture and saves the file of this version', async () => {
  const { box, make, asked } = await dialog(() => ({
    body: { form: 'webp', bytes: 902_116, pictures: 144 },
  }));
  await make('webp');
  expect(asked[0]).toMatchObject({ method: 'POST', body: { form: 'webp' } });
  expect(box.textContent).toContain('144 pictures, 0.9 MB');
  expect(box.querySelector('img')!.getAttribute('src')).toBe('/api/plans/p1/shown.webp?v=3');
  expect(box.querySelector('a')!.getAttribute('href')).toBe('/api/plans/p1/shown.webp?v=3');
});

it('shows no picture of stills, and says why there is nothing', async () => {
  let answer: Answer = { body: { form: 'zip', bytes: 1_200_000, pictures: 12 } };
  const { box, make } = await dialog(() => answer);
  await make('zip');
  expect(box.querySelector('img')).toBeNull();
  expect(box.querySelector('a')!.getAttribute('href')).toContain('shown.zip');
  answer = { status: 404, body: { detail: 'This piece is not worked out yet.' } };
  await make('gif');
  expect(box.querySelector('[data-test=made]')).toBeNull();
  expect(box.querySelector('[role=alert]')!.textContent).toContain('not worked out');
});
