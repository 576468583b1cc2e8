<script setup lang="ts">
import { ElInput } from 'element-plus';
import { computed, ref, useId, watch } from 'vue';

import { decimals, parseNumber } from '@/displays/format';
import { shownAs } from '@/displays/units';

const props = withDefaults(
  defineProps<{
    label: string;
    modelValue: number;
    min: number;
    max: number;
    step?: number;
    unit?: string;
    digits?: number;
    hideLabel?: boolean;
  }>(),
  { step: 1, unit: '', digits: 0, hideLabel: false },
);
const emit = defineEmits<{ 'update:modelValue': [value: number] }>();

const id = useId();
const text = ref('');
const wrong = ref('');
/** Typed and shown in the reader's unit; what is given and told stays in the model's. */
const as = computed(() => shownAs(props.unit));
const places = computed(() => props.digits + as.value.more);
const shown = computed(() => decimals(as.value.to(props.modelValue), places.value));
watch(shown, (now) => (text.value = now), { immediate: true });

function accept(): void {
  const typed = parseNumber(text.value);
  if (typed !== null && decimals(typed, places.value) === shown.value) {
    wrong.value = '';
    text.value = shown.value;
    return;
  }
  const value = typed === null ? null : as.value.from(typed);
  if (value === null || value < props.min || value > props.max) {
    const unit = as.value.unit ? ` ${as.value.unit}` : '';
    const [least, most] = [props.min, props.max].map((v) => decimals(as.value.to(v), 2));
    wrong.value = `${props.label} takes ${least} to ${most}${unit}. Kept at ${shown.value}.`;
    text.value = shown.value;
    return;
  }
  wrong.value = '';
  text.value = decimals(typed!, places.value);
  emit('update:modelValue', value);
}

function bump(direction: number): void {
  const next = Math.min(props.max, Math.max(props.min, props.modelValue + direction * props.step));
  wrong.value = '';
  if (next !== props.modelValue) emit('update:modelValue', Number(next.toFixed(4)));
}
</script>

<template>
  <div class="field">
    <label :for="id" :class="{ 'visually-hidden': hideLabel }">{{ label }}</label>
    <ElInput
      :id="id"
      v-model="text"
      :class="{ wrong }"
      inputmode="decimal"
      autocomplete="off"
      :aria-invalid="!!wrong"
      :aria-describedby="wrong ? `${id}-wrong` : undefined"
      @change="accept"
      @focus="($event.target as HTMLInputElement).select()"
      @keydown.enter="accept"
      @keydown.up.prevent="bump(1)"
      @keydown.down.prevent="bump(-1)"
    >
      <template v-if="as.unit" #suffix>{{ as.unit }}</template>
    </ElInput>
    <span v-if="wrong" :id="`${id}-wrong`" class="said" role="alert">{{ wrong }}</span>
  </div>
</template>

<style scoped>
.field {
  display: grid;
  gap: 2px;
  min-width: 0;
}
label {
  font-size: var(--f14);
  color: var(--ink-2);
}
.said {
  font-size: var(--f14);
  color: var(--sign-stop);
}
</style>
