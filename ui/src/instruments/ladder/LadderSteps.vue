<script setup lang="ts">
import { computed, ref } from 'vue';

import type { RungOut } from '@/api/client';
import { useUnit } from '@/composables/use-unit';
import { decimals, share } from '@/displays/format';

/**
 * The ladder: each rung rises by the lightness it gains and is as wide as the share of the surface
 * it still shows; what is wrong with a step is told on it.
 */
const props = defineProps<{ rungs: RungOut[] }>();
const WIDTH = 560;
const HEIGHT = 250;
const FOOT = 24;
const svg = ref<SVGSVGElement>();
const unit = useUnit(svg, { width: WIDTH, height: HEIGHT });
const LEAST_WIDTH = 46;

interface Tread {
  rung: RungOut;
  x: number;
  y: number;
  width: number;
  wrong: boolean;
}
const treads = computed<Tread[]>(() => {
  const all = props.rungs;
  const lights = all.map((r) => r.lightness);
  const low = Math.min(...lights) - 6;
  const high = Math.max(...lights) + 4;
  const covers = all.map((r) => Math.max(r.cover, 0.08));
  const whole = covers.reduce((a, b) => a + b, 0);
  const spare = WIDTH - LEAST_WIDTH * all.length;
  let x = 0;
  return all.map((rung, i) => {
    const width = LEAST_WIDTH + (spare * covers[i]!) / whole;
    const y = FOOT + ((high - rung.lightness) / (high - low)) * (HEIGHT - 2 * FOOT);
    const tread = { rung, x, y, width, wrong: rung.notes.length > 0 };
    x += width;
    return tread;
  });
});
</script>

<template>
  <svg
    ref="svg"
    :style="{ '--unit': unit }"
    :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
    role="img"
    aria-label="The ladder: rungs rise by lightness, width is the share each covers"
  >
    <g v-for="(t, i) in treads" :key="i">
      <rect :x="t.x" :y="t.y" :width="t.width" :height="HEIGHT - t.y" :fill="t.rung.colour" />
      <rect
        v-if="t.rung.after_all !== t.rung.colour"
        :x="t.x"
        :y="HEIGHT - 16"
        :width="t.width"
        height="16"
        :fill="t.rung.after_all"
      />
      <line :x1="t.x" :x2="t.x + t.width" :y1="t.y" :y2="t.y" :class="{ wrong: t.wrong }" />
      <line
        v-if="i"
        :x1="t.x"
        :x2="t.x"
        :y1="Math.min(t.y, treads[i - 1]!.y)"
        :y2="Math.max(t.y, treads[i - 1]!.y)"
        class="riser"
      />
      <text :x="t.x + t.width / 2" :y="t.y - 7" text-anchor="middle">
        {{ decimals(t.rung.lightness, 0) }} L*
      </text>
      <title>
        Rung {{ i + 1 }}: {{ decimals(t.rung.lightness, 0) }} L*, covers {{ share(t.rung.cover) }}
      </title>
    </g>
  </svg>
</template>

<style scoped>
svg {
  width: 100%;
  background: var(--card);
}
line {
  stroke: #f4f4f4;
  stroke-width: 2;
}
line.wrong {
  stroke: #111;
  stroke-width: 4;
  stroke-dasharray: 7 4;
}
.riser {
  stroke: #111;
  stroke-width: 1.5;
  stroke-dasharray: none;
}
text {
  font: max(13px, calc(12px * var(--unit))) var(--sans);
  fill: #111;
}
</style>
