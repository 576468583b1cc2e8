<script setup lang="ts">
import { computed, ref } from 'vue';

import { useUnit } from '@/composables/use-unit';

/**
 * How to hold the piece for a level airbrush: from above (turn) and from the side (tip). The
 * airbrush comes from below in the left sketch and from the left in the right one.
 */
const props = defineProps<{
  azimuth: number;
  elevation: number;
  words: string;
  /** Without words, where they stand beside it. */
  bare?: boolean;
}>();

const svg = ref<SVGSVGElement>();
const unit = useUnit(svg, { width: 300, height: 122 });

/** Counter-clockwise seen from above; SVG turns clockwise, its y runs down. */
const turn = computed(() => -props.azimuth);
/** The head comes toward the airbrush on the left for a light from above. */
const tip = computed(() => -props.elevation);
</script>

<template>
  <figure class="hold" :class="{ bare }">
    <svg ref="svg" viewBox="0 0 300 122" role="img" :aria-label="words" :style="{ '--unit': unit }">
      <g transform="translate(84 48)">
        <circle r="27" class="plate" />
        <g :transform="`rotate(${turn})`">
          <ellipse rx="15" ry="9" class="body" />
          <circle r="5.5" class="head" />
          <path d="M-6 27 L6 27 L0 34 Z" class="mark" />
          <path d="M0 9 L0 22" class="face" />
        </g>
        <g class="brush" transform="translate(0 66) rotate(-90)">
          <path d="M-3 -2.6 L18 -3.6 L18 3.6 L-3 2.6 Z" />
          <path d="M18 0 L23 0" class="spray" />
        </g>
        <text v-if="!bare" x="-64" y="-30">from above</text>
      </g>
      <g transform="translate(226 58)">
        <g :transform="`rotate(${tip})`">
          <path d="M-5 20 L5 20 L3.4 40 L-3.4 40 Z" class="handle" />
          <rect x="-17" y="15" width="34" height="5" class="base" />
          <path d="M-9 15 L-6 -8 L6 -8 L9 15 Z" class="body" />
          <circle cy="-15" r="7" class="head" />
          <path d="M-6 -15 L-11 -14" class="face" />
        </g>
        <g class="brush" transform="translate(-70 0)">
          <path d="M-3 -2.6 L18 -3.6 L18 3.6 L-3 2.6 Z" />
          <path d="M18 0 L26 0" class="spray" />
        </g>
        <text v-if="!bare" x="-70" y="-30">from the side</text>
      </g>
    </svg>
    <figcaption v-if="!bare">{{ words }}</figcaption>
  </figure>
</template>

<style scoped>
.hold {
  margin: 0;
  display: grid;
  gap: 4px;
}
svg {
  width: 100%;
  background: var(--well);
  border-radius: 3px;
}
.bare svg {
  height: 100%;
}
figcaption::first-letter {
  text-transform: uppercase;
}
figcaption {
  min-height: 2.8em;
}
.plate {
  fill: var(--well-2);
  stroke: var(--edge);
}
.body {
  fill: var(--hair);
  stroke: var(--ink);
  stroke-width: 1.2;
}
.head {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 1.2;
}
.base,
.handle {
  fill: var(--well-2);
  stroke: var(--ink);
  stroke-width: 1;
}
.mark {
  fill: var(--ink);
}
.face {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.brush path {
  fill: var(--ink);
}
.brush .spray {
  stroke: var(--ink);
  stroke-width: 1.6;
  stroke-dasharray: 2 2;
}
text {
  font: max(11px, calc(12px * var(--unit))) var(--sans);
  fill: var(--ink-2);
}
</style>
