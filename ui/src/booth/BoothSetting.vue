<script setup lang="ts">
import { computed } from 'vue';

import type { BoothStep } from '@/api/client';
import { decimals, length, pressure, speed } from '@/displays/format';
import { useSettings } from '@/stores/settings';

/** What is set for a coat, in numbers that are read from 1.5 m. */
const props = defineProps<{
  step: BoothStep;
  /** What the gauge says now [psi]; null without one. */
  gauge: number | null;
  sagging: boolean;
}>();
const settings = useSettings();
const figures = computed(() => {
  const s = props.step.spray;
  if (!s) return [];
  const told = pressure(s.pressure_psi, settings.values.pressure_unit ?? 'psi').first.split(' ');
  const unit = settings.values.pressure_unit ?? 'psi';
  const now = props.gauge === null ? null : pressure(props.gauge, unit).first.split(' ');
  return [
    { word: 'pressure', value: told[0]!, unit: told[1]! },
    { word: 'trigger stop', value: decimals(s.trigger * 100, 0), unit: '%' },
    { word: 'distance', ...split(length(s.distance_mm)) },
    now
      ? { word: 'gauge now', value: now[0]!, unit: props.sagging ? `${now[1]!} sagging` : now[1]! }
      : { word: 'hand', ...split(speed(s.speed_mm_s)) },
  ];
});
function split(told: string): { value: string; unit: string } {
  const [value, unit] = told.split(' ') as [string, string];
  return { value, unit };
}
</script>

<template>
  <dl class="set">
    <div v-for="f in figures" :key="f.word">
      <dt>{{ f.word }}</dt>
      <dd>
        {{ f.value }} <small>{{ f.unit }}</small>
      </dd>
    </div>
  </dl>
</template>

<style scoped>
.set {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 6px 24px;
  margin: 0;
}
.set > div {
  display: flex;
  flex-direction: column;
}
dt {
  font-size: 28px;
  line-height: 1.15;
  color: var(--ink-2);
}
dd {
  margin: 0;
  font-size: 52px;
  font-weight: 720;
  line-height: 1;
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
small {
  font-size: 32px;
  font-weight: 500;
  color: var(--ink);
}
</style>
