import { enableAutoUnmount, flushPromises, mount } from '@vue/test-utils';
import { createPinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { createMemoryHistory, createRouter } from 'vue-router';

import type { ImportPreview } from '@/api/client';
import AddToShelf from '@/displays/AddToShelf.vue';
import ImportLook from '@/shelf/ImportLook.vue';
import PaintEditor from '@/shelf/PaintEditor.vue';
import { blankPaint, type Usual } from '@/shelf/blank-paint';

import { serve, type Asked } from './server';

enableAutoUnmount(afterEach);
const USUAL: Usual = { maker: 'Oddmere', range: '', kind: 'brush_acrylic', drop_ul: 50 };

function router() {
  const at = (path: string, name: string) => ({ path, name, component: { template: '<i />' } });
  return createRouter({
    history: createMemoryHistory(),
    routes: [at('/', 'plans'), at('/shelf', 'shelf')],
  });
}

describe('a way to what the shelf lacks', () => {
  it.each([
    ['The shelf has no transparent paint; add one first.', 'Add a paint', '/shelf?add=paint'],
    ['The shelf has no airbrush with a needle over 0.3 mm.', 'Add an airbrush', '?add=airbrush'],
  ])('is offered for: %s', (text, label, to) => {
    const link = mount(AddToShelf, { props: { text }, global: { plugins: [router()] } }).get('a');
    expect(link.text()).toBe(label);
    expect(link.attributes('href')).toContain(to);
  });

  it('is not offered for anything else', () => {
    const found = mount(AddToShelf, { props: { text: 'Nothing was changed.' } });
    expect(found.find('a').exists()).toBe(false);
  });
});

describe('a look at what comes in', () => {
  const line: ImportPreview['lines'][number] = {
    line: 1,
    name: 'Dark Rust',
    what: 'new',
    fields: [],
    masstone: '#5a2a18',
    guessed: true,
  };
  const preview: ImportPreview = {
    applied: false,
    new: 1,
    changed: 0,
    same: 2,
    lines: [line, { ...line, what: 'same' }],
    rejected: [{ line: 3, reason: 'There is no colour.' }],
  };

  function look(changes: Partial<ImportPreview>) {
    return mount(ImportLook, {
      props: { preview: { ...preview, ...changes }, busy: false, verb: 'Add' },
    });
  }

  it('counts, names lines and marks what is guessed', async () => {
    const found = look({});
    expect(found.get('[role=status]').text()).toContain('1 new, 0 changed, 2 as they are, 1 line');
    expect(found.get('[role=status]').text()).toContain('1 colour is guessed from the name');
    expect(found.get('ul').text()).toBe('line 3 There is no colour.');
    expect(found.get('button').text()).toBe('Add 1 paint');
    await found.get('button').trigger('click');
    expect(found.emitted('take')).toHaveLength(1);
  });

  it('offers nothing when there is nothing, and no button once it is done', () => {
    expect(look({ new: 0 }).get('button').attributes('disabled')).toBeDefined();
    expect(look({ new: 0 }).get('button').text()).toBe('Nothing to add');
    expect(look({ applied: true }).find('button').exists()).toBe(false);
  });
});

describe('a paint that is added', () => {
  let asked: Asked[];
  beforeEach(() => {
    localStorage.clear();
    asked = serve(({ path, body }) => {
      if (path === '/api/shelf') return { body: { paints: [], thinners: [], airbrushes: [] } };
      if (path === '/api/shelf/chip') return { body: { paint: body, passes_dark: 1 } };
      if (path === '/api/shelf/named') return { body: NAMED };
      return { body: {} };
    });
  });
  const RUST = { colour: '#8b4424', kind: null, opacity: null, finish: null };
  let NAMED: object = RUST;

  async function editor() {
    const found = mount(PaintEditor, {
      props: { modelValue: true, paint: blankPaint(USUAL) },
      attachTo: document.body,
      global: { plugins: [createPinia()] },
    });
    await flushPromises();
    const form = document.querySelector<HTMLFormElement>('form.paint')!;
    const input = form.querySelector<HTMLInputElement>('input[maxlength="120"]')!;
    async function call(name: string): Promise<void> {
      input.value = name;
      input.dispatchEvent(new Event('input'));
      await flushPromises();
    }
    const another = document.querySelector<HTMLButtonElement>('[data-test=another]')!;
    return { found, form, call, another };
  }
  function put(): Record<string, unknown>[] {
    return asked.filter((a) => a.method === 'PUT').map((a) => a.body as Record<string, unknown>);
  }

  it('takes colour and kind from its name, and what it shared with the last one', async () => {
    NAMED = { ...RUST, kind: 'primer', opacity: 'opaque', finish: 'satin' };
    const { call, another, found } = await editor();
    expect(another.disabled).toBe(true);
    await call('Rust Primer');
    expect(another.disabled).toBe(false);
    another.click();
    await flushPromises();
    expect(put()).toMatchObject([
      {
        name: 'Rust Primer',
        maker: 'Oddmere',
        masstone: '#8b4424',
        kind: 'primer',
        finish: 'satin',
        colour_from: 'guessed',
      },
    ]);
    expect(found.emitted('another')).toHaveLength(1);
    // a kind that only its name said is not what the next one will be
    expect(JSON.parse(localStorage.getItem('haze-usual-paint')!)).toMatchObject({
      maker: 'Oddmere',
      kind: 'airbrush_acrylic',
    });
  });

  it('waits for a colour when its name says none, and keeps one that was set', async () => {
    NAMED = { colour: null, kind: null, opacity: null, finish: null };
    const { call, another, form } = await editor();
    await call('Moonlit');
    expect(another.disabled).toBe(true);
    expect(form.textContent).toContain('The name says no colour');
    const colour = form.querySelector<HTMLInputElement>('.colour .mono input')!;
    colour.value = '#223344';
    colour.dispatchEvent(new Event('input'));
    colour.dispatchEvent(new Event('change'));
    await flushPromises();
    expect(another.disabled).toBe(false);
    NAMED = RUST;
    await call('Moonlit Rust');
    form.dispatchEvent(new Event('submit'));
    await flushPromises();
    expect(put()).toMatchObject([
      { name: 'Moonlit Rust', masstone: '#223344', colour_from: 'given' },
    ]);
  });
});
