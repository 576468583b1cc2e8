import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it } from 'vitest';

import type { Plan } from '@/api/client';
import { usePlan } from '@/stores/plan';

import { coat, hand, held, plan, serve, view, type Answer, type Asked } from './server';

const DARK = coat('c1', 'Bilge Black', 'prime');
const GREEN = coat('c2', 'Wrack Green');
const WASH = hand('h1', 'wash');

interface Write {
  version: number;
  what: string;
  plan: Plan;
}
const writes = (asked: Asked[]): Write[] =>
  asked.filter((a) => a.method === 'PUT').map((a) => a.body as Write);

/** A server that keeps one plan and answers like the real one. */
function keeper(start = plan(DARK, GREEN, WASH)): Asked[] {
  let now = view(start);
  return serve(({ method, body }) => {
    if (method !== 'GET') {
      const sent = body as Write;
      if (sent.version !== now.version) {
        return { status: 409, body: { detail: 'Changed elsewhere; not saved.', code: 'stale' } };
      }
      now = view(sent.plan ?? now.plan, now.version + 1);
    }
    return { body: now };
  });
}

beforeEach(() => setActivePinia(createPinia()));

describe('an open plan', () => {
  it('begins with its last step selected', async () => {
    keeper();
    const store = usePlan();
    await store.open('one');
    expect(store.after).toBe(3);
    expect(store.hand?.role).toBe('wash');
    expect(store.coat).toBeNull();
    expect(store.sprayed.map((c) => c.id)).toEqual(['c1', 'c2']);
  });

  it('keeps the selection between bare and the last step', async () => {
    keeper();
    const store = usePlan();
    await store.open('one');
    store.selectCoat(99);
    expect(store.after).toBe(3);
    store.selectCoat(2);
    expect(store.coat?.name).toBe('Wrack Green');
    expect(store.station?.id).toBe('c2-1');
    store.selectCoat(-4);
    expect(store.step).toBeNull();
  });

  it('does not take the answer of a plan that was left meanwhile', async () => {
    const late = held<Answer>();
    serve(({ path }) =>
      path.endsWith('/slow') ? late.promise : { body: view(plan(GREEN), 1, 'quick') },
    );
    const store = usePlan();
    const slow = store.open('slow');
    await store.open('quick');
    late.give({ body: view(plan(DARK), 1, 'slow') });
    await slow;
    expect(store.id).toBe('quick');
    expect(store.plan?.coats[0]?.name).toBe('Wrack Green');
  });
});

describe('a change', () => {
  it('is saved with its words on the version before it', async () => {
    const asked = keeper();
    const store = usePlan();
    await store.open('one');
    await store.change('Renamed', (draft) => (draft.name = 'Six wardens'));
    expect(writes(asked)).toMatchObject([{ version: 1, what: 'Renamed' }]);
    expect(store.saving).toBe('saved');
    expect(store.canUndo).toBe(true);
  });

  it('leaves the plan it was made from as it was', async () => {
    keeper();
    const store = usePlan();
    await store.open('one');
    const before = store.plan;
    const written = JSON.stringify(before);
    await store.change('Renamed', (draft) => (draft.coats[0]!.name = 'Other'));
    expect(JSON.stringify(before)).toBe(written);
  });

  it('is one revision each, in order, however quick they come', async () => {
    const asked = keeper();
    const store = usePlan();
    await store.open('one');
    const all = ['a', 'b', 'c'].map((name) => store.change(name, (draft) => (draft.name = name)));
    await Promise.all(all);
    expect(writes(asked).map((w) => [w.version, w.what, w.plan.name])).toEqual([
      [1, 'a', 'a'],
      [2, 'b', 'b'],
      [3, 'c', 'c'],
    ]);
    expect(store.plan?.name).toBe('c');
  });

  it('stays on the screen while an earlier one is still on its way', async () => {
    const late = held<Answer>();
    let count = 0;
    serve(({ method, body }) => {
      if (method === 'GET') return { body: view(plan(DARK)) };
      count += 1;
      const sent = body as Write;
      return count === 1 ? late.promise : { body: view(sent.plan, sent.version + 1) };
    });
    const store = usePlan();
    await store.open('one');
    const first = store.change('a', (draft) => (draft.name = 'a'));
    const second = store.change('b', (draft) => (draft.name = 'b'));
    late.give({ body: view({ ...plan(DARK), name: 'a' }, 2) });
    await first;
    expect(store.plan?.name).toBe('b');
    await second;
    expect(store.plan?.name).toBe('b');
  });

  it('goes to the selected step only', async () => {
    const asked = keeper();
    const store = usePlan();
    await store.open('one');
    store.selectCoat(2);
    await store.changeCoat('Trigger', (c) => (c.spray.trigger = 0.5));
    store.selectCoat(3);
    await store.changeCoat('no spray by hand', (c) => (c.spray.trigger = 0.9));
    const [first, second] = writes(asked).map((w) => w.plan.coats);
    expect(first).toMatchObject([{ spray: { trigger: 0.3 } }, { spray: { trigger: 0.5 } }, {}]);
    expect(second).toEqual(first);
  });
});

describe('a change that is refused', () => {
  it('says so and holds what follows when the plan was changed elsewhere', async () => {
    let newer = view(plan(DARK));
    const asked = serve(({ method }) =>
      method === 'GET'
        ? { body: newer }
        : { status: 409, body: { detail: 'Changed elsewhere; not saved.', code: 'stale' } },
    );
    const store = usePlan();
    await store.open('one');
    await store.change('a', (draft) => (draft.name = 'mine'));
    expect(store.saving).toBe('stale');
    expect(store.problem).toBe('Changed elsewhere; not saved.');
    await store.change('b', (draft) => (draft.name = 'mine too'));
    expect(writes(asked)).toHaveLength(1);
    newer = view({ ...plan(DARK), name: 'theirs' }, 7);
    await store.recover();
    expect([store.saving, store.plan?.name]).toEqual(['saved', 'theirs']);
  });

  it('is kept and can be saved again when the server does not answer', async () => {
    let down = true;
    serve(({ method, body }) => {
      if (method === 'GET') return { body: view(plan(DARK)) };
      return down ? 'unreachable' : { body: view((body as Write).plan, 2) };
    });
    const store = usePlan();
    await store.open('one');
    await store.change('a', (draft) => (draft.name = 'mine'));
    expect(store.saving).toBe('unsaved');
    expect(store.problem).toContain('does not answer');
    expect(store.plan?.name).toBe('mine');
    down = false;
    await store.recover();
    expect([store.saving, store.problem, store.plan?.name]).toEqual(['saved', '', 'mine']);
  });
});

describe('a drag', () => {
  it('is saved once, when it is let go', async () => {
    const asked = keeper();
    const store = usePlan();
    await store.open('one');
    store.selectCoat(2);
    for (const azimuth of [10, 20, 30]) {
      store.sketchCoat((c) => (c.stations[0]!.azimuth_deg = azimuth));
    }
    expect(store.coat?.stations[0]?.azimuth_deg).toBe(0);
    expect(writes(asked)).toHaveLength(0);
    store.present(store.sketched!);
    expect(store.coat?.stations[0]?.azimuth_deg).toBe(30);
    expect(store.settle()).toBe(true);
    await store.commit('Moved a station');
    expect(writes(asked)).toHaveLength(1);
    expect(store.dragging).toBe(false);
    expect(store.settle()).toBe(false);
  });

  it('shows no late picture after it was let go', async () => {
    keeper();
    const store = usePlan();
    await store.open('one');
    store.sketch((draft) => (draft.name = 'dragged'));
    const late = store.sketched!;
    store.settle();
    await store.change('after', (draft) => (draft.name = 'after'));
    store.present(late);
    expect(store.plan?.name).toBe('after');
  });
});

it('a shorter plan takes the selection back to its last step', async () => {
  keeper();
  const store = usePlan();
  await store.open('one');
  await store.replace('A new scheme', plan(DARK));
  expect(store.after).toBe(1);
  expect(store.step?.id).toBe('c1');
});

it('undo and redo send the version they were asked on', async () => {
  const asked = keeper();
  const store = usePlan();
  await store.open('one');
  await store.change('a', (draft) => (draft.name = 'a'));
  await store.undo();
  await store.redo();
  expect(asked.slice(2).map((a) => [a.path, (a.body as Write).version])).toEqual([
    ['/api/plans/one/undo', 2],
    ['/api/plans/one/redo', 3],
  ]);
});
