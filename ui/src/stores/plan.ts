import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';

import {
  api,
  Refused,
  sentence,
  take,
  type Coat,
  type CoatWorkings,
  type Look,
  type Plan,
  type PlanView,
  type PlanWorkings,
  type Station,
} from '@/api/client';

export type Saving = 'saved' | 'saving' | 'unsaved' | 'stale';
export const LOOKS: { id: Look; label: string }[] = [
  { id: 'as_painted', label: 'as painted' },
  { id: 'value', label: 'value' },
  { id: 'this_coat', label: 'this coat' },
];

function copy<T>(value: T): T {
  return JSON.parse(JSON.stringify(value)) as T;
}

/** The open plan: a draft that the instruments change, and its saved revisions. */
export const usePlan = defineStore('plan', () => {
  const id = ref<string | null>(null);
  const version = ref(0);
  const plan = ref<Plan | null>(null);
  const canUndo = ref(false);
  const canRedo = ref(false);
  const what = ref('');
  const saving = ref<Saving>('saved');
  const problem = ref('');
  const workings = shallowRef<PlanWorkings | null>(null);
  /** Why the plan as it stands cannot be worked out, such as a thinner that spoils the paint. */
  const refused = ref('');

  /** How many coats are on the piece as shown; the last of them is the selected one. */
  const after = ref(0);
  const stationId = ref<string | null>(null);
  const look = ref<Look>('as_painted');
  const dragging = ref(false);
  const sketched = shallowRef<Plan | null>(null);

  let queue: Promise<void> = Promise.resolve();
  let opened = 0;

  const coat = computed<Coat | null>(() => plan.value?.coats[after.value - 1] ?? null);
  const coatWorkings = computed<CoatWorkings | null>(
    () => workings.value?.coats.find((c) => c.id === coat.value?.id) ?? null,
  );
  const station = computed<Station | null>(() => {
    const all = coat.value?.stations ?? [];
    return all.find((s) => s.id === stationId.value) ?? all[0] ?? null;
  });

  function adopt(view: PlanView): void {
    id.value = view.id;
    version.value = view.version;
    plan.value = view.plan;
    canUndo.value = view.can_undo;
    canRedo.value = view.can_redo;
    what.value = view.what;
    saving.value = 'saved';
    problem.value = '';
    after.value = Math.min(after.value, view.plan.coats.length);
  }

  async function open(identity: string): Promise<void> {
    const turn = ++opened;
    const view = await take(
      api.GET('/api/plans/{plan_id}', { params: { path: { plan_id: identity } } }),
    );
    if (turn !== opened) return;
    if (id.value !== identity) {
      workings.value = null;
      refused.value = '';
      stationId.value = null;
      look.value = 'as_painted';
      after.value = view.plan.coats.length;
    }
    adopt(view);
  }

  function close(): void {
    opened += 1;
    id.value = null;
    plan.value = null;
    workings.value = null;
  }

  function fail(error: unknown): void {
    problem.value = sentence(error);
    saving.value = error instanceof Refused && error.status === 409 ? 'stale' : 'unsaved';
  }

  /** Writes go one after the other, each on the version the one before it made. */
  function enqueue(
    write: (identity: string) => Promise<PlanView>,
    sent: string | null,
  ): Promise<void> {
    const identity = id.value;
    const turn = opened;
    queue = queue.then(async () => {
      if (!identity || turn !== opened || saving.value === 'stale') return;
      saving.value = 'saving';
      const before = sent ?? JSON.stringify(plan.value);
      try {
        const view = await write(identity);
        if (turn !== opened) return;
        const changedMeanwhile = JSON.stringify(plan.value) !== before;
        const mine = plan.value;
        adopt(view);
        // what was changed while this was on its way stays on screen; its own save follows
        if (changedMeanwhile && mine) plan.value = mine;
      } catch (error) {
        if (turn === opened) fail(error);
      }
    });
    return queue;
  }

  /** Save the draft as a new revision. */
  function commit(reason: string): Promise<void> {
    // as it is now, not as it will be when its turn comes: each change is one undo
    const sent = JSON.stringify(plan.value);
    return enqueue(
      (identity) =>
        take(
          api.PUT('/api/plans/{plan_id}', {
            params: { path: { plan_id: identity } },
            body: { version: version.value, what: reason, plan: JSON.parse(sent) as Plan },
          }),
        ),
      sent,
    );
  }

  /** Change the draft and save it. */
  function change(reason: string, mutate: (draft: Plan) => void): Promise<void> {
    if (!plan.value) return Promise.resolve();
    const draft = copy(plan.value);
    mutate(draft);
    plan.value = draft;
    return commit(reason);
  }

  /**
   * Change the draft without saving, while something is dragged. The screen shows it together with
   * the piece in its new colours, so that one move costs one frame.
   */
  function sketch(mutate: (draft: Plan) => void): void {
    const base = sketched.value ?? plan.value;
    if (!base) return;
    const draft = copy(base);
    mutate(draft);
    dragging.value = true;
    sketched.value = draft;
  }

  /** The colours of a sketch are there: let the instruments follow. */
  function present(shown: Plan): void {
    if (dragging.value) plan.value = shown;
  }

  /** What was dragged is let go: keep the last sketch; true when there was one. */
  function settle(): boolean {
    const last = sketched.value;
    sketched.value = null;
    dragging.value = false;
    if (last) plan.value = last;
    return last !== null;
  }

  function undo(): Promise<void> {
    return enqueue(
      (identity) =>
        take(
          api.POST('/api/plans/{plan_id}/undo', {
            params: { path: { plan_id: identity } },
            body: { version: version.value },
          }),
        ),
      null,
    );
  }

  function redo(): Promise<void> {
    return enqueue(
      (identity) =>
        take(
          api.POST('/api/plans/{plan_id}/redo', {
            params: { path: { plan_id: identity } },
            body: { version: version.value },
          }),
        ),
      null,
    );
  }

  /** Take the newer plan from the server, or try an unsaved change again. */
  async function recover(): Promise<void> {
    if (!id.value) return;
    if (saving.value === 'stale') await open(id.value);
    else await commit('Saved again');
  }

  function selectCoat(count: number): void {
    after.value = Math.min(Math.max(count, 0), plan.value?.coats.length ?? 0);
    stationId.value = coat.value?.stations[0]?.id ?? null;
  }

  function changeCoat(reason: string, mutate: (draft: Coat) => void): Promise<void> {
    const index = after.value - 1;
    return change(reason, (draft) => {
      const target = draft.coats[index];
      if (target) mutate(target);
    });
  }

  function sketchCoat(mutate: (draft: Coat) => void): void {
    const index = after.value - 1;
    sketch((draft) => {
      const target = draft.coats[index];
      if (target) mutate(target);
    });
  }

  return {
    id,
    plan,
    canUndo,
    canRedo,
    what,
    saving,
    problem,
    workings,
    refused,
    after,
    stationId,
    look,
    dragging,
    sketched,
    present,
    settle,
    coat,
    coatWorkings,
    station,
    open,
    close,
    commit,
    change,
    changeCoat,
    sketch,
    sketchCoat,
    undo,
    redo,
    recover,
    selectCoat,
  };
});
