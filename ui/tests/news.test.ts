import { createPinia, setActivePinia } from 'pinia';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { effectScope } from 'vue';

import { api, PAGE, takePicture, trouble } from '@/api/client';
import { useNews, type PlanNews } from '@/composables/use-news';
import { usePlan } from '@/stores/plan';

import { coat, Events, held, plan, serve, view, type Answer } from './server';

const MINE = plan(coat('c1', 'Tern White'));
const news = (version: number, by = 'another', of = 'one'): PlanNews => ({ plan: of, version, by });

beforeEach(() => {
  setActivePinia(createPinia());
  Events.reset();
  trouble.value = '';
});

async function opened(version = 3): Promise<ReturnType<typeof usePlan>> {
  serve(() => ({ body: view(MINE, version) }));
  const store = usePlan();
  await store.open('one');
  return store;
}

describe('a plan that another window changes', () => {
  it('is told at once, and nothing more is saved over it', async () => {
    const store = await opened();
    const asked = serve(() => ({ body: view(MINE, 4) }));
    store.hear(news(4));
    await vi.waitFor(() => expect(store.saving).toBe('stale'));
    expect(store.problem).toContain('another window');
    expect(store.edited).toBe(false);
    await store.change('later', (draft) => (draft.name = 'Mine'));
    expect(asked.filter((a) => a.method === 'PUT')).toEqual([]);
    expect(store.plan?.name).toBe('Mine');
    expect(store.edited).toBe(true);
  });

  it('is not told of its own changes, of older ones, or of other plans', async () => {
    const store = await opened();
    store.hear(news(4, PAGE));
    store.hear(news(3));
    store.hear(news(9, 'another', 'two'));
    await store.commit('turn');
    expect(store.saving).toBe('saved');
  });

  it('waits for a save of its own that is on its way', async () => {
    const store = await opened();
    const gate = held<Answer>();
    serve(({ method }) => (method === 'PUT' ? gate.promise : { body: view(MINE, 4) }));
    const save = store.commit('mine');
    store.hear(news(4));
    gate.give({ body: view(MINE, 4) });
    await save;
    await store.commit('next');
    expect(store.saving).toBe('saved');
  });

  it('looks again when listening began anew', async () => {
    const store = await opened();
    serve(() => ({ body: view(MINE, 3) }));
    store.lookAgain();
    await store.commit('turn');
    expect(store.saving).toBe('saved');
    serve(() => ({ body: view(MINE, 8) }));
    store.lookAgain();
    await vi.waitFor(() => expect(store.saving).toBe('stale'));
  });

  it('can be kept as it stands here as a plan of its own', async () => {
    const store = await opened();
    const asked = serve(() => ({ status: 201, body: view(MINE, 1, 'copy') }));
    expect(await store.keepAsCopy()).toBe('copy');
    expect(asked[0]).toMatchObject({
      path: '/api/plans/copy',
      body: { plan: { name: 'Wardens' } },
    });
    serve(() => ({ status: 507, body: { detail: 'The disk is full.', code: 'disk_full' } }));
    expect(await store.keepAsCopy()).toBeNull();
    expect(store.problem).toBe('The disk is full.');
  });
});

describe('what a page does itself', () => {
  it('is named by every way of asking, so that it need not hear of it', async () => {
    const asked = serve(() => ({ body: {} }));
    await api.GET('/api/settings');
    await takePicture('/api/swatch', {});
    expect(asked.map((one) => one.page)).toEqual([PAGE, PAGE]);
  });
});

describe('listening', () => {
  it('hears news, says when it began, and stops with its scope', () => {
    const heard: PlanNews[] = [];
    const anew = vi.fn();
    const scope = effectScope();
    scope.run(() => useNews('plan', (one) => heard.push(one), anew));
    expect(Events.opened).toEqual(['/api/news']);
    Events.begin();
    expect(anew).toHaveBeenCalledTimes(1);
    Events.say(news(5));
    expect(heard).toEqual([news(5)]);
    scope.stop();
    expect(Events.open).toBe(0);
  });

  it('passes what it hears to the other pages of the browser', async () => {
    const scope = effectScope();
    const other = new BroadcastChannel('haze-news');
    const passed: unknown[] = [];
    other.onmessage = (event: MessageEvent) => passed.push(event.data);
    scope.run(() =>
      useNews(
        'plan',
        () => undefined,
        () => undefined,
      ),
    );
    Events.say(news(6));
    await vi.waitFor(() => expect(passed).toEqual([news(6)]));
    scope.stop();
    other.close();
  });

  it('hears only what it asked for', () => {
    const scope = effectScope();
    const plans = vi.fn();
    const cards = vi.fn();
    const anew = vi.fn();
    scope.run(() => useNews('plan', plans, anew));
    scope.run(() => useNews('photo', cards, anew));
    Events.say({ photo: 'p1', by: 'tablet' });
    expect(plans).not.toHaveBeenCalled();
    expect(cards).toHaveBeenCalledWith({ photo: 'p1', by: 'tablet' });
    scope.stop();
  });

  it('tries again later when it was refused', () => {
    vi.useFakeTimers();
    const scope = effectScope();
    scope.run(() =>
      useNews(
        'plan',
        () => undefined,
        () => undefined,
      ),
    );
    Events.refuse();
    expect(Events.opened).toHaveLength(1);
    vi.advanceTimersByTime(20_000);
    expect(Events.opened).toHaveLength(2);
    scope.stop();
    vi.useRealTimers();
  });
});

describe('what keeps everything from being saved', () => {
  const put = () =>
    api.PUT('/api/settings', { body: { name: 'theme', value: 'daylight' } }).catch(() => undefined);

  it('stands until a change goes through', async () => {
    serve(() => ({ status: 507, body: { detail: 'The disk is full.', code: 'disk_full' } }));
    await put();
    expect(trouble.value).toBe('The disk is full.');
    serve(() => ({ body: {} }));
    await api.GET('/api/settings');
    expect(trouble.value).toBe('The disk is full.');
    // work that is given up writes nothing
    await api.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: 'one' } } });
    expect(trouble.value).toBe('The disk is full.');
    await put();
    expect(trouble.value).toBe('');
  });

  it('is not any refusal', async () => {
    serve(() => ({ status: 503, body: { detail: 'Too many.', code: 'too_many_listeners' } }));
    await put();
    serve(() => ({ status: 422, body: { detail: 'No.', code: 'disk_full' } }));
    await put();
    expect(trouble.value).toBe('');
  });
});
