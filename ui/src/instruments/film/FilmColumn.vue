<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core';
import { computed } from 'vue';

import type { CoatWorkings, Finding, Layer as LayerView, Step } from '@/api/client';
import { decimals, stepColour, stepWords } from '@/displays/format';
import StatusSign from '@/displays/StatusSign.vue';

const props = defineProps<{
  coats: Step[];
  workings: CoatWorkings[] | null;
  layers: Map<string, LayerView>;
  findings: Finding[];
  surface: string;
  after: number;
}>();
const emit = defineEmits<{ select: [count: number]; move: [from: number, to: number] }>();

const NO_FILM = 38;
const FINGER = 44;
const WITH_SIGN = 62;
const FEW = 6;
const MANY = 10;

interface Layer {
  coat: Step;
  index: number;
  height: number;
  layer: LayerView | null;
  sign: 'mind' | 'stop' | null;
}

const byFinger = useMediaQuery('(pointer: coarse)');
const narrow = useMediaQuery('(max-width: 1100px)');
/** Of the cut; where the column is narrow its names come first. */
const width = computed(() => (narrow.value ? 56 : 96));
/** Many steps are drawn to a smaller scale, all by the same one. */
const scale = computed(() => {
  if (props.coats.length <= FEW) return { least: 58, perRootUm: 34 };
  return props.coats.length <= MANY ? { least: 46, perRootUm: 18 } : { least: 39, perRootUm: 12 };
});
const layers = computed<Layer[]>(() =>
  props.coats
    .map((coat, i) => {
      const layer = props.layers.get(coat.id) ?? null;
      const um = layer?.dry_um ?? 1;
      const sign = signOf(coat);
      return {
        coat,
        index: i + 1,
        height: Math.max(
          byFinger.value ? FINGER : 0,
          coat.off || !coat.paint
            ? NO_FILM
            : Math.max(
                sign ? WITH_SIGN : scale.value.least,
                Math.round(scale.value.perRootUm * Math.sqrt(um)),
              ),
        ),
        layer,
        sign,
      };
    })
    .reverse(),
);

/** The gravest of what the spray model and the rules of order say of a step. */
function signOf(coat: Step): 'mind' | 'stop' | null {
  if (coat.off) return null;
  const found = props.findings.filter((f) => f.step === coat.id).map((f) => f.sign);
  const verdict = props.workings?.find((w) => w.id === coat.id)?.spray.verdict;
  if (verdict && verdict !== 'clean') found.push(verdict);
  return found.includes('stop') ? 'stop' : found.length ? 'mind' : null;
}

/** The surface of a layer under a lens: a slow wave, the same every time. */
function skin(seed: number): string {
  const points = Array.from({ length: 25 }, (_, i) => {
    const x = (i / 24) * width.value;
    const y = 1.6 * Math.sin(i * 0.9 + seed * 2.1) + 1.1 * Math.sin(i * 1.7 + seed * 5.3);
    return `${x.toFixed(1)} ${y.toFixed(2)}`;
  });
  return `M${points.join(' L')}`;
}

function cut(seed: number, height: number): string {
  return `${skin(seed)} L${width.value} ${height + 4} L0 ${height + 4} Z`;
}

let dragged = 0;
function drop(index: number): void {
  if (dragged && dragged !== index) emit('move', dragged, index);
  dragged = 0;
}
</script>

<template>
  <div
    class="column"
    role="listbox"
    aria-label="Film: the coats as one cut through the paint, newest on top"
    :style="{ '--cut': `${width}px` }"
  >
    <button
      v-for="{ coat, index, height, layer, sign } in layers"
      :key="coat.id"
      type="button"
      class="layer"
      role="option"
      :class="{ chosen: index === after, later: index > after, off: coat.off, still: !coat.paint }"
      :aria-selected="index === after"
      :title="coat.name"
      :style="{ height: `${height}px` }"
      draggable="true"
      :data-test="`layer-${index}`"
      @click="emit('select', index)"
      @dragstart="dragged = index"
      @dragover.prevent
      @drop.prevent="drop(index)"
    >
      <svg
        v-if="!coat.paint || coat.off"
        :width="width"
        :height="height"
        aria-hidden="true"
        class="none"
      >
        <line x1="0" :x2="width" :y1="height / 2" :y2="height / 2" />
      </svg>
      <svg v-else :width="width" :height="height" aria-hidden="true">
        <defs>
          <clipPath :id="`cut-${coat.id}`"><path :d="cut(index, height)" /></clipPath>
        </defs>
        <g :clip-path="`url(#cut-${coat.id})`">
          <rect
            x="0"
            y="-6"
            :width="width / 2"
            :height="height + 12"
            :fill="layer?.over_dark ?? stepColour(coat)"
          />
          <rect
            :x="width / 2"
            y="-6"
            :width="width / 2"
            :height="height + 12"
            :fill="layer?.over_light ?? stepColour(coat)"
          />
        </g>
        <path :d="skin(index)" class="skin" :class="{ open: layer?.transparent }" />
      </svg>
      <span class="words">
        <span class="name">{{ coat.name }}</span>
        <span class="small number"
          >{{ stepWords(coat) }}<template v-if="coat.off">, left out</template
          ><template v-else-if="coat.paint && layer">
            · {{ decimals(layer.dry_um, 1) }} µm</template
          ></span
        >
        <StatusSign v-if="sign" :sign="sign" />
      </span>
    </button>
    <button
      type="button"
      class="layer bare"
      role="option"
      :aria-selected="after === 0"
      :class="{ chosen: after === 0 }"
      @click="emit('select', 0)"
    >
      <svg :width="width" height="40" aria-hidden="true">
        <path :d="cut(0, 40)" :fill="props.surface" />
        <path :d="skin(0)" class="skin" />
      </svg>
      <span class="words"><span class="small">bare surface</span></span>
    </button>
  </div>
</template>

<style scoped>
.column {
  display: flex;
  flex-direction: column;
}
.layer {
  position: relative;
  display: flex;
  align-items: stretch;
  gap: 0;
  width: 100%;
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.layer.bare {
  height: 44px;
}
.layer svg {
  flex: none;
  overflow: visible;
  position: relative;
  z-index: 1;
}
.skin {
  fill: none;
  stroke: #fafafa;
  stroke-width: 1.6;
}
.skin.open {
  stroke-dasharray: 3 3;
}
.later svg {
  opacity: 0.28;
}
.none line {
  stroke: var(--hair);
  stroke-width: 2;
  stroke-dasharray: 6 5;
}
.off .name {
  text-decoration: line-through;
  font-weight: 400;
}
.still .name {
  font-weight: 400;
}
.later .words {
  color: var(--ink-2);
}
.words {
  display: flex;
  flex-direction: column;
  justify-content: center;
  flex: 1;
  min-width: 0;
  margin: 0;
  padding: 2px 8px 2px 12px;
  border-radius: 0 8px 8px 0;
}
.name {
  font-weight: 560;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  line-height: 1.2;
}
.words .small {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.chosen .words {
  background: var(--black);
  color: var(--on-black);
}
.chosen .words :deep(*) {
  color: inherit;
}
.chosen .name {
  font-weight: 700;
}
.layer:hover:not(.chosen) .words {
  background: var(--well);
}
.chosen::after {
  content: '';
  position: absolute;
  left: calc(var(--cut) - 8px);
  top: calc(50% - 8px);
  z-index: 2;
  border: 8px solid transparent;
  border-left: 0;
  border-right: 9px solid var(--black);
}
.layer:focus-visible {
  outline-offset: -3px;
  z-index: 2;
}
</style>
