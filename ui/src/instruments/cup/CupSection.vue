<script setup lang="ts">
import { computed, ref } from 'vue';

import type { CoatWorkings } from '@/api/client';
import { useUnit } from '@/composables/use-unit';
import { decimals } from '@/displays/format';

type Poured = CoatWorkings['cup']['poured'][number];
const props = defineProps<{ poured: Poured[]; loads: number }>();

const svg = ref<SVGSVGElement>();
const unit = useUnit(svg, { width: 148, height: 186 });
const BOTTOM = 188;
const TOP = 14;
const HALF_BOTTOM = 42;
const HALF_TOP = 66;
const MIDDLE = 84;

const ml = computed(() => props.poured.reduce((n, p) => n + p.ml, 0));
const size = computed(() => {
  // as large as lets every drop have its dot
  for (let r = 8; r > 2.2; r -= 0.4) if (place(r)) return r;
  return 2.2;
});

interface Dot {
  x: number;
  y: number;
  poured: Poured;
  first: boolean;
}

function half(y: number): number {
  return HALF_BOTTOM + ((BOTTOM - y) / (BOTTOM - TOP)) * (HALF_TOP - HALF_BOTTOM);
}

/** Dots from the foot of the cup up, a fresh row for each thing poured; null when they do not fit. */
function place(r: number): Dot[] | null {
  const gap = r * 2.35;
  const dots: Dot[] = [];
  let y = BOTTOM - r - 5;
  for (const poured of props.poured) {
    let left = poured.drops;
    let first = true;
    while (left > 0) {
      if (y < TOP + 22) return null;
      const row = Math.max(1, Math.min(left, Math.floor(((half(y) - 6) * 2) / gap)));
      for (let i = 0; i < row; i += 1) {
        dots.push({
          x: MIDDLE + (i - (row - 1) / 2) * gap,
          y,
          poured,
          first: first && i === row - 1,
        });
      }
      first = false;
      left -= row;
      y -= gap * 0.98;
    }
  }
  return dots;
}

const dots = computed(() => place(size.value) ?? []);
const level = computed(() => Math.min(...dots.value.map((d) => d.y), BOTTOM) - size.value - 4);
function outline(y: number): string {
  return `M${MIDDLE - half(TOP)} ${TOP} L${MIDDLE - HALF_BOTTOM} ${BOTTOM - 8} Q${MIDDLE - HALF_BOTTOM + 1} ${BOTTOM} ${MIDDLE - HALF_BOTTOM + 9} ${BOTTOM} L${MIDDLE + HALF_BOTTOM - 9} ${BOTTOM} Q${MIDDLE + HALF_BOTTOM - 1} ${BOTTOM} ${MIDDLE + HALF_BOTTOM} ${BOTTOM - 8} L${MIDDLE + half(y)} ${y}`;
}
const said = computed(() => props.poured.map((p) => `${p.amount} ${p.what}`).join(', then '));
</script>

<template>
  <figure class="cup">
    <svg
      ref="svg"
      :style="{ '--unit': unit }"
      viewBox="10 8 148 186"
      role="img"
      :aria-label="`Cup, in pouring order: ${said}; ${decimals(ml, 1)} ml`"
    >
      <path
        class="fill"
        :d="`M${MIDDLE - half(level)} ${level} L${MIDDLE + half(level)} ${level} L${MIDDLE + HALF_BOTTOM} ${BOTTOM - 6} Q${MIDDLE + HALF_BOTTOM - 1} ${BOTTOM} ${MIDDLE + HALF_BOTTOM - 9} ${BOTTOM} L${MIDDLE - HALF_BOTTOM + 9} ${BOTTOM} Q${MIDDLE - HALF_BOTTOM + 1} ${BOTTOM} ${MIDDLE - HALF_BOTTOM} ${BOTTOM - 6} Z`"
      />
      <circle
        v-for="(d, i) in dots"
        :key="i"
        :cx="d.x"
        :cy="d.y"
        :r="size"
        class="dot"
        :class="d.poured.role"
        :fill="d.poured.colour ?? undefined"
      />
      <path class="wall" :d="outline(TOP)" />
      <line
        class="tick"
        :x1="MIDDLE - half(level)"
        :x2="MIDDLE - half(level) + 10"
        :y1="level"
        :y2="level"
      />
      <text class="level" :x="MIDDLE" :y="TOP + 12">{{ decimals(ml, 1) }} ml</text>
    </svg>
    <figcaption class="small">
      Drops by each bottle's own size<template v-if="loads > 1">; mixed {{ loads }} times</template
      >.
    </figcaption>
  </figure>
</template>

<style scoped>
.cup {
  margin: 0;
}
svg {
  width: 100%;
  max-width: 400px;
  display: block;
}
.fill {
  fill: var(--well);
}
.wall {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3;
  stroke-linecap: round;
}
.dot {
  stroke: var(--ink);
  stroke-width: 0.9;
}
.dot.thinner {
  fill: var(--sheet);
}
.dot.flow_aid,
.dot.retarder {
  fill: var(--hair);
}
.tick {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.level {
  font: max(13px, calc(12px * var(--unit))) var(--mono);
  text-anchor: middle;
  fill: var(--ink-2);
}
</style>
