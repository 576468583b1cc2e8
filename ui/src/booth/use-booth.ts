import { computed, onScopeDispose, ref, shallowRef, type ComputedRef, type Ref } from 'vue';
import { useEventListener, useIntervalFn } from '@vueuse/core';

import {
  api,
  Refused,
  sentence,
  take,
  type BoothEvent,
  type BoothStep,
  type BoothView,
  type DayView,
  type JobView,
  type StoredEvent,
} from '@/api/client';
import { followJob } from '@/api/follow-job';
import { newId } from '@/composables/new-id';
import { dateFromNow } from '@/displays/format';

import {
  asideOf,
  dismiss,
  heard,
  keep,
  kept,
  letGo,
  rememberedView,
  rememberView,
  setAside,
  type RefusedEvent,
} from './kept-events';
import { sendEvents } from './send-events';
import { doneOf, isOver, overAt, readyAt, standing, type Standing } from './standing';

const AGAIN_MS = 2000;
const SOON_MS = 50;
const TICK_MS = 500;

export interface UseBooth {
  view: Readonly<Ref<BoothView | null>>;
  problem: Ref<string>;
  step: ComputedRef<BoothStep | null>;
  /** How many counts of the step are done. */
  count: ComputedRef<number>;
  state: ComputedRef<Standing>;
  minute: Readonly<Ref<number>>;
  /** Minutes until the step may begin; 0 when it may. */
  waits: ComputedRef<number>;
  lateMin: ComputedRef<number>;
  unsent: ComputedRef<number>;
  offline: Readonly<Ref<boolean>>;
  busy: Readonly<Ref<boolean>>;
  missed: Readonly<Ref<string[]>>;
  /** Presses the server refused; they are set aside, and said until they are dismissed. */
  refused: Readonly<Ref<RefusedEvent[]>>;
  /** Whether the browser had no room for a press: a reload would lose what is not sent. */
  inMemoryOnly: Readonly<Ref<boolean>>;
  /** Why presses were not taken, when Haze answers; empty when they were. */
  unsentWhy: Readonly<Ref<string>>;
  /** The day is being planned, because nobody had planned it; null when it is not. */
  laying: Readonly<Ref<JobView | null>>;
  dismissRefused: () => void;
  press: (kind: BoothEvent['kind'], more?: Partial<BoothEvent>) => void;
  next: () => void;
  goOn: () => void;
  back: () => void;
  again: () => Promise<void>;
  reload: () => Promise<void>;
}

/** The booth of a plan's day: steps, presses that are never lost, and where it stands. */
export function useBooth(plan: () => string): UseBooth {
  const view = shallowRef<BoothView | null>(null);
  const problem = ref('');
  const offline = ref(false);
  const busy = ref(false);
  const missed = ref<string[]>([]);
  const refused = shallowRef<RefusedEvent[]>([]);
  const inMemoryOnly = ref(false);
  const unsentWhy = ref('');
  const laying = shallowRef<JobView | null>(null);
  const leaving = new AbortController();
  const events = shallowRef(new Map<string, BoothEvent>());
  const unsentIds = shallowRef(new Set<string>());
  const waived = ref(new Set<string>());
  const minute = ref(0);
  let seen = 0;
  let sending = false;
  let timer = 0;
  let closed = false;
  let lastMs = 0;

  const startMs = computed(() => (view.value ? new Date(view.value.start).getTime() : 0));
  function now(): number {
    return (Date.now() - startMs.value) / 60_000;
  }
  useIntervalFn(() => (minute.value = now()), TICK_MS);

  const state = computed(() => standing(events.value.values()));
  const byEntry = computed(() => {
    const found = new Map<string, BoothStep[]>();
    for (const s of view.value?.steps ?? []) found.set(s.entry, [...(found.get(s.entry) ?? []), s]);
    return found;
  });
  const step = computed(() => view.value?.steps.find((s) => !isOver(state.value, s)) ?? null);
  const count = computed(() => (step.value ? doneOf(state.value, step.value) : 0));
  const waits = computed(() => {
    const one = step.value;
    if (!one || count.value || waived.value.has(one.id)) return 0;
    const ready = readyAt(state.value, one, byEntry.value);
    return ready === null ? 0 : Math.max(0, ready - minute.value);
  });
  /** How late the last stretch that is over was done. */
  const lateMin = computed(() => {
    let last = -Infinity;
    let late = 0;
    for (const [entry, steps] of byEntry.value) {
      if (entry.startsWith('day-')) continue;
      const ends = steps.map((s) => overAt(state.value, s));
      if (ends.some((at) => at === null)) continue;
      const end = Math.max(...(ends as number[]));
      if (end > last) {
        last = end;
        late = end - steps[0]!.to_min;
      }
    }
    return late;
  });

  function add(found: Iterable<BoothEvent>): void {
    const all = new Map(events.value);
    for (const e of found) all.set(e.id, e);
    events.value = all;
  }

  async function open(): Promise<void> {
    try {
      const day = await take(
        api.GET('/api/plans/{plan_id}/day', {
          params: { path: { plan_id: plan() }, query: { today: dateFromNow() } },
        }),
      );
      if (!day.laid) await layFirst(day);
      const path = { day_id: day.id };
      show(await take(api.GET('/api/days/{day_id}/booth', { params: { path } })));
      offline.value = false;
    } catch (error) {
      const before = rememberedView<BoothView>(plan());
      const away = error instanceof Refused && error.code === 'unreachable';
      if (!away || !before) {
        problem.value = sentence(error);
        return;
      }
      offline.value = true;
      show(before);
    }
    void send();
  }
  /** A day nobody has planned yet is planned as it would stand on its screen. */
  async function layFirst(day: DayView): Promise<void> {
    const path = { day_id: day.id };
    if (day.version === 0)
      await take(
        api.PUT('/api/days/{day_id}', { params: { path }, body: { version: 0, doc: day.doc } }),
      );
    const job = await take(
      api.POST('/api/days/{day_id}/lay', { params: { path }, body: { near: false } }),
    );
    await followJob(job, (told) => (laying.value = told), leaving.signal);
    laying.value = null;
  }
  function show(found: BoothView): void {
    view.value = found;
    problem.value = '';
    missed.value = found.missed;
    rememberView(plan(), found);
    const mine = kept(found.day);
    refused.value = asideOf(found.day);
    add([...(found.events as BoothEvent[]), ...mine]);
    seen = Math.max(seen, ...found.events.map((e) => e.seq));
    unsentIds.value = new Set(mine.map((e) => e.id));
    minute.value = now();
  }
  async function reload(): Promise<void> {
    const day = view.value?.day;
    if (!day) return;
    try {
      show(await take(api.GET('/api/days/{day_id}/booth', { params: { path: { day_id: day } } })));
    } catch (error) {
      if (!(error instanceof Refused && error.code === 'unreachable'))
        problem.value = sentence(error);
    }
  }

  /** Send what is kept; what does not arrive is sent again until it does. */
  async function send(): Promise<void> {
    const day = view.value?.day;
    if (!day || sending || closed) return;
    sending = true;
    window.clearTimeout(timer);
    const mine = kept(day);
    const sent = await sendEvents(day, mine, seen);
    letGo(day, sent.taken);
    for (const one of sent.refused) leaveOut(day, one);
    add(sent.arrived);
    seen = Math.max(seen, ...sent.arrived.map((e) => (e as StoredEvent).seq));
    offline.value = sent.error instanceof Refused && sent.error.code === 'unreachable';
    if (sent.error && !offline.value) unsentWhy.value = sentence(sent.error);
    else unsentWhy.value = '';
    sending = false;
    unsentIds.value = new Set(kept(day).map((e) => e.id));
    // what was turned or went wrong changes the steps that follow
    if (sent.arrived.some((e) => ['turned', 'wrong', 'right'].includes(e.kind))) void reload();
    const fresh = [...unsentIds.value].some((id) => !mine.some((e) => e.id === id));
    if (sent.error && !fresh) timer = window.setTimeout(() => void send(), AGAIN_MS);
    else if (unsentIds.value.size) timer = window.setTimeout(() => void send(), SOON_MS);
  }
  /** A press the server will never take no longer counts here either. */
  function leaveOut(day: string, one: RefusedEvent): void {
    setAside(day, one);
    refused.value = [...refused.value, one];
    const all = new Map(events.value);
    all.delete(one.event.id);
    events.value = all;
  }
  function dismissRefused(): void {
    const day = view.value?.day;
    if (day)
      dismiss(
        day,
        refused.value.map((one) => one.event.id),
      );
    refused.value = [];
  }
  useEventListener(window, 'online', () => void send());
  useEventListener(window, 'storage', (change: StorageEvent) => {
    const other = view.value ? heard(view.value.day, change) : null;
    if (other) add([other]);
  });
  onScopeDispose(() => {
    closed = true;
    leaving.abort();
    window.clearTimeout(timer);
  });

  function press(kind: BoothEvent['kind'], more: Partial<BoothEvent> = {}): void {
    const one = step.value;
    const day = view.value?.day;
    if (!day || (!one && !more.step)) return;
    // two presses are never of the same moment: the later one holds
    lastMs = Math.max(Date.now(), lastMs + 1);
    const event = {
      id: newId(),
      at: new Date(lastMs).toISOString(),
      minute: now(),
      kind,
      step: one?.id ?? '',
      number: 0,
      ...more,
    } as BoothEvent;
    add([event]);
    if (!keep(day, event)) inMemoryOnly.value = true;
    unsentIds.value = new Set([...unsentIds.value, event.id]);
    void send();
  }
  function next(): void {
    const one = step.value;
    if (!one || waits.value > 0) return;
    press('done', { number: count.value });
  }
  function goOn(): void {
    if (step.value) waived.value = new Set([...waived.value, step.value.id]);
  }
  /** Undo the last press, wherever it was. */
  function back(): void {
    let last: { step: BoothStep; number: number; at: number } | null = null;
    for (const s of view.value?.steps ?? []) {
      const skippedAt = state.value.skipped.get(s.id);
      if (skippedAt !== undefined && (!last || skippedAt >= last.at))
        last = { step: s, number: 0, at: skippedAt };
      for (let n = 0; n < s.count; n += 1) {
        const at = state.value.done.get(`${s.id}#${n}`);
        if (at !== undefined && (!last || at >= last.at)) last = { step: s, number: n, at };
      }
    }
    if (last) press('undone', { step: last.step.id, number: last.number });
  }
  async function again(): Promise<void> {
    const day = view.value?.day;
    if (!day) return;
    busy.value = true;
    try {
      await send();
      show(
        await take(
          api.POST('/api/days/{day_id}/again', {
            params: { path: { day_id: day } },
            body: { minute: Math.max(0, now()) },
          }),
        ),
      );
    } catch (error) {
      problem.value = sentence(error);
    } finally {
      busy.value = false;
    }
  }

  void open();
  return {
    view,
    problem,
    step,
    count,
    state,
    minute,
    waits,
    lateMin,
    unsent: computed(() => unsentIds.value.size),
    offline,
    busy,
    missed,
    refused,
    inMemoryOnly,
    unsentWhy,
    laying,
    dismissRefused,
    press,
    next,
    goOn,
    back,
    again,
    reload,
  };
}
