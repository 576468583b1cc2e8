import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';
import { nextTick } from 'vue';

import { useSettings } from '@/stores/settings';
import { useShelf } from '@/stores/shelf';

import { coat, serve } from './server';

beforeEach(() => setActivePinia(createPinia()));

describe('the shelf', () => {
  const shelf = (name: string) => ({
    paints: [coat('a', name).paint],
    thinners: [],
    airbrushes: [],
  });

  it('is loaded once, however many ask for it', async () => {
    const asked = serve(() => ({ body: shelf('Slate') }));
    const store = useShelf();
    await Promise.all([store.load(), store.load()]);
    await store.load();
    expect(asked.map((a) => a.path)).toEqual(['/api/shelf']);
    expect(store.shelf.paints[0]?.name).toBe('Slate');
  });

  it('is looked at anew after a change', async () => {
    let name = 'Slate';
    const asked = serve(() => ({ body: shelf(name) }));
    const store = useShelf();
    await store.load();
    name = 'Pewter Rain';
    await store.reload();
    expect(asked).toHaveLength(2);
    expect(store.shelf.paints[0]?.name).toBe('Pewter Rain');
  });

  it('is asked for again after it could not be had', async () => {
    let down = true;
    serve(() => (down ? 'unreachable' : { body: shelf('Slate') }));
    const store = useShelf();
    await expect(store.load()).rejects.toThrow('does not answer');
    down = false;
    await store.load();
    expect(store.shelf.paints).toHaveLength(1);
  });
});

describe('the settings', () => {
  it('are the ones the server keeps, and the theme follows', async () => {
    let kept: Record<string, string> = { theme: 'lamp_off', single_keys: 'off' };
    const asked = serve(({ method, body }) => {
      if (method === 'PUT') {
        const { name, value } = body as { name: string; value: string };
        kept = { ...kept, [name]: value };
      }
      return { body: { settings: kept } };
    });
    const store = useSettings();
    expect([store.singleKeys, store.values.pressure_unit]).toEqual([true, 'psi']);
    await store.load();
    await nextTick();
    expect(document.documentElement.dataset.theme).toBe('lamp_off');
    expect(store.singleKeys).toBe(false);
    await store.set('theme', 'daylight');
    await nextTick();
    expect(document.documentElement.dataset.theme).toBe('daylight');
    expect(asked.at(-1)?.body).toEqual({ name: 'theme', value: 'daylight' });
  });
});
