<script setup lang="ts">
import { computed, ref } from 'vue';

import { usePicture } from '@/composables/use-picture';
import FittedPicture from '@/displays/FittedPicture.vue';

/** A picture on which places are marked by pointer, or by arrows and Enter. */
export interface Mark {
  x: number;
  y: number;
  label: string;
}
const props = defineProps<{
  src: string;
  alt: string;
  ratio: number;
  marks: Mark[];
  /** What the next mark is called; empty when none is wanted here. */
  next: string;
  over?: string | null;
  overShare?: number;
  /** Places around what is marked, in order. */
  ring?: { x: number; y: number }[];
}>();
const emit = defineEmits<{ mark: [x: number, y: number]; shown: [] }>();
const { url: shown, problem } = usePicture(() => props.src);
const { url: laidOver } = usePicture(() => props.over ?? null);
const at = ref<{ x: number; y: number } | null>(null);
const STEP = 0.01;

function pressed(event: PointerEvent): void {
  if (!props.next) return;
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
  emit('mark', (event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height);
}
function moved(event: KeyboardEvent): void {
  const by = event.shiftKey ? 5 * STEP : STEP;
  const ways: Record<string, [number, number]> = {
    ArrowLeft: [-by, 0],
    ArrowRight: [by, 0],
    ArrowUp: [0, -by],
    ArrowDown: [0, by],
  };
  const way = ways[event.key];
  if (way) {
    const from = at.value ?? { x: 0.5, y: 0.5 };
    const held = (v: number): number => Math.min(1, Math.max(0, v));
    at.value = { x: held(from.x + way[0]), y: held(from.y + way[1]) };
  } else if (event.key === 'Enter' && at.value && props.next) {
    emit('mark', at.value.x, at.value.y);
  } else {
    return;
  }
  event.preventDefault();
  event.stopPropagation();
}
const around = computed(() => (props.ring ?? []).map((m) => `${m.x},${m.y}`).join(' '));
const percent = (v: number): string => `${v * 100}%`;
</script>

<template>
  <FittedPicture :ratio="ratio">
    <div
      class="marked"
      :class="{ wanted: next }"
      tabindex="0"
      role="application"
      :aria-label="`${alt}. ${next ? `Arrows move, Enter marks ${next}.` : ''}`"
      @pointerdown="pressed"
      @keydown="moved"
      @blur="at = null"
    >
      <img v-if="shown" :src="shown" :alt="alt" draggable="false" @load="emit('shown')" />
      <p v-else-if="problem" class="note stop" role="alert">{{ problem }}</p>
      <img v-if="laidOver" class="over" :src="laidOver" alt="" :style="{ opacity: overShare }" />
      <svg v-if="ring?.length" class="ring" viewBox="0 0 1 1" preserveAspectRatio="none">
        <polygon v-for="line in ['edge', 'line']" :key="line" :class="line" :points="around" />
      </svg>
      <span
        v-for="(m, n) in ring"
        :key="n"
        class="mark dot"
        :style="{ left: percent(m.x), top: percent(m.y) }"
      />
      <span
        v-for="m in marks"
        :key="m.label"
        class="mark"
        :style="{ left: percent(m.x), top: percent(m.y) }"
        ><b>{{ m.label }}</b></span
      >
      <span
        v-if="at && next"
        class="mark aim"
        :style="{ left: percent(at.x), top: percent(at.y) }"
      />
    </div>
  </FittedPicture>
</template>

<style scoped>
.marked {
  position: absolute;
  inset: 0;
  user-select: none;
}
.wanted {
  cursor: crosshair;
}
.over {
  pointer-events: none;
}
.mark {
  position: absolute;
  width: 17px;
  height: 17px;
  transform: translate(-50%, -50%);
  border: 2px solid #fff;
  border-radius: 50%;
  box-shadow:
    0 0 0 2px #1a1a1a,
    inset 0 0 0 1px #1a1a1a;
  pointer-events: none;
}
.mark b {
  position: absolute;
  left: 16px;
  top: -16px;
  padding: 0 5px;
  border-radius: 4px;
  background: #1a1a1a;
  color: #fff;
  font-size: var(--f12);
}
.dot {
  width: 9px;
  height: 9px;
  border: 0;
  background: #fff;
}
.ring {
  pointer-events: none;
}
.ring polygon {
  fill: none;
  vector-effect: non-scaling-stroke;
}
.ring .edge {
  stroke: #1a1a1a;
  stroke-width: 4px;
}
.ring .line {
  stroke: #fff;
  stroke-width: 1.6px;
}
.aim {
  border-style: dashed;
}
</style>
