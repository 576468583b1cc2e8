<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed } from 'vue';

import type { CoatWorkings } from '@/api/client';
import { useSettings } from '@/stores/settings';

import { knobLabel, knobValue } from './knobs';

type Advice = CoatWorkings['spray']['advice'][number];
/** The smallest change that makes a setting clean, and the others in a line. */
const props = defineProps<{ advice: Advice[]; sign: 'mind' | 'stop' }>();
const emit = defineEmits<{ follow: [knobs: Record<string, number>] }>();
const settings = useSettings();
function told(a: Advice): string {
  const unit = settings.values.pressure_unit ?? 'psi';
  return `${knobLabel(a.knob).toLowerCase()} to ${knobValue(a.knob, a.by_hand, unit)}`;
}
const first = computed(() => props.advice[0]!);
const others = computed(() => props.advice.slice(1, 3).map(told).join(', or '));
const title = computed(() => {
  const words = [first.value, ...first.value.alongside].map(told).join(', ');
  return words.charAt(0).toUpperCase() + words.slice(1);
});
function follow(): void {
  const all = [first.value, ...first.value.alongside];
  emit('follow', Object.fromEntries(all.map((a) => [a.knob, a.by_hand])));
}
</script>

<template>
  <section class="note change" :class="sign" aria-label="What to change">
    <span>
      <b>{{ title }}</b>
      <small>{{ first.why }}{{ others ? `; or ${others}` : '' }}</small>
    </span>
    <ElButton type="primary" data-test="do-that" @click="follow">Do that</ElButton>
  </section>
</template>

<style scoped>
.change {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 14px;
  margin: 0;
}
.change.stop {
  border-left-color: var(--sign-stop);
}
small {
  display: block;
}
.el-button {
  flex: none;
}
</style>
