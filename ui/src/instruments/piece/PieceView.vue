<script setup lang="ts">
import { useElementSize } from '@vueuse/core';
import { ElButton, ElDropdown, ElDropdownItem, ElDropdownMenu, ElSegmented } from 'element-plus';
import { computed, nextTick, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue';

import { sentence, type Plan } from '@/api/client';
import { useLatest } from '@/composables/use-latest';
import { LEGENDS, usePlan } from '@/stores/plan';
import WorkBar from '@/displays/WorkBar.vue';

import { takeColours } from './colours';
import { Frame, type Point } from './frame';
import type { PieceScene } from './piece-scene';
import { useGestures } from './use-gestures';
import { usePiece } from './use-piece';

const props = defineProps<{
  showStation: boolean;
  showGlows: boolean;
  samples?: boolean;
  /** `done` when the rays are traced as finely as they will be, `patchy` when they could not. */
  smooth?: string;
}>();
const store = usePlan();
const holder = ref<HTMLElement>();
const canvas = ref<HTMLCanvasElement>();
const { width, height } = useElementSize(holder);
const scene = shallowRef<PieceScene | null>(null);
// what draws is large: it comes while the plan is asked for
const drawing = import('./piece-scene');
let begun: () => void;
const begins = new Promise<void>((resolve) => (begun = resolve));
const { key, geometry, job, problem, cancel, retry } = usePiece(() => store.plan);
const frame = computed(() => (store.workings ? new Frame(store.workings.frame) : null));
const colourProblem = ref('');
const noWebgl = ref(false);
/** Those that fit stand in a row, the others behind a word. */
const LOOK_PX = { each: 7.4, beside: 24, more: 96 };
const look = computed({
  get: () => store.look as string,
  set: (id) => (store.look = id as typeof store.look),
});
const fitting = computed(() => {
  const wide = store.looks.map((l) => l.label.length * LOOK_PX.each + LOOK_PX.beside);
  const whole = wide.reduce((sum, w) => sum + w, 0);
  let left = width.value - 24 - (whole + 24 > width.value ? LOOK_PX.more : 0);
  return wide.findIndex((w) => (left -= w) < 0);
});
const named = computed(() => store.looks.map((l) => ({ value: l.id as string, label: l.label })));
const first = computed(() =>
  fitting.value < 0 ? named.value : named.value.slice(0, fitting.value),
);
const rest = computed(() => (fitting.value < 0 ? [] : named.value.slice(fitting.value)));
const restChosen = computed(() => rest.value.find((l) => l.value === store.look) ?? null);
const drawn = ref(0);
const grained = ref(false);
/** Whether it stands in the colours that were asked for last. */
const settled = ref(false);

interface Wanted {
  body: string;
  /** Piece and body: what it is told apart by. */
  want: string;
  shaded: boolean;
  since: number;
  sketch: Plan | null;
}

const colours = useLatest<Wanted>(
  async ({ body, want, shaded, since, sketch }) => {
    const { bytes, layout } = await takeColours(body);
    await begins;
    colourProblem.value = '';
    scene.value?.setColours(bytes, layout, shaded, since);
    settled.value = want === asked;
    if (sketch) store.present(sketch);
  },
  (error) => {
    colourProblem.value = sentence(error);
    asked = '';
    if (store.sketched) store.present(store.sketched);
  },
);

let asked = '';
function refresh(): void {
  const back = store.lookingBack ? store.before : null;
  const plan = back ?? store.sketched ?? store.plan;
  if (!plan || !key.value) return;
  const { look, sketched } = store;
  const after = Math.min(store.after, plan.coats?.length ?? 0);
  // textures come with the smooth shadows: one request less when something is let go
  const body = JSON.stringify({ plan, after, look, fine: Boolean(props.smooth) });
  // finer rays are told of just before the shadows are smooth: asked for once, then
  const want = `${key.value} ${props.smooth ? store.fineness : ''} ${body}`;
  if (want === asked) return;
  asked = want;
  const since = performance.now();
  settled.value = false;
  colours.push({
    body,
    want,
    shaded: look === 'as_painted',
    since,
    sketch: back ? null : sketched,
  });
}

onMounted(async () => {
  const { PieceScene } = await drawing;
  if (!canvas.value) return; // left meanwhile
  try {
    const made = new PieceScene(canvas.value);
    made.onGrained = () => (grained.value = true);
    made.onDrawn = (since) => {
      performance.measure('haze:colours', { start: since, end: performance.now() });
      drawn.value += 1;
    };
    made.resize(width.value, height.value);
    scene.value = made;
  } catch {
    noWebgl.value = true;
  }
  await nextTick(); // the piece is in it before its colours
  begun();
});
onBeforeUnmount(() => {
  colours.stop();
  scene.value?.dispose();
});

watch([width, height], ([w, h]) => scene.value?.resize(w, h));
watch([scene, geometry], ([s, g]) => {
  if (s && g) {
    s.setGeometry(g);
    point();
  }
});
watch(
  () =>
    [
      key.value,
      store.after,
      store.look,
      store.plan,
      store.sketched,
      store.lookingBack,
      store.fineness,
      props.smooth,
    ] as const,
  () => refresh(),
  { flush: 'sync' },
);
watch(
  () => store.dragging,
  (dragging) => scene.value?.setCoarse(dragging),
);

function point(): void {
  const s = props.showStation ? store.station : null;
  scene.value?.showStation(s && { azimuth: s.azimuth_deg, elevation: s.elevation_deg });
}
watch(() => [props.showStation, store.station] as const, point);

watch([scene, () => store.shownPart], ([s, part]) => s?.setStandingOut(part));

/** Rings show where glows sit, while lights are what is worked on. */
watch(
  () => [scene.value, frame.value, props.showGlows, store.plan?.lights] as const,
  ([s, f, shown, lights]) => {
    const perMm = store.plan && store.workings ? store.workings.units_per_mm : 1;
    const glows = shown && f ? (lights ?? []).filter((l) => l.kind === 'glow') : [];
    s?.showGlows(
      glows.map((l) => ({
        at: f!.fromFile(l.at),
        to: l.shape === 'strip' && l.to ? f!.fromFile(l.to) : null,
        radius: l.radius_mm * perMm,
        flat: l.shape === 'pool',
      })),
    );
  },
);

/** A click that came before the piece was there; it counts once it is. */
let early: { x: number; y: number } | null = null;
/** A click while something waits for a place on the piece. */
function place(x: number, y: number): boolean {
  const picking = store.picking;
  if (!picking) return false;
  if (!scene.value || !geometry.value || !frame.value) {
    early = { x, y };
    return true;
  }
  const at = scene.value.pick(x, y);
  if (!at) return false;
  store.picking = null;
  picking.done(frame.value.toFile(at));
  return true;
}

watch(
  [scene, geometry, frame],
  () => {
    const click = early;
    early = null;
    if (click) place(click.x, click.y);
  },
  { flush: 'post' },
);

const MOST_SAMPLES = 4;
/** Take a core sample there; the oldest gives way when there are many. */
function sample(x: number, y: number): boolean {
  const at = props.samples && scene.value?.pick(x, y);
  if (!at) return false;
  take(at);
  return true;
}
/** A sample that was asked for before the plan is worked out waits for it. */
let waiting: Point | null = null;
function take(at: Point): void {
  waiting = frame.value ? null : at;
  if (!frame.value) return;
  const kept = store.samples.slice(-(MOST_SAMPLES - 1));
  store.samples = [...kept, { at: frame.value.toFile(at), found: null }];
}
watch(frame, () => waiting && take(waiting));

const gestures = useGestures(scene, { place, click: sample });
const caption = ref<HTMLElement>();
const plate = ref<HTMLElement>();
const { height: captionHeight } = useElementSize(caption);
const { height: plateHeight } = useElementSize(plate);
const CAPTION_PX = 14;
const PLATE_PX = 60;
watch(
  [scene, captionHeight, plateHeight] as const,
  ([s, top, bottom]) => {
    const below = bottom ? bottom + PLATE_PX : 0;
    s?.setInsets({ top: top + CAPTION_PX, bottom: below });
  },
  { flush: 'post' },
);

defineExpose({
  pieceKey: key,
  geometry,
  turn: (azimuth: number, elevation: number) => scene.value?.turn(azimuth, elevation),
  move: (right: number, down: number) => scene.value?.move(right, down),
  magnify: (factor: number) => scene.value?.magnify(factor),
  lookedAtFrom: () => scene.value?.view.azimuth ?? 0,
  view: () => scene.value?.view,
  home: () => scene.value?.home(),
  placeAtCentre: () => place(0.5, 0.5),
  sampleAtCentre: () => sample(0.5, 0.5),
});
</script>

<template>
  <section class="piece" aria-label="The piece">
    <div ref="holder" class="holder">
      <canvas
        ref="canvas"
        tabindex="0"
        role="img"
        aria-label="The piece as planned. Drag or use the arrow keys to turn it, the wheel, two fingers or + and − to come nearer, 0 to see all of it."
        data-test="piece"
        :data-drawn="drawn || undefined"
        :data-grained="grained || undefined"
        :data-settled="settled || undefined"
        :data-smooth="smooth || undefined"
        :class="{ aiming: store.picking }"
        v-on="gestures"
      />
      <p ref="caption" class="state number" data-test="state">
        <template v-if="store.lookingBack">before the last change</template>
        <template v-else-if="store.after === 0">bare piece</template>
        <template v-else
          >after <b>{{ store.step?.name }}</b>, {{ store.after }} of
          {{ store.plan?.coats?.length ?? 0 }}</template
        >
      </p>
      <div v-if="geometry && key" class="ways no-print"><slot name="ways" /></div>
      <div v-if="job" ref="plate" class="plate" role="status">
        <p>{{ job.doing }}</p>
        <WorkBar :share="job.progress" :doing="job.doing" />
        <ElButton @click="cancel">Stop</ElButton>
      </div>
      <div v-else-if="problem || noWebgl" class="plate" role="alert">
        <p>{{ problem || 'This browser cannot draw in three dimensions: WebGL is off.' }}</p>
        <ElButton v-if="problem" @click="retry">Try again</ElButton>
      </div>
      <p v-else-if="colourProblem && !store.refused" class="plate" role="alert">
        {{ colourProblem }}
      </p>
    </div>
    <slot />
    <p v-if="store.picking" class="picking" role="status">
      {{ store.picking.words }}
      <ElButton @click="place(0.5, 0.5)">Take the middle</ElButton>
      <ElButton @click="store.picking = null">Cancel</ElButton>
    </p>
    <p v-else-if="LEGENDS[store.look]" class="legend">{{ LEGENDS[store.look] }}</p>
    <div class="looks no-print" data-tour="looks">
      <ElSegmented
        v-if="first.length"
        v-model="look"
        :options="first"
        aria-label="How the piece is shown"
      />
      <ElDropdown v-if="rest.length" trigger="click" @command="(id: string) => (look = id)">
        <ElButton class="more" :class="{ chosen: restChosen }" data-test="more-looks">
          {{ restChosen?.label ?? 'more' }}
        </ElButton>
        <template #dropdown>
          <ElDropdownMenu>
            <ElDropdownItem v-for="l in rest" :key="l.value" :command="l.value">
              {{ l.label }}
            </ElDropdownItem>
          </ElDropdownMenu>
        </template>
      </ElDropdown>
    </div>
  </section>
</template>

<style scoped>
.piece {
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
  background: var(--card);
  color: var(--on-card);
}
.holder {
  position: relative;
  flex: 1;
  min-height: 0;
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  cursor: grab;
  touch-action: none;
}
canvas:active {
  cursor: grabbing;
}
canvas.aiming {
  cursor: crosshair;
}
.legend,
.picking {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 4px 14px;
  font-size: var(--f14);
  color: #111;
}
canvas:focus-visible {
  outline: 3px solid #1b1b1b;
  outline-offset: -5px;
}
.plate {
  position: absolute;
  left: 24px;
  right: 24px;
  bottom: 24px;
  max-width: 420px;
  margin: 0 auto;
  padding: 16px;
  background: var(--sheet);
  color: var(--ink);
  border-radius: 3px;
  display: grid;
  gap: 10px;
}
.looks {
  display: flex;
  justify-content: center;
  gap: 4px;
  padding: 6px 10px 10px;
}
.looks :deep(.el-segmented) {
  --el-segmented-bg-color: var(--looks);
  --el-segmented-color: var(--on-looks);
  --el-segmented-item-selected-bg-color: #fafafa;
  --el-segmented-item-selected-color: #1f1f1f;
  --el-segmented-item-hover-color: #ffffff;
  --el-segmented-item-hover-bg-color: #5c5c5c;
  --el-segmented-item-active-bg-color: #5c5c5c;
}
.more.el-button {
  border: 0;
  border-radius: 8px;
  background: var(--looks);
  color: var(--on-looks);
  font-weight: 400;
}
.more.el-button:hover {
  background: #5c5c5c;
  color: #ffffff;
}
.more.chosen {
  background: #fafafa;
  color: #1f1f1f;
}
.ways {
  position: absolute;
  right: 8px;
  top: 4px;
  display: flex;
}
.state {
  position: absolute;
  left: 14px;
  top: 10px;
  font-size: var(--f14);
  color: #111;
  pointer-events: none;
}
</style>
