import { onScopeDispose, ref, shallowRef, watch, type Ref, type ShallowRef } from 'vue';

import {
  api,
  sentence,
  take,
  type Known,
  type MixPart,
  type TurnedBody,
  type KnownSetting,
  type Taught,
  type TrialLook,
  type WindowOut,
} from '@/api/client';
import { SPRAYED, type SprayedTask } from '@/craft.generated';
import { measured } from '@/composables/measured';
import { newId } from '@/composables/new-id';
import { useLatest } from '@/composables/use-latest';

import type { Axis } from './axes';
import { useSwatch, type Swatch, type Turned } from './swatch';

/** A setting with the paint and airbrush it is of. */
export type Asked = TurnedBody;
export type WindowTask = SprayedTask['recipe'];

/** The task whose recipes a coat's schools come from. */
export function windowTask(task: SprayedTask['id'] | undefined): WindowTask {
  const row = SPRAYED.find((t) => t.id === task) ?? SPRAYED[0]!;
  return row.recipe;
}

export interface SettingState {
  /** What the setting does, by all that is known. */
  told: ShallowRef<KnownSetting | null>;
  window: ShallowRef<WindowOut | null>;
  /** Trials of this paint in this airbrush, and the next worth spraying. */
  known: ShallowRef<Known | null>;
  /** What the last trial changed. */
  taught: ShallowRef<Taught | null>;
  /** Whether the trial that was told last counts. */
  counts: Ref<boolean>;
  problem: Ref<string>;
  /** What this point would leave on card; null where there is nothing to see. */
  swatch: ShallowRef<Swatch | null>;
  /** Knobs that are dragged, before they are let go. */
  dragged: Ref<Record<string, number>>;
  sketch: (knobs: Record<string, number>) => void;
  log: (look: TrialLook, where?: { plan: string; step: string }) => Promise<void>;
  takeBack: (trial: string, back: boolean) => Promise<void>;
}

/** What the server says of a setting and the window round it, as they change. */
export function useSetting(
  asked: () => Asked | null,
  axes: () => { across: Axis; up: Axis },
  task: () => WindowTask,
  parts: () => MixPart[] = () => [],
): SettingState {
  const told = shallowRef<KnownSetting | null>(null);
  const shown = shallowRef<WindowOut | null>(null);
  const known = shallowRef<Known | null>(null);
  const taught = shallowRef<Taught | null>(null);
  const counts = ref(false);
  const problem = ref('');
  const failed = (error: unknown): void => {
    problem.value = sentence(error);
  };

  const { swatch, show } = useSwatch(parts, failed);
  const telling = useLatest<Turned>(async (turned) => {
    const { body, since } = turned;
    told.value = (await take(api.POST('/api/setting', { body }))) as KnownSetting;
    problem.value = '';
    // what it says comes first, what it looks like when the hand leaves time for it
    if (!telling.waits()) show(turned);
    await measured('haze:told', since);
  }, failed);
  const dragged = ref<Record<string, number>>({});
  function sketch(knobs: Record<string, number>): void {
    dragged.value = { ...dragged.value, ...knobs };
    const body = asked();
    if (body) tell({ ...body, setting: { ...body.setting, ...dragged.value } }, false);
  }
  const tell = (body: Asked, still = true): void =>
    telling.push({ body, since: performance.now(), still });
  const learning = useLatest<Asked>(async ({ paint, airbrush, setting }) => {
    known.value = await take(api.POST('/api/known', { body: { paint, airbrush, setting } }));
  }, failed);
  const opening = useLatest<Asked>(async (body) => {
    try {
      const { across, up } = axes();
      shown.value = (await take(
        api.POST('/api/window', {
          body: {
            ...body.setting,
            needle_mm: body.airbrush.needle_mm,
            paint_id: body.paint.id,
            airbrush_id: body.airbrush.id,
            task: task(),
            across: { knob: across.knob, from: across.low, to: across.high, steps: 40 },
            up: { knob: up.knob, from: up.low, to: up.high, steps: 40 },
          },
        }),
      )) as WindowOut;
    } finally {
      // of where the point stands by now
      const here = asked();
      if (here) learning.push(here);
    }
  }, failed);
  onScopeDispose(() => [telling, learning, opening].forEach((one) => one.stop()));

  /** All but the two knobs on the axes: what the window itself depends on. */
  function field(body: Asked): string {
    const { across, up } = axes();
    return JSON.stringify([
      { ...body, setting: { ...body.setting, [across.knob]: 0, [up.knob]: 0 } },
      across,
      up,
      task(),
    ]);
  }
  let opened = '';
  function look(body: Asked, again = false): void {
    tell(body);
    const now = field(body);
    // the window is waited for; what is known is the longer sum and comes after it
    if (now === opened && !again) return learning.push(body);
    opened = now;
    opening.push(body);
  }
  const same = (body: Asked | null): string => JSON.stringify([body, axes(), task()]);
  let through = '';
  watch(
    () => same(asked()),
    () => {
      const body = asked();
      if (!body) return;
      const now = `${body.paint.id} ${body.airbrush.id} ${body.airbrush.needle_mm}`;
      if (now !== through) {
        known.value = null;
        taught.value = null;
        shown.value = null;
        told.value = null;
      }
      through = now;
      look(body);
    },
    { immediate: true },
  );

  async function change(what: () => Promise<Taught>, counting: boolean): Promise<void> {
    try {
      taught.value = await what();
      counts.value = counting;
      const body = asked();
      if (body) look(body, true);
    } catch (error) {
      failed(error);
    }
  }

  return {
    swatch,
    told,
    window: shown,
    known,
    taught,
    counts,
    problem,
    dragged,
    sketch,
    log: (seen, where) => {
      const body = asked();
      if (!body) return Promise.resolve();
      const { paint, airbrush, setting } = body;
      const id = newId();
      const from = { plan: where?.plan ?? null, step: where?.step ?? null };
      const trial = { id, look: seen, paint, airbrush, setting, ...from };
      return change(() => take(api.POST('/api/trials', { body: trial })), true);
    },
    takeBack: (trial, back) =>
      change(
        () =>
          take(
            api.POST('/api/trials/{trial_id}/back', {
              params: { path: { trial_id: trial } },
              body: { back },
            }),
          ),
        !back,
      ),
  };
}
