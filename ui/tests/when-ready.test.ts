import { beforeEach, describe, expect, it, vi } from 'vitest';

import { api, preparing, Refused, take, takeBytes } from '@/api/client';
import { followJob } from '@/api/follow-job';
import { dayName, shortDay, timeOf, when } from '@/displays/format';

import { Events, job, serve, type Answer } from './server';

beforeEach(() => Events.reset());

describe('an answer that needs a piece which is not worked out', () => {
  let ready: boolean;
  const asked = () =>
    serve((of): Answer => {
      if (of.path.startsWith('/api/jobs/')) return { body: job('running', 0.5) };
      return ready ? { body: { text: of.body } } : { status: 202, body: job('running', 0.2) };
    });

  it('waits for the work, with its progress, and asks the same again', async () => {
    ready = false;
    const seen = asked();
    const body = { plan: { name: 'Wardens' } };
    const answer = take(api.POST('/api/findings', { body: body as never }));
    await vi.waitFor(() => expect(preparing.value?.progress).toBe(0.2));
    Events.tell(job('running', 0.7));
    expect(preparing.value?.progress).toBe(0.7);
    ready = true;
    Events.tell(job('done', 1));
    expect(await answer).toEqual({ text: body });
    expect(preparing.value).toBeNull();
    expect(seen.filter((of) => of.path === '/api/findings')).toHaveLength(2);
  });

  it('fails with the sentence of the work', async () => {
    ready = false;
    asked();
    const answer = takeBytes('/api/hold/plan/coat/left.png');
    await vi.waitFor(() => expect(Events.open).toBe(1));
    Events.tell(job('failed', 0.3, 'This mesh is damaged.'));
    await expect(answer).rejects.toThrow('This mesh is damaged.');
    await expect(answer).rejects.toBeInstanceOf(Refused);
  });

  it('is given up when it is no longer wanted', async () => {
    ready = false;
    asked();
    const turn = new AbortController();
    const answer = takeBytes('/api/hold/plan/coat/left.png', { signal: turn.signal });
    await vi.waitFor(() => expect(Events.open).toBe(1));
    turn.abort();
    await expect(answer).rejects.toThrow('No longer wanted');
    await vi.waitFor(() => expect(Events.open).toBe(0));
    expect(preparing.value).toBeNull();
  });
});

describe('a job that cannot be followed on an open request', () => {
  it('is asked after until it ends', async () => {
    let now = job('running', 0.1);
    serve(() => ({ body: now }));
    const told: number[] = [];
    const done = followJob(now, (v) => told.push(v.progress), new AbortController().signal);
    Events.refuse();
    await vi.waitFor(() => expect(told.length).toBeGreaterThan(1));
    now = job('done', 1);
    expect(await done).toBe(true);
    expect(told.at(-1)).toBe(1);
  });
});

describe('a date that is none', () => {
  it('is shown as it is stored', () => {
    for (const form of [when, timeOf, dayName, shortDay])
      expect(form('2026-99-99T99:99:99Z')).toContain('2026-99');
  });
});
