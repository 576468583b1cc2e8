<script setup lang="ts">
import { useElementSize, useMediaQuery } from '@vueuse/core';
import { computed, useTemplateRef } from 'vue';

import type { DayLane, DayRow } from '@/api/client';
import { clockTime, dayName } from '@/displays/format';

import { hoursWithin, ROOM_FOR_SMALL, sittings, type Sitting } from './tide';

/** The day as a tide table: what the hands do down the left, a strand for each piece beside it. */
const props = defineProps<{
  rows: DayRow[];
  lanes: DayLane[];
  /** "2026-11-28" and minutes from midnight: when the first day starts. */
  date: string;
  startMin: number;
  selected: number | null;
}>();
const emit = defineEmits<{ select: [index: number] }>();

const WIDE = 58;
const GAP = 10;
const NARROW = 30;
const BROAD = 120;
/** As wide as the hands' line reads well; what is left is for the strands. */
const HANDS = 620;
const box = useTemplateRef<HTMLElement>('box');
const { width: room } = useElementSize(box);
const step = computed(() => {
  const count = props.lanes.length;
  const least = count <= 5 ? WIDE + GAP : Math.max(NARROW, Math.floor((5 * (WIDE + GAP)) / count));
  return Math.max(least, Math.min(BROAD, Math.floor((room.value - HANDS) / count)));
});
const width = computed(() => step.value - (step.value > 44 ? GAP : 4));
const across = computed(() => props.lanes.length * step.value);
const finger = useMediaQuery('(pointer: coarse)');
const all = computed(() => sittings(props.rows, finger.value));

function at(minute: number): string {
  return clockTime(minute + props.startMin);
}
interface Drawn {
  key: string;
  y: number;
  height: number;
  colour: string;
  wet: boolean;
  bare: boolean;
}
function segments(lane: DayLane, sitting: Sitting): Drawn[] {
  const first = sitting.placed[0]!.row.from_min;
  const last = sitting.placed.at(-1)!.row.to_min;
  return lane.segments
    .filter((s) => s.to_min > first && s.from_min < last)
    .map((s) => {
      const y = sitting.y(Math.max(s.from_min, first));
      return {
        key: `${s.from_min}`,
        y,
        height: sitting.y(Math.min(s.to_min, last)) - y,
        colour: s.colour,
        wet: s.state === 'wet' || s.state === 'worked',
        bare: s.state === 'bare',
      };
    });
}
/** Hatching that is seen on the colour it lies on. */
function hatch(colour: string): string {
  const [r, g, b] = [1, 3, 5].map((i) => parseInt(colour.slice(i, i + 2), 16)) as [
    number,
    number,
    number,
  ];
  return 0.3 * r + 0.6 * g + 0.1 * b > 120 ? 'url(#day-wet-dark)' : 'url(#day-wet-light)';
}
function minutes(row: DayRow): string {
  return String(Math.max(1, Math.round(row.to_min - row.from_min)));
}
function move(event: KeyboardEvent, by: number): void {
  const rows = [
    ...(event.currentTarget as HTMLElement).closest('.strands')!.querySelectorAll('button'),
  ];
  const next = rows[rows.indexOf(event.currentTarget as HTMLButtonElement) + by];
  if (!next) return;
  event.preventDefault();
  event.stopPropagation();
  next.focus();
}
</script>

<template>
  <div ref="box" class="strands" data-test="strands">
    <svg width="0" height="0" aria-hidden="true" class="defs">
      <defs>
        <pattern
          v-for="[name, ink] in [
            ['light', '#fff'],
            ['dark', '#111'],
          ]"
          :id="`day-wet-${name}`"
          :key="name"
          width="7"
          height="7"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="1.6" height="7" :fill="ink" opacity="0.62" />
        </pattern>
      </defs>
    </svg>
    <div class="heads">
      <span class="hands">what the hands do</span>
      <span class="names" :style="{ width: `${across}px` }">
        <span
          v-for="lane in lanes"
          :key="`${lane.plan}${lane.copy_from}`"
          class="name"
          :class="{ slanted: step < WIDE }"
          :style="{ width: `${step}px` }"
          :title="lane.name"
          ><span class="piece">{{ lane.piece }}</span>
          <b v-if="lane.which">{{ lane.which }}</b></span
        >
      </span>
    </div>
    <section v-for="s in all" :key="s.day" :aria-label="dayName(date, s.day)">
      <h3 v-if="all.length > 1" class="night">{{ dayName(date, s.day) }}</h3>
      <div class="sitting" :style="{ height: `${s.height}px` }">
        <span
          v-for="hour in hoursWithin(s, startMin)"
          :key="hour"
          class="hour mono"
          :style="{ top: `${s.y(hour)}px` }"
          >{{ at(hour) }}</span
        >
        <ol class="rows">
          <li
            v-for="{ row, index, top, height } in s.placed"
            :key="index"
            :class="[row.kind, { selected: index === selected }]"
            :style="{ top: `${top}px`, height: `${height}px` }"
          >
            <component
              :is="row.kind === 'work' ? 'button' : 'div'"
              class="row"
              :type="row.kind === 'work' ? 'button' : undefined"
              :aria-pressed="row.kind === 'work' ? index === selected : undefined"
              :data-test="row.kind === 'work' ? `row-${index}` : undefined"
              @click="row.kind === 'work' && emit('select', index)"
              @keydown.down="row.kind === 'work' && move($event, 1)"
              @keydown.up="row.kind === 'work' && move($event, -1)"
            >
              <i v-if="row.colour" class="tab" :style="{ background: row.colour }" />
              <span class="words" :title="row.words">
                <span class="visually-hidden">{{ at(row.from_min) }} to {{ at(row.to_min) }}: </span
                >{{ row.words }}
                <small v-if="row.wish" class="wish">{{
                  row.wish === 'pinned' ? 'pinned' : 'left for later'
                }}</small>
                <small v-if="row.small && height >= ROOM_FOR_SMALL" class="how">{{
                  row.small
                }}</small>
              </span>
              <span class="mono minutes">{{ minutes(row) }}</span>
            </component>
          </li>
        </ol>
        <svg
          class="drawn"
          role="img"
          :aria-label="`What lies on each piece: ${lanes.map((l) => l.name).join(', ')}`"
          :width="across"
          :height="s.height"
        >
          <g
            v-for="(lane, n) in lanes"
            :key="`${lane.plan}${lane.copy_from}`"
            :transform="`translate(${n * step + (step - width)} 0)`"
          >
            <g v-for="d in segments(lane, s)" :key="d.key" class="segment">
              <rect :y="d.y" :width="width" :height="d.height" :fill="d.colour" />
              <rect
                v-if="d.wet"
                :y="d.y"
                :width="width"
                :height="d.height"
                :fill="hatch(d.colour)"
              />
            </g>
          </g>
        </svg>
      </div>
    </section>
    <p class="key">
      <svg width="26" height="12" aria-hidden="true">
        <rect width="26" height="12" fill="#8d8e8c" />
        <rect width="26" height="12" fill="url(#day-wet-dark)" />
      </svg>
      wet · plain: ready for the next step · the colour is what lies on the front
    </p>
  </div>
</template>

<style scoped>
.strands {
  display: grid;
  gap: 6px;
  align-content: start;
}
.defs {
  position: absolute;
}
.heads {
  position: sticky;
  top: 0;
  z-index: 2;
  display: flex;
  align-items: end;
  justify-content: space-between;
  padding: 0 0 4px 58px;
  background: var(--sheet);
  font-size: var(--f14);
  color: var(--ink-2);
}
.names {
  display: flex;
  flex: none;
}
.name {
  flex: none;
  padding-left: 10px;
  align-self: end;
  line-height: 1.2;
}
.piece {
  display: block;
  max-height: 2.4em;
  overflow: hidden;
  overflow-wrap: break-word;
  hyphens: auto;
}
.name.slanted {
  height: 104px;
  padding-left: 4px;
  writing-mode: vertical-rl;
  transform: rotate(180deg);
}
.slanted .piece {
  display: inline;
}
.night {
  padding: 12px 0 6px 58px;
}
.sitting {
  position: relative;
  display: flex;
}
.hour {
  position: absolute;
  left: 0;
  width: 46px;
  margin-top: -1px;
  font-size: var(--f14);
  color: var(--ink-2);
}
.rows {
  position: relative;
  flex: 1;
  min-width: 0;
  margin: 0 8px 0 58px;
  padding: 0;
  list-style: none;
  border-left: 3px solid var(--ink);
}
li {
  position: absolute;
  inset-inline: 0;
  border-top: 1px solid var(--hair);
}
.row {
  scroll-margin-top: 64px; /* the names of the strands lie over the top */
  position: relative;
  display: flex;
  align-items: flex-start;
  gap: 8px;
  width: 100%;
  height: 100%;
  padding: 2px 4px 0 26px;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  font-size: var(--f14);
  text-align: left;
  overflow: hidden;
}
button.row {
  cursor: pointer;
}
button.row:hover {
  background: var(--well);
}
button.row:focus-visible {
  outline-offset: -3px;
}
.selected > .row {
  background: var(--black);
  color: var(--on-black);
}
.tab {
  position: absolute;
  left: 0;
  top: 0;
  bottom: 1px;
  width: 16px;
  border-radius: 0 7px 7px 0;
  box-shadow: inset 0 0 0 1px rgb(0 0 0 / 14%);
  print-color-adjust: exact;
}
.words {
  flex: 1;
  min-width: 0;
  line-height: 1.3;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.work .words {
  font-weight: 640;
}
.clean .row,
.free .row,
.break .row {
  color: var(--ink-2);
  padding-top: 0;
}
.free .words,
.break .words {
  font-style: italic;
}
.how {
  display: block;
  font-weight: 400;
}
.selected small {
  color: inherit;
}
.wish {
  margin-left: 6px;
  padding: 0 6px;
  border-radius: 8px;
  background: var(--well-2);
  color: var(--ink);
  font-weight: 400;
}
.minutes {
  font-size: var(--f14);
}
.drawn {
  flex: none;
}
.segment rect {
  print-color-adjust: exact;
}
.key {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 6px 0 0 58px;
  font-size: var(--f14);
  color: var(--ink-2);
}
@media (pointer: coarse) {
  .heads {
    padding-left: 50px;
  }
}
</style>
