<script setup lang="ts">
import { computed, ref, useId } from 'vue';

import type { WindowOut } from '@/api/client';
import { useUnit } from '@/composables/use-unit';
import { SCHOOLS } from '@/craft.generated';

import { regionOf } from './contours';

/** One knob of the window: what it is called, its values as words, how far an arrow moves it. */
export interface WindowAxis {
  label: string;
  low: number;
  high: number;
  step: number;
  ticks: number[];
  words: (value: number) => string;
}
export interface WindowMark {
  id: string;
  across: number;
  up: number;
  look: string;
  odd?: boolean;
}
const props = defineProps<{
  window: WindowOut | null;
  across: WindowAxis;
  up: WindowAxis;
  /** The operating point. */
  at: { across: number; up: number };
  /** Said of the point. */
  verdict: string;
  marks?: WindowMark[];
  /** The trial that would teach most. */
  next?: { across: number; up: number } | null;
}>();
const emit = defineEmits<{
  sketch: [at: { across: number; up: number }];
  change: [at: { across: number; up: number }];
}>();

const WIDTH = 400;
const HEIGHT = 250;
const VIEW = { left: -40, top: -8, width: 452, height: 300 };
const viewBox = Object.values(VIEW).join(' ');
const RISKS = [
  { id: 'dust', word: 'dust' },
  { id: 'specks', word: 'specks' },
  { id: 'spiders', word: 'spiders' },
  { id: 'no_flow', word: 'no flow' },
] as const;
const NAMES: Record<string, string> = Object.fromEntries(
  SCHOOLS.pressure.map((s) => [s.id, s.name]),
);
const ROOM = 12; // of a name above its outline
const ARM = 24; // of the cross about the point
const id = useId();
const svg = ref<SVGSVGElement | null>(null);
const unit = useUnit(svg, VIEW);
const held = ref(false);

function x(value: number): number {
  const { low, high } = props.across;
  return ((value - low) / (high - low)) * WIDTH;
}
function y(value: number): number {
  const { low, high } = props.up;
  return (1 - (value - low) / (high - low)) * HEIGHT;
}
const point = computed(() => ({
  x: Math.min(Math.max(x(props.at.across), 0), WIDTH),
  y: Math.min(Math.max(y(props.at.up), 0), HEIGHT),
}));
const regions = computed(() => {
  const shown = props.window;
  if (!shown) return [];
  return RISKS.map(({ id: name, word }) => ({
    name,
    word,
    perhaps: regionOf(shown[`${name}_share`], 0.1, WIDTH, HEIGHT),
    mostly: regionOf(shown[`${name}_share`], 0.5, WIDTH, HEIGHT),
    at: shown.words[name],
  }));
});
const schools = computed(() =>
  (props.window?.schools ?? []).map((s) => {
    const left = x(s.across[0]!);
    const top = y(s.up[1]!);
    return {
      name: NAMES[s.school] ?? s.school,
      left,
      top,
      width: Math.max(x(s.across[1]!) - left, 6),
      height: Math.max(y(s.up[0]!) - top, 6),
    };
  }),
);
/** Where the name of each school stands: over its outline, beside it where the point would cross it. */
const overhead = computed(() =>
  schools.value.map((s) => ({
    x: Math.max(s.left + s.width / 2, 22),
    y: s.top > ROOM + 4 ? s.top - 4 : s.top + s.height + 12,
  })),
);
// as one text, so that the field is drawn anew only when one changes
const crossed = computed(() =>
  overhead.value
    .map(({ x: left, y: foot }) => {
      const across = Math.abs(point.value.x - left) < ARM + 4;
      return across && Math.abs(point.value.y - foot + 4) < ARM + 4 ? 'x' : '.';
    })
    .join(''),
);
const names = computed(() =>
  schools.value.map((s, n) => {
    if (crossed.value[n] !== 'x') return { ...overhead.value[n]!, anchor: 'middle' };
    const y = s.top + 8;
    return s.left > 44
      ? { x: s.left - 4, y, anchor: 'end' }
      : { x: s.left + s.width + 4, y, anchor: 'start' };
  }),
);
const MARKS: Record<string, string> = {
  clean: 'M-5 0 L-1.5 4 L5.5 -5',
  spiders: 'M-5 -5 L5 5 M5 -5 L-5 5',
  pooled: 'M-6 1 q3 -6 6 0 t6 0',
  specks: 'M-4 -3 h.1 M3 -4 h.1 M0 3 h.1 M5 2 h.1 M-5 4 h.1',
  dust: 'M-5 0 h10 M-3 -4 h6 M-3 4 h6',
  nothing: 'M-5 0 a5 5 0 1 0 10 0 a5 5 0 1 0 -10 0',
  tip_dry: 'M-5 4 L0 -5 L5 4 Z',
};

function stepped(axis: WindowAxis, value: number): number {
  const digits = Math.max(0, Math.ceil(-Math.log10(axis.step)));
  const inside = Math.min(axis.high, Math.max(axis.low, Math.round(value / axis.step) * axis.step));
  return Number(inside.toFixed(digits));
}
function under(event: PointerEvent): { across: number; up: number } {
  const box = svg.value!.querySelector('.catch')!.getBoundingClientRect();
  const across = (event.clientX - box.left) / box.width;
  const up = 1 - (event.clientY - box.top) / box.height;
  const { across: a, up: u } = props;
  return {
    across: stepped(a, a.low + across * (a.high - a.low)),
    up: stepped(u, u.low + up * (u.high - u.low)),
  };
}
function begin(event: PointerEvent): void {
  held.value = true;
  (event.currentTarget as Element).setPointerCapture(event.pointerId);
  emit('sketch', under(event));
}
function move(event: PointerEvent): void {
  if (held.value) emit('sketch', under(event));
}
function end(event: PointerEvent): void {
  if (!held.value) return;
  held.value = false;
  emit('change', under(event));
}
function nudge(event: KeyboardEvent): void {
  const by = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, 1],
    ArrowDown: [0, -1],
  }[event.key];
  if (!by) return;
  event.preventDefault();
  event.stopPropagation();
  const times = event.shiftKey ? 5 : 1;
  const { across, up, at } = props;
  emit('change', {
    across: stepped(across, at.across + by[0]! * across.step * times),
    up: stepped(up, at.up + by[1]! * up.step * times),
  });
}
const said = computed(
  () =>
    `${props.across.label} ${props.across.words(props.at.across)}, ${props.up.label} ${props.up.words(props.at.up)}: ${props.verdict}`,
);
</script>

<template>
  <figure
    class="window"
    data-test="window"
    :data-drawn="window ? 'yes' : undefined"
    :style="{ '--unit': unit }"
  >
    <!-- what is dragged lies on a sheet of its own, so that the contours are not drawn again -->
    <svg :viewBox="viewBox" aria-hidden="true">
      <clipPath :id="`${id}-clip`"><rect :width="WIDTH" :height="HEIGHT" /></clipPath>
      <g :clip-path="`url(#${id}-clip)`">
        <rect class="field" :width="WIDTH" :height="HEIGHT" />
        <path v-for="r in regions" :key="`p-${r.name}`" class="perhaps" :d="r.perhaps" />
        <path
          v-for="r in regions"
          :key="`m-${r.name}`"
          class="mostly"
          :class="r.name"
          :d="r.mostly"
        />
      </g>
      <g class="axes">
        <text
          v-for="t in across.ticks"
          :key="`x-${t}`"
          :x="x(t)"
          :y="HEIGHT + 16"
          text-anchor="middle"
        >
          {{ across.words(t) }}
        </text>
        <text v-for="t in up.ticks" :key="`y-${t}`" x="-7" :y="y(t) + 4" text-anchor="end">
          {{ up.words(t) }}
        </text>
        <text :x="WIDTH / 2" :y="HEIGHT + 34" text-anchor="middle">
          {{ across.label }}
        </text>
      </g>
      <g class="schools">
        <g v-for="(s, n) in schools" :key="s.name">
          <rect :x="s.left" :y="s.top" :width="s.width" :height="s.height" rx="6" />
          <text :x="names[n]!.x" :y="names[n]!.y" :text-anchor="names[n]!.anchor">
            {{ s.name }}
          </text>
        </g>
      </g>
      <g class="words">
        <template v-for="r in regions" :key="`w-${r.name}`">
          <text
            v-if="r.at"
            :transform="`translate(${Math.min(Math.max(r.at.across * WIDTH, 10), WIDTH - 10)} ${Math.min(Math.max((1 - r.at.up) * HEIGHT, 12), HEIGHT - 8)})${r.name === 'no_flow' && r.at.across < 0.12 ? ' rotate(-90)' : ''}`"
            text-anchor="middle"
          >
            {{ r.word }}
          </text>
        </template>
      </g>
    </svg>
    <svg ref="svg" class="over" :viewBox="viewBox" :aria-labelledby="`${id}-about`" role="group">
      <title :id="`${id}-about`">
        {{ up.label }} against {{ across.label }}: where it sprays clean, and which fault begins
        where
      </title>
      <g v-if="next" class="next" :transform="`translate(${x(next.across)} ${y(next.up)})`">
        <title>The next trial that would teach most</title>
        <circle r="7" />
        <text x="11" dy="0.36em">next</text>
      </g>
      <g class="marks">
        <g
          v-for="m in marks ?? []"
          :key="m.id"
          :transform="`translate(${x(m.across)} ${y(m.up)})`"
          :class="[m.look, { odd: m.odd }]"
        >
          <title>
            Tried at {{ across.words(m.across) }}, {{ up.words(m.up) }}: {{ m.look
            }}{{ m.odd ? '; does not fit the others' : '' }}
          </title>
          <path class="halo" :d="MARKS[m.look]" />
          <path :d="MARKS[m.look]" />
          <circle v-if="m.odd" r="10" />
        </g>
      </g>
      <g
        class="point"
        tabindex="0"
        role="slider"
        aria-orientation="horizontal"
        :aria-valuemin="across.low"
        :aria-valuemax="across.high"
        :aria-valuenow="at.across"
        :aria-valuetext="said"
        aria-label="Where it is set; arrows move it"
        :transform="`translate(${point.x} ${point.y})`"
        data-test="window-point"
        @keydown="nudge"
      >
        <circle class="ring" r="10" />
        <path d="M-24 0 H-10 M10 0 H24 M0 -24 V-10 M0 10 V24" />
      </g>
      <rect
        class="catch"
        :width="WIDTH"
        :height="HEIGHT"
        @pointerdown="begin"
        @pointermove="move"
        @pointerup="end"
        @pointercancel="held = false"
      />
    </svg>
  </figure>
</template>

<style scoped>
.window {
  position: relative;
  margin: 0;
}
.over {
  position: absolute;
  inset: 0;
  will-change: transform;
}
svg {
  display: block;
  width: 100%;
  height: auto;
  overflow: visible;
  touch-action: none;
}
.field {
  fill: var(--sheet);
  stroke: var(--edge);
}
.perhaps {
  fill: var(--ink);
  fill-opacity: 0.08;
}
.mostly {
  fill: var(--fill);
}
.spiders {
  --fill: color-mix(in srgb, var(--sheet), var(--ink) 25%);
}
.specks {
  --fill: color-mix(in srgb, var(--sheet), var(--ink) 16%);
}
.dust {
  --fill: color-mix(in srgb, var(--sheet), var(--ink) 20%);
}
.no_flow {
  --fill: color-mix(in srgb, var(--sheet), var(--ink) 42%);
}
text {
  font: max(10.5px, calc(12px * var(--unit))) var(--sans);
  fill: var(--ink-2);
  pointer-events: none;
}
.words text {
  font-weight: 680;
  font-size: max(12px, calc(12.5px * var(--unit)));
  fill: var(--ink);
}
.schools rect {
  fill: none;
  stroke: var(--ink);
  stroke-dasharray: 4 3;
}
.schools text {
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--sheet);
  stroke-width: 3px;
  stroke-linejoin: round;
}
.marks path {
  fill: none;
  stroke: var(--sign-stop);
  stroke-width: 2.6;
  stroke-linecap: round;
  stroke-linejoin: round;
}
.marks .clean path {
  stroke: var(--sign-clean);
}
.marks path.halo {
  stroke: var(--sheet);
  stroke-width: 5.5;
}
.marks circle {
  fill: none;
  stroke: var(--sign-mind);
  stroke-dasharray: 3 2;
}
.next circle {
  fill: var(--sheet);
  stroke: var(--sign-unknown);
  stroke-dasharray: 2 2;
}
.next text {
  fill: var(--ink-2);
  paint-order: stroke;
  stroke: var(--sheet);
  stroke-width: 3px;
}
.point {
  outline: none;
}
.point .ring {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 3;
}
.point path {
  stroke: var(--ink);
  stroke-width: 3;
}
.point:focus-visible .ring {
  stroke-width: 5;
}
.catch {
  fill: transparent;
  cursor: crosshair;
}
</style>
