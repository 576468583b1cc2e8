<script setup lang="ts">
import { computed, ref, useId, watch } from 'vue';

import NumberField from '@/fields/NumberField.vue';

const props = defineProps<{
  label: string;
  value: number;
  min: number;
  max: number;
  step: number;
  /** From where to where it sprays clean; an end is null where none was found. */
  clean: [number | null, number | null] | null;
  shown: (value: number) => { first: string; second?: string };
  /** How it is typed: the unit, how many of it make one of the value's own, decimals. */
  typed: { unit: string; factor: number; digits: number };
}>();
const emit = defineEmits<{ sketch: [value: number]; change: [value: number] }>();

const id = useId();
const here = ref(props.value);
watch(
  () => props.value,
  (now) => (here.value = now),
);

// a square root scale gives the low end, where airbrushes live, its room
const STEPS = 1000;
function at(value: number): number {
  const t = (value - props.min) / (props.max - props.min);
  return Math.sqrt(Math.min(1, Math.max(0, t)));
}
function back(position: number): number {
  const raw = props.min + (props.max - props.min) * position * position;
  const digits = Math.max(0, Math.ceil(-Math.log10(props.step)));
  const stepped = Math.round(raw / props.step) * props.step;
  return Number(Math.min(props.max, Math.max(props.min, stepped)).toFixed(digits));
}
const ends = computed(() =>
  props.clean ? { from: props.clean[0] ?? props.min, to: props.clean[1] ?? props.max } : null,
);
const band = computed(() => {
  if (!ends.value) return null;
  const from = at(ends.value.from);
  const to = at(ends.value.to);
  return { left: `${from * 100}%`, width: `${Math.max(to - from, 0.006) * 100}%` };
});
const inside = computed(
  () => ends.value !== null && here.value >= ends.value.from && here.value <= ends.value.to,
);
/** The same number as it is typed. */
function shownAs(value: number): number {
  return Number((value * props.typed.factor).toFixed(props.typed.digits));
}
function type(value: number): void {
  const own = Number((value / props.typed.factor).toFixed(4));
  here.value = Math.min(props.max, Math.max(props.min, own));
  emit('change', here.value);
}
const words = computed(() => props.shown(here.value));
const cleanWords = computed(() => {
  if (!props.clean) return 'nowhere while the other settings stay';
  const [low, high] = props.clean.map((v) => (v === null ? null : props.shown(v).first));
  if (low && high) return `from ${low} to ${high}`;
  if (low) return `from ${low} up`;
  return high ? `up to ${high}` : 'wherever it is set';
});

function slide(event: Event): void {
  here.value = back(Number((event.target as HTMLInputElement).value) / STEPS);
  emit('sketch', here.value);
}
function nudge(event: KeyboardEvent): void {
  const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
  if (!by) return;
  event.preventDefault();
  const digits = Math.max(0, Math.ceil(-Math.log10(props.step)));
  const next = Math.min(props.max, Math.max(props.min, here.value + by * props.step));
  here.value = Number(next.toFixed(digits));
  emit('change', here.value);
}
</script>

<template>
  <div class="scale">
    <label :for="id">{{ label }}</label>
    <span class="typed">
      <small v-if="words.second" class="number">{{ words.second }}</small>
      <NumberField
        :label="`${label}, typed`"
        hide-label
        :model-value="shownAs(here)"
        :min="shownAs(min)"
        :max="shownAs(max)"
        :step="shownAs(step)"
        :digits="typed.digits"
        :unit="typed.unit"
        @update:model-value="type"
      />
    </span>
    <div class="track" :title="`Clean ${cleanWords}, from the model`">
      <div class="rail" />
      <div v-if="band" class="band" :style="band" />
      <div class="mark" :class="{ outside: !inside }" :style="{ left: `${at(here) * 100}%` }" />
      <input
        :id="id"
        type="range"
        min="0"
        :max="STEPS"
        step="1"
        :value="at(here) * STEPS"
        :aria-valuetext="`${words.first}; clean ${cleanWords}`"
        @input="slide"
        @change="emit('change', here)"
        @keydown="nudge"
      />
    </div>
  </div>
</template>

<style scoped>
.scale {
  display: grid;
  grid-template-columns: 1fr auto;
  align-items: center;
}
.typed {
  display: flex;
  align-items: center;
  gap: 8px;
}
.typed :deep(.el-input) {
  width: 104px;
}
.typed :deep(.el-input__wrapper) {
  min-height: var(--control-small);
  border-bottom-color: transparent;
  background: none;
}
.typed :deep(.el-input__wrapper:hover),
.typed :deep(.el-input__wrapper:focus-within) {
  border-bottom-color: var(--edge);
  background: var(--well);
}
.typed :deep(.el-input__suffix) {
  margin-left: 4px;
}
.typed :deep(.el-input__inner) {
  font-weight: 640;
  text-align: right;
}
.track {
  grid-column: 1 / -1;
  position: relative;
  height: 24px;
}
.rail,
.band,
.mark {
  position: absolute;
  pointer-events: none;
}
.rail {
  left: 0;
  right: 0;
  top: 8px;
  height: 5px;
  background: var(--well-2);
}
.band {
  top: 5px;
  height: 11px;
  background: var(--edge);
  border-radius: 2px;
}
.mark {
  top: 0;
  width: 5px;
  height: 21px;
  margin-left: -2.5px;
  background: var(--black);
  box-shadow: 0 0 0 2px var(--sheet);
}
.mark.outside {
  background: var(--sign-stop);
}
input {
  position: absolute;
  inset: -7px 0;
  width: 100%;
  height: 44px;
  margin: 0;
  opacity: 0;
  cursor: ew-resize;
}
.track:has(input:focus-visible) {
  outline: 3px solid var(--black);
  outline-offset: 2px;
}
</style>
