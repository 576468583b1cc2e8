<script setup lang="ts">
import { computed } from 'vue';

import type { Role } from '@/api/client';
import FigureRow, { type Figure } from '@/displays/FigureRow.vue';
import { decimals, duration, length, pressure } from '@/displays/format';
import { usePlan } from '@/stores/plan';
import { useSettings } from '@/stores/settings';

/** How the chosen step is done, in one line: cup, air, distance, rounds from where, wait. */
const store = usePlan();
const settings = useSettings();
const NAMES: Record<Role, string> = {
  thinner: 'thinner',
  flow_aid: 'flow aid',
  retarder: 'retarder',
  paint: 'paint',
};

function split(text: string): { value: string; unit: string } {
  const [value = '', unit = ''] = text.split(' ');
  return { value, unit };
}
const rounds = computed<Figure | null>(() => {
  const [coat, work] = [store.coat, store.coatWorkings];
  if (!coat || !work) return null;
  if (coat.aim) return { word: `rounds ${work.aim_words ?? ''}`, value: `${coat.aim.passes}` };
  const [first, ...others] = coat.stations;
  if (!first) return null;
  const counts = coat.stations.map((s) => s.passes ?? 1);
  const [least, most] = [Math.min(...counts), Math.max(...counts)];
  const value = least === most ? `${least}` : `${least}–${most}`;
  const from = others.length
    ? `rounds, ${coat.stations.length} sides`
    : `${most === 1 ? 'round' : 'rounds'} ${work.stations[0]?.side ?? ''}`;
  return { word: from, value, from: work.rounds };
});
/** A step by hand: how strong, and the wait after it. */
const byHand = computed<Figure[]>(() => {
  const [step, work] = [store.hand, store.handWorkings];
  if (!step || !work) return [];
  const strength = { word: 'strength', value: decimals(step.strength * 100, 0), unit: '%' };
  const wait = { word: 'then wait', ...split(duration(work.wait_s)), from: 'until the next step' };
  return [
    { word: step.role.replaceAll('_', ' '), value: 'By hand', from: work.words },
    ...(step.paint ? [strength] : []),
    ...(work.wait_s ? [wait] : []),
  ];
});
const figures = computed<Figure[]>(() => {
  const [coat, work] = [store.coat, store.coatWorkings];
  if (!coat || !work) return byHand.value;
  const { poured } = work.cup;
  const air = pressure(coat.spray.pressure_psi, settings.values.pressure_unit ?? 'psi');
  const roles = [...new Set(poured.map((p) => NAMES[p.role]))].join(' + ');
  const counted = poured.every((p) => p.amount.includes('drop'));
  const parts = poured.map((p) => (counted ? `${p.drops}` : decimals(p.ml, 1)));
  return [
    {
      word: `${counted ? 'drops' : 'ml'}: ${roles}`,
      value: parts.join(' + '),
      from: poured.map((p) => `${p.amount} ${p.what}`).join(', then '),
    },
    { word: air.second, ...split(air.first) },
    { word: 'away', ...split(length(coat.spray.distance_mm)) },
    ...(rounds.value ? [rounds.value] : []),
    { word: 'then wait', ...split(duration(work.waits.recoat_s)), from: 'until the next coat' },
  ];
});
</script>

<template>
  <div class="strip" role="group" aria-label="How it is sprayed" data-test="recipe">
    <FigureRow v-if="figures.length" :figures="figures" />
    <p v-else-if="!store.after" class="small">Nothing is sprayed yet.</p>
  </div>
</template>

<style scoped>
/* as high for every step: the piece above it keeps its size */
.strip {
  min-height: 72px;
  margin: 0 10px;
  padding: 7px 14px 8px;
  border-radius: 8px;
  background: var(--sheet);
  color: var(--ink);
}
.strip :deep(.figures) {
  flex-wrap: nowrap;
  justify-content: space-between;
  gap: 4px 14px;
}
.strip :deep(.figures > div) {
  flex: 0 1 auto;
  min-width: 46px;
}
.strip :deep(dt) {
  font-size: var(--f12);
  line-height: 1.25;
}
@media (max-width: 900px) {
  .strip :deep(.figures) {
    flex-wrap: wrap;
    justify-content: flex-start;
  }
}
</style>
