import { defineStore } from 'pinia';
import { cloneDeep, isEqual } from 'lodash-es';
import { computed, ref, shallowRef, toRaw, watch } from 'vue';

import {
  api,
  PAGE,
  Refused,
  sentence,
  take,
  type Coat,
  type CoatWorkings,
  type Finding,
  type HandStep,
  type HandWorkings,
  type Layer,
  type Light,
  type Look,
  type Plan,
  type PlanView,
  type PlanWorkings,
  type SampleOut,
  type Station,
  type Step,
} from '@/api/client';
import type { PlanNews } from '@/composables/use-news';

/** A click on the piece that is waited for: what it is for, and where it landed in the file. */
export interface Picking {
  words: string;
  done: (at: [number, number, number]) => void;
}

export type Saving = 'saved' | 'saving' | 'unsaved' | 'stale';
const LOOKS: { id: Look; label: string }[] = [
  { id: 'as_painted', label: 'as painted' },
  { id: 'value', label: 'value' },
  { id: 'this_coat', label: 'this coat' },
  { id: 'reach', label: 'reach' },
  { id: 'still_bare', label: 'uncovered' },
  { id: 'light_wanted', label: 'target light' },
  { id: 'off_plan', label: 'off target' },
];
/** Looks of a plan that was asked for a colour. */
const ASKED_LOOKS: typeof LOOKS = [
  { id: 'colour_wanted', label: 'colour wanted' },
  { id: 'off_colour', label: 'off colour' },
];
/** What dark and light mean in looks that show neither paint nor light. */
export const LEGENDS: Partial<Record<Look, string>> = {
  reach: 'light: spray gets there · dark: it does not',
  still_bare: 'light: coated · dark: uncovered',
  off_colour: 'at the end · light: as asked · darker: farther from it',
  off_plan: 'at the end · mid grey: as wanted · darker: too dark · lighter: too light',
};

const THEN =
  'This plan is as it was on that day and stays so. Keep it as a plan of its own to change it.';

/** The open plan: a draft that the instruments change, and its saved revisions. */
export const usePlan = defineStore('plan', () => {
  const id = ref<string | null>(null);
  const version = ref(0);
  /** The day the open plan is of, when it is one as it was: then it stays as it is. */
  const then = ref<{ session: string; date: string } | null>(null);
  /** Never changed in place: each change puts a new one here. */
  const plan = shallowRef<Plan | null>(null);
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
  const looks = computed(() => (plan.value?.asked ? [...LOOKS, ...ASKED_LOOKS] : LOOKS));
  watch(looks, (now) => {
    if (!now.some((one) => one.id === look.value)) look.value = 'as_painted';
  });
  const dragging = ref(false);
  /** The plan before its last change, and whether the piece shows that now. */
  const before = shallowRef<Plan | null>(null);
  const lookingBack = ref(false);
  function lookBack(back: boolean): void {
    lookingBack.value = back && before.value !== null;
  }
  /** Grows whenever the server can show the same plan more finely. */
  const fineness = ref(0);
  /** Grows whenever a trial changed what is known of a paint. */
  const taught = ref(0);
  function relearn(): void {
    taught.value += 1;
    fineness.value += 1;
  }
  const lightId = ref<string | null>(null);
  /** What a click on the piece does next; null for nothing. */
  const picking = ref<Picking | null>(null);
  /** The part that stands out from the others. */
  const shownPart = ref<number | null>(null);
  const sketched = shallowRef<Plan | null>(null);
  /** The plan as it was last kept; another one is a change that is not saved. */
  const kept = shallowRef<Plan | null>(null);
  const edited = computed(() => plan.value !== kept.value);

  let queue: Promise<void> = Promise.resolve();
  let opened = 0;

  /** The selected step; `coat` and `hand` are the same by kind. */
  const step = computed<Step | null>(() => plan.value?.coats[after.value - 1] ?? null);
  const coat = computed<Coat | null>(() => (step.value?.kind === 'spray' ? step.value : null));
  const hand = computed<HandStep | null>(() => (step.value?.kind === 'hand' ? step.value : null));
  const sprayed = computed<Coat[]>(
    () => plan.value?.coats.filter((c): c is Coat => c.kind === 'spray') ?? [],
  );
  const handWorkings = computed<HandWorkings | null>(
    () => workings.value?.hands.find((h) => h.id === hand.value?.id) ?? null,
  );
  /** The film column's layers by step. */
  const layers = computed<Map<string, Layer>>(() => {
    const found = new Map<string, Layer>();
    for (const c of workings.value?.coats ?? []) found.set(c.id, c.layer);
    for (const h of workings.value?.hands ?? []) if (h.layer) found.set(h.id, h.layer);
    return found;
  });
  /** What lies under each place between the steps, and what comes over it later. */
  const places = computed(() => workings.value?.places ?? []);
  const findings = shallowRef<Finding[]>([]);
  const stepFindings = computed(() => findings.value.filter((f) => f.step === step.value?.id));
  /** Core samples that are looked at: places on the mesh and what was found there. */
  const samples = shallowRef<{ at: [number, number, number]; found: SampleOut | null }[]>([]);
  const coatWorkings = computed<CoatWorkings | null>(
    () => workings.value?.coats.find((c) => c.id === coat.value?.id) ?? null,
  );
  const station = computed<Station | null>(() => {
    const all = coat.value?.stations ?? [];
    return all.find((s) => s.id === stationId.value) ?? all[0] ?? null;
  });

  const light = computed<Light | null>(() => {
    const all = plan.value?.lights ?? [];
    return all.find((l) => l.id === lightId.value) ?? all[0] ?? null;
  });

  /** Take what the server keeps; an equal plan, or one changed meanwhile, stays as it is here. */
  function adopt(view: PlanView, keep = false): void {
    id.value = view.id;
    version.value = view.version;
    if (!keep) {
      if (!isEqual(plan.value, view.plan)) plan.value = view.plan;
      if (kept.value && id.value && !isEqual(kept.value, plan.value)) before.value = kept.value;
      kept.value = plan.value;
    }
    canUndo.value = view.can_undo;
    canRedo.value = view.can_redo;
    what.value = view.what;
    saving.value = 'saved';
    problem.value = '';
    after.value = Math.min(after.value, plan.value?.coats.length ?? 0);
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
      before.value = kept.value = null;
      stationId.value = null;
      lightId.value = null;
      picking.value = null;
      shownPart.value = null;
      findings.value = [];
      samples.value = [];
      look.value = 'as_painted';
      after.value = view.plan.coats.length;
    }
    adopt(view);
  }

  /** Open the plan of a session of the notebook as it was on that day. */
  async function openThen(session: string): Promise<void> {
    close();
    const turn = opened;
    const path = { params: { path: { session_id: session } } };
    const [view, was] = await Promise.all([
      take(api.GET('/api/sessions/{session_id}', path)),
      take(api.GET('/api/sessions/{session_id}/plan', path)),
    ]);
    if (turn !== opened) return;
    then.value = { session, date: view.line.date };
    plan.value = kept.value = was;
    canUndo.value = canRedo.value = false;
    look.value = 'as_painted';
    after.value = was.coats.length;
  }

  function close(): void {
    opened += 1;
    then.value = null;
    id.value = null;
    plan.value = kept.value = null;
    workings.value = null;
    saving.value = 'saved';
    problem.value = '';
  }

  function fail(error: unknown): void {
    problem.value = sentence(error);
    saving.value = error instanceof Refused && error.status === 409 ? 'stale' : 'unsaved';
  }

  /** Writes go one after the other, each on the version the one before it made. */
  function enqueue(
    write: (identity: string) => Promise<PlanView>,
    sent: Plan | null = null,
  ): Promise<void> {
    const identity = id.value;
    const turn = opened;
    queue = queue.then(async () => {
      if (!identity || turn !== opened || saving.value === 'stale') return;
      saving.value = 'saving';
      const before = sent ?? plan.value;
      try {
        const view = await write(identity);
        if (turn !== opened) return;
        // what was changed while this was on its way stays on screen; its own save follows
        adopt(view, plan.value !== before);
      } catch (error) {
        if (turn === opened) fail(error);
      }
    });
    return queue;
  }

  /** Save the draft as a new revision. */
  function commit(reason: string): Promise<void> {
    // as it is now, not as it will be when its turn comes: each change is one undo
    const sent = plan.value;
    if (!sent) return Promise.resolve();
    return enqueue(
      (identity) =>
        take(
          api.PUT('/api/plans/{plan_id}', {
            params: { path: { plan_id: identity } },
            body: { version: version.value, what: reason, plan: sent },
          }),
        ),
      sent,
    );
  }

  /** Whether this is a plan as it was, which is not changed any more; it is said. */
  function isThen(): boolean {
    if (then.value) problem.value = THEN;
    return then.value !== null;
  }

  /** Change the draft and save it. */
  function change(reason: string, mutate: (draft: Plan) => void): Promise<void> {
    if (!plan.value) return Promise.resolve();
    if (isThen()) return Promise.resolve();
    const draft = cloneDeep(plan.value);
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
    if (!base || isThen()) return;
    const draft = cloneDeep(base);
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
    return enqueue((identity) =>
      take(
        api.POST('/api/plans/{plan_id}/undo', {
          params: { path: { plan_id: identity } },
          body: { version: version.value },
        }),
      ),
    );
  }

  function redo(): Promise<void> {
    return enqueue((identity) =>
      take(
        api.POST('/api/plans/{plan_id}/redo', {
          params: { path: { plan_id: identity } },
          body: { version: version.value },
        }),
      ),
    );
  }

  /** A newer version than this one is kept: nothing more is saved over it. */
  function outdated(newest: number): void {
    if (newest <= version.value || saving.value === 'stale') return;
    saving.value = 'stale';
    problem.value =
      'This plan was changed in another window. Here it stands as it was before that.';
  }
  /** Another page changed a plan; a save of one's own that is on its way ends first. */
  function hear(news: PlanNews): void {
    if (news.plan !== id.value || news.by === PAGE) return;
    const turn = opened;
    queue = queue.then(() => {
      if (turn === opened) outdated(news.version);
    });
  }
  /** News may have been missed: ask for the version that is kept. */
  function lookAgain(): void {
    const identity = id.value;
    const turn = opened;
    if (!identity) return;
    queue = queue.then(async () => {
      const asked = api.GET('/api/plans/{plan_id}', { params: { path: { plan_id: identity } } });
      const view = await take(asked).catch(() => null);
      if (view && turn === opened) outdated(view.version);
    });
  }

  /** Keep the plan as it stands here as one of its own; its id. */
  async function keepAsCopy(): Promise<string | null> {
    const mine = sketched.value ?? plan.value;
    if (!mine) return null;
    try {
      return (await take(api.POST('/api/plans/copy', { body: { plan: mine } }))).id;
    } catch (error) {
      problem.value = sentence(error);
      return null;
    }
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
    return changeStep(reason, (target) => {
      if (target.kind === 'spray') mutate(target);
    });
  }

  function changeStep(reason: string, mutate: (draft: Step) => void): Promise<void> {
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
      if (target?.kind === 'spray') mutate(target);
    });
  }

  /** Put a whole plan, as the server made it, in the place of this one. */
  function replace(reason: string, whole: Plan): Promise<void> {
    if (isThen()) return Promise.resolve();
    plan.value = toRaw(whole);
    after.value = Math.min(after.value, whole.coats.length);
    return commit(reason);
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
    looks,
    dragging,
    before,
    lookingBack,
    lookBack,
    fineness,
    taught,
    relearn,
    lightId,
    light,
    picking,
    shownPart,
    sketched,
    present,
    settle,
    step,
    coat,
    hand,
    sprayed,
    handWorkings,
    layers,
    places,
    findings,
    stepFindings,
    samples,
    changeStep,
    replace,
    coatWorkings,
    station,
    then,
    open,
    openThen,
    close,
    commit,
    change,
    changeCoat,
    sketch,
    sketchCoat,
    undo,
    redo,
    recover,
    edited,
    hear,
    lookAgain,
    keepAsCopy,
    selectCoat,
  };
});
