<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core';
import { computed, ref, useId, watch } from 'vue';

import { useUnit } from '@/composables/use-unit';

import { anglesOf, RADIUS, spotOf, tidy, type Angles } from './projection';
import { conePath } from './sectors';

export interface SkyStation extends Angles {
  id: string;
  spread: number;
  passes: number;
  colour: string;
  label: string;
}

export interface SkyLight extends Angles {
  id: string;
  softness: number;
  colour: string;
  label: string;
}
export interface SkySector extends Angles {
  id: string;
  halfAngle: number;
  label: string;
}

const props = defineProps<{
  stations: SkyStation[];
  selected: string | null;
  lights: SkyLight[];
  /** Whether the lights, not stations, are what is moved. */
  movesLights?: boolean;
  /** Parts of the sky from which nothing is sprayed. */
  blocked?: SkySector[];
  ghosts?: SkyStation[];
}>();
const emit = defineEmits<{
  select: [id: string];
  move: [id: string, to: Angles];
  done: [id: string];
}>();

const svg = ref<SVGSVGElement>();
const VIEW = { left: -116, top: -117, width: 232, height: 242 };
const viewBox = Object.values(VIEW).join(' ');
const unit = useUnit(svg, VIEW);
const byFinger = useMediaQuery('(pointer: coarse)');
/** What can be pressed of a station or sun, in units: 24 px with a mouse, 44 px under a finger. */
const target = computed(() => Math.max(13, (byFinger.value ? 22.2 : 12.2) * unit.value));
const body = computed(() => Math.max(8, 9.5 * unit.value));
const held = ref<string | null>(null);
const SPOKES = [0, 45, 90, 135];
const RINGS = [60, 30, -30, -60];

/**
 * What lies on top: the selected one. It stays as it is while the keyboard is on the disc, for an
 * element that moves in its order as it gets the focus sends Tab back to where it came from.
 */
const top = ref(props.selected);
const within = ref(false);
watch([() => props.selected, within], () => {
  if (!within.value) top.value = props.selected;
});
function left(event: FocusEvent): void {
  within.value = svg.value?.contains(event.relatedTarget as Node | null) ?? false;
}
function topLast<T extends { id: string }>(all: T[]): T[] {
  return [...all.filter((one) => one.id !== top.value), ...all.filter((o) => o.id === top.value)];
}
const drawn = computed(() =>
  topLast(props.stations.map((s) => ({ ...s, at: spotOf(s), size: (s.spread / 180) * RADIUS }))),
);
const suns = computed(() =>
  topLast(
    props.lights.map((l) => ({
      ...l,
      at: spotOf(l),
      size: Math.max(6, (l.softness / 180) * RADIUS),
    })),
  ),
);
const cones = computed(() =>
  (props.blocked ?? []).map((s) => ({ ...s, path: conePath(s, s.halfAngle) })),
);
const hatch = useId();

function ink(hex: string): string {
  const [r, g, b] = [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16));
  return 0.299 * r! + 0.587 * g! + 0.114 * b! > 140 ? '#1b1b1b' : '#f4f4f4';
}

function spotUnder(event: PointerEvent): { x: number; y: number } {
  const point = new DOMPoint(event.clientX, event.clientY);
  const at = point.matrixTransform(svg.value!.getScreenCTM()!.inverse());
  return { x: at.x, y: at.y };
}

function press(event: PointerEvent, id: string): void {
  if (event.button !== 0) return;
  held.value = id;
  svg.value?.setPointerCapture(event.pointerId);
  emit('select', id);
}

function drag(event: PointerEvent): void {
  if (!held.value) return;
  const to = anglesOf(spotUnder(event));
  emit('move', held.value, { azimuth: tidy(to.azimuth), elevation: tidy(to.elevation) });
}

function release(): void {
  if (!held.value) return;
  const id = held.value;
  held.value = null;
  emit('done', id);
}

/** Arrow keys nudge by 5°: up and down on the disc's own sense are higher and lower. */
function nudge(event: KeyboardEvent, id: string, at: Angles): void {
  const step = event.shiftKey ? 1 : 5;
  const by: Record<string, [number, number]> = {
    ArrowLeft: [step, 0],
    ArrowRight: [-step, 0],
    ArrowUp: [0, step],
    ArrowDown: [0, -step],
  };
  const d = by[event.key];
  if (!d) return;
  event.preventDefault();
  event.stopPropagation();
  emit('select', id);
  emit('move', id, {
    azimuth: (at.azimuth + d[0] + 360) % 360,
    elevation: Math.min(90, Math.max(-90, at.elevation + d[1])),
  });
  emit('done', id);
}
</script>

<template>
  <svg
    ref="svg"
    class="sky"
    :viewBox="viewBox"
    :style="{ '--unit': unit }"
    role="group"
    aria-label="The sky above the piece, seen from above, front at the bottom"
    @pointermove="drag"
    @pointerup="release"
    @pointercancel="release"
    @focusin="within = true"
    @focusout="left"
  >
    <circle :r="RADIUS" class="below" />
    <circle :r="RADIUS / 2" class="above" />
    <defs>
      <pattern
        :id="hatch"
        width="5"
        height="5"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <line x1="0" y1="0" x2="0" y2="5" class="hatching" />
      </pattern>
    </defs>
    <path
      v-for="c in cones"
      :key="c.id"
      :d="c.path"
      fill-rule="evenodd"
      class="blocked"
      :fill="`url(#${hatch})`"
    >
      <title>{{ c.label }}: nothing is sprayed from here</title>
    </path>
    <g class="lines">
      <line
        v-for="a in SPOKES"
        :key="a"
        :x1="spotOf({ azimuth: a, elevation: -90 }).x"
        :y1="spotOf({ azimuth: a, elevation: -90 }).y"
        :x2="spotOf({ azimuth: a + 180, elevation: -90 }).x"
        :y2="spotOf({ azimuth: a + 180, elevation: -90 }).y"
      />
      <circle v-for="e in RINGS" :key="e" :r="(RADIUS * (90 - e)) / 180" />
      <circle :r="RADIUS / 2" class="horizon" />
      <circle :r="RADIUS" class="rim" />
    </g>
    <g class="words" aria-hidden="true">
      <text x="0" y="118">front</text>
      <text x="0" y="-104">back</text>
      <text x="38" y="-38" class="left">level</text>
      <text x="64" y="-60" class="left">below</text>
      <path d="M-5 101 L5 101 L0 106 Z" />
    </g>

    <g v-for="g in ghosts ?? []" :key="g.id" class="ghost" aria-hidden="true">
      <circle :cx="spotOf(g).x" :cy="spotOf(g).y" r="5" :fill="g.colour" />
    </g>

    <g
      v-for="l in suns"
      :key="l.id"
      class="sun"
      :class="{ moves: movesLights, selected: movesLights && l.id === selected }"
      :transform="`translate(${l.at.x} ${l.at.y})`"
      :tabindex="movesLights ? 0 : -1"
      :role="movesLights ? 'button' : 'img'"
      :aria-pressed="movesLights ? l.id === selected : undefined"
      :aria-label="`${l.label}: azimuth ${tidy(l.azimuth)}°, elevation ${tidy(l.elevation)}°, softness ± ${tidy(l.softness)}°`"
      :data-test="`sun-${l.id}`"
      @pointerdown="movesLights && press($event, l.id)"
      @focus="movesLights && emit('select', l.id)"
      @keydown="movesLights && nudge($event, l.id, l)"
    >
      <circle :r="l.size" class="glow" />
      <circle :r="target" class="target" />
      <circle r="6.5" class="disc" />
      <circle r="3.4" class="tint" :fill="l.colour" />
      <line
        v-for="t in 8"
        :key="t"
        :x1="Math.cos((t * Math.PI) / 4) * 9"
        :y1="Math.sin((t * Math.PI) / 4) * 9"
        :x2="Math.cos((t * Math.PI) / 4) * 12"
        :y2="Math.sin((t * Math.PI) / 4) * 12"
      />
    </g>

    <g
      v-for="s in drawn"
      :key="s.id"
      class="station"
      :class="{ selected: s.id === selected, held: s.id === held }"
      :transform="`translate(${s.at.x} ${s.at.y})`"
      tabindex="0"
      role="button"
      :aria-pressed="s.id === selected"
      :aria-label="`${s.label}: azimuth ${tidy(s.azimuth)}°, elevation ${tidy(s.elevation)}°, sweep ± ${tidy(s.spread)}°, ${s.passes} passes`"
      :data-test="`station-${s.id}`"
      @pointerdown="press($event, s.id)"
      @focus="emit('select', s.id)"
      @keydown="nudge($event, s.id, s)"
    >
      <circle :r="s.size" class="sweep" :fill="s.colour" />
      <circle :r="target" class="target" />
      <circle :r="body" class="body" :fill="s.colour" />
      <text :fill="ink(s.colour)" dy="0.36em">{{ s.passes }}</text>
    </g>
  </svg>
</template>

<style scoped>
.sky {
  display: block;
  width: 100%;
  touch-action: none;
  user-select: none;
  overflow: visible;
}
.below {
  fill: var(--well-2);
}
.above {
  fill: var(--sheet);
}
.lines line,
.lines circle {
  fill: none;
  stroke: var(--hair);
  stroke-width: 0.5;
}
.lines circle {
  stroke-dasharray: 1.5 2.5;
}
.lines .horizon,
.lines .rim {
  stroke: var(--edge);
  stroke-width: 0.8;
  stroke-dasharray: none;
}
.words text {
  font: max(8.4px, calc(12px * var(--unit))) var(--sans);
  fill: var(--ink-2);
  text-anchor: middle;
}
.words text.left {
  text-anchor: start;
}
.words path {
  fill: var(--ink-2);
}
.ghost circle {
  stroke: var(--edge);
  stroke-width: 0.8;
  opacity: 0.55;
}
.sun .glow {
  fill: none;
  stroke: var(--ink);
  stroke-width: 0.6;
  stroke-dasharray: 2 2;
}
.sun .disc {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.4;
}
.sun line {
  stroke: var(--ink);
  stroke-width: 1.4;
}
.sun:not(.moves) {
  pointer-events: none;
  opacity: 0.75;
}
.sun.moves,
.station {
  cursor: grab;
}
.sun.moves:focus-visible,
.station:focus-visible {
  outline: none;
}
.sun.moves:focus-visible .target {
  stroke: var(--black);
  stroke-width: 1.4;
  stroke-dasharray: 2 1.5;
}
.sun.selected .disc {
  stroke-width: 2.6;
}
.sun.selected .glow {
  stroke-width: 1.1;
}
.sun .tint {
  stroke: var(--edge);
  stroke-width: 0.5;
}
.blocked {
  stroke: var(--hatch);
  stroke-width: 0.8;
}
.hatching {
  stroke: var(--hatch);
  stroke-width: 1.5;
}
.sweep {
  opacity: 0.34;
  stroke: var(--edge);
  stroke-width: 0.5;
  pointer-events: none;
}
.target {
  fill: transparent;
}
.body {
  stroke: var(--edge);
  stroke-width: 1;
}
.station text {
  font: 600 max(9.6px, calc(12px * var(--unit))) var(--sans);
  text-anchor: middle;
  pointer-events: none;
}
.station.selected .body {
  stroke: var(--black);
  stroke-width: 2.4;
}
.station.selected .sweep {
  stroke: var(--black);
  stroke-width: 0.9;
  opacity: 0.5;
}
.station:focus-visible .target {
  stroke: var(--black);
  stroke-width: 1.4;
  stroke-dasharray: 2 1.5;
}
</style>
