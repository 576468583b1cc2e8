import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { effectScope, nextTick, ref, type EffectScope } from 'vue';

import type { JobView } from '@/api/client';
import { useAnswers } from '@/plan/use-answers';
import { usePlan } from '@/stores/plan';

import { coat, Events, held, job, plan, serve, view, type Answer, type Asked } from './server';

const WARDEN = plan(coat('c1', 'Bilge Black', 'prime'), coat('c2', 'Wrack Green'));

let tracing: JobView | null;
let scope: EffectScope;

/** A server with one plan; what it is asked besides the plan itself is counted. */
function keeper(more: (asked: Asked) => Answer | Promise<Answer> | null = () => null): Asked[] {
  let now = view(WARDEN);
  return serve((asked) => {
    const other = more(asked);
    if (other) return other;
    if (asked.path === '/api/smooth') return { body: { job: tracing } };
    if (asked.path === '/api/workings') return { body: { coats: [], hands: [], places: [] } };
    if (asked.path === '/api/findings') return { body: { findings: [] } };
    const sent = asked.body as { plan?: typeof WARDEN } | null;
    if (asked.method === 'PUT') now = view(sent!.plan!, now.version + 1);
    return { body: now };
  });
}
const counted = (asked: Asked[]) => {
  const times: Record<string, number> = {};
  for (const { method, path } of asked) {
    const name = path.startsWith('/api/plans') ? method : path.replace('/api/', '');
    times[name] = (times[name] ?? 0) + 1;
  }
  return times;
};

async function opened(asked: Asked[]) {
  const store = usePlan();
  await store.open('one');
  const key = ref<string | null>('piece');
  scope = effectScope();
  const { smooth } = scope.run(() => useAnswers(store, () => key.value))!;
  await vi.waitFor(() => expect(smooth.value).toBe('done'));
  await vi.waitFor(() => expect(store.workings).not.toBeNull());
  await nextTick();
  asked.length = 0;
  return { store, smooth, key };
}
function drag(store: ReturnType<typeof usePlan>): void {
  store.selectCoat(2);
  for (const azimuth of [10, 20, 30]) {
    store.sketchCoat((c) => (c.stations[0]!.azimuth_deg = azimuth));
    store.present(store.sketched!);
  }
}
function letGo(store: ReturnType<typeof usePlan>): Promise<void> {
  store.settle();
  return store.commit('Moved a station');
}

beforeEach(() => {
  setActivePinia(createPinia());
  Events.reset();
  tracing = null;
  return () => scope.stop();
});

describe('a plan that is opened', () => {
  it('has coarse answers at once and finer ones when its rays are traced', async () => {
    tracing = job('running');
    const asked = keeper();
    const store = usePlan();
    await store.open('one');
    scope = effectScope();
    const { smooth } = scope.run(() => useAnswers(store, () => 'piece'))!;
    await vi.waitFor(() => expect(Events.open).toBe(1));
    expect(counted(asked)).toEqual({ GET: 1, smooth: 1, workings: 1, findings: 1 });
    expect(smooth.value).toBe('');
    Events.tell(job('done', 1));
    await vi.waitFor(() => expect(smooth.value).toBe('done'));
    await vi.waitFor(() => expect(counted(asked)).toMatchObject({ workings: 2, findings: 2 }));
    expect(store.fineness).toBe(1);
  });

  it('is asked about when its piece is ready, and not before', async () => {
    const asked = keeper();
    const store = usePlan();
    await store.open('one');
    const key = ref<string | null>(null);
    scope = effectScope();
    scope.run(() => useAnswers(store, () => key.value));
    await nextTick();
    expect(counted(asked)).toEqual({ GET: 1 });
    key.value = 'piece';
    await vi.waitFor(() => expect(store.workings).not.toBeNull());
  });
});

describe('one release', () => {
  it('is one computation, whatever the server answers to the save', async () => {
    const asked = keeper();
    const { store, smooth } = await opened(asked);
    drag(store);
    await nextTick();
    expect(asked).toEqual([]);
    await letGo(store);
    await vi.waitFor(() => expect(smooth.value).toBe('done'));
    await vi.waitFor(() => expect(counted(asked).findings).toBe(1));
    await nextTick();
    expect(counted(asked)).toEqual({ PUT: 1, smooth: 1, workings: 1, findings: 1 });
    expect(store.saving).toBe('saved');
  });

  it('waits for fresh rays, and then is worked out once', async () => {
    const asked = keeper();
    const { store, smooth } = await opened(asked);
    tracing = job('running');
    drag(store);
    await letGo(store);
    await vi.waitFor(() => expect(Events.open).toBe(1));
    expect(counted(asked)).toEqual({ PUT: 1, smooth: 1 });
    Events.tell(job('done', 1));
    await vi.waitFor(() => expect(smooth.value).toBe('done'));
    await vi.waitFor(() => expect(counted(asked).findings).toBe(1));
    expect(counted(asked)).toEqual({ PUT: 1, smooth: 1, workings: 1, findings: 1 });
    expect(store.fineness).toBe(1);
  });

  it('does not keep the painter waiting for rays that take long', async () => {
    const asked = keeper();
    const { store } = await opened(asked);
    tracing = job('running');
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
    try {
      drag(store);
      void letGo(store);
      while (Events.open === 0) await Promise.resolve();
      await vi.advanceTimersByTimeAsync(1300);
      expect(counted(asked)).toMatchObject({ workings: 1, findings: 1 });
      Events.tell(job('done', 1));
    } finally {
      vi.useRealTimers();
    }
    await vi.waitFor(() => expect(counted(asked)).toMatchObject({ workings: 2, findings: 2 }));
  });

  it('has its answers even when rays cannot be traced', async () => {
    let broken = false;
    const asked = keeper(({ path }) =>
      broken && path === '/api/smooth'
        ? { status: 500, body: { detail: 'Not now.', code: 'internal' } }
        : null,
    );
    const { store } = await opened(asked);
    broken = true;
    drag(store);
    await letGo(store);
    await vi.waitFor(() => expect(counted(asked)).toMatchObject({ workings: 1, findings: 1 }));
  });

  it('that is followed by another change stops the rays of the first', async () => {
    const asked = keeper();
    const { store, smooth } = await opened(asked);
    tracing = job('running');
    drag(store);
    await letGo(store);
    await vi.waitFor(() => expect(Events.open).toBe(1));
    tracing = null;
    await store.change('Trigger', (draft) => (draft.name = 'Other'));
    await vi.waitFor(() => expect(smooth.value).toBe('done'));
    await vi.waitFor(() => expect(counted(asked).workings).toBe(1));
    expect(Events.open).toBe(0);
    expect(counted(asked)['jobs/j1']).toBe(1);
    expect(store.fineness).toBe(0);
  });
});

describe('a plan that cannot be worked out', () => {
  it('says why, and no more once it can', async () => {
    let spoiled = false;
    const asked = keeper(({ path }) =>
      spoiled && path === '/api/workings'
        ? { status: 422, body: { detail: 'Spirit spoils it.', code: 'incompatible' } }
        : null,
    );
    const { store } = await opened(asked);
    spoiled = true;
    await store.change('Spirit', (draft) => (draft.name = 'a'));
    await vi.waitFor(() => expect(store.refused).toBe('Spirit spoils it.'));
    expect(store.workings).toBeNull();
    spoiled = false;
    await store.change('Water', (draft) => (draft.name = 'b'));
    await vi.waitFor(() => expect(store.refused).toBe(''));
    expect(store.workings).not.toBeNull();
  });

  it('does not show the answers of a plan that was left', async () => {
    const late = held<Answer>();
    let hold = false;
    const asked = keeper(({ path }) => (hold && path === '/api/findings' ? late.promise : null));
    const { store } = await opened(asked);
    hold = true;
    await store.change('a', (draft) => (draft.name = 'a'));
    await vi.waitFor(() => expect(counted(asked).findings).toBe(1));
    store.close();
    late.give({ body: { findings: [{ rule: 'x', step: 'c1' }] } });
    await nextTick();
    await new Promise((resolve) => setTimeout(resolve));
    expect(store.findings).toEqual([]);
  });
});
