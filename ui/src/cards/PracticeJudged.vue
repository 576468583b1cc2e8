<script setup lang="ts">
import { computed } from 'vue';

import type { ChangeJudged, PracticeJudged } from '@/api/client';
import StatusSign from '@/displays/StatusSign.vue';
import { knobValue } from '@/window/knobs';
import { useSettings } from '@/stores/settings';

import { CHANGE_LABEL, LOOKS } from './measures';

/** The answer beside the truth, and what every change would have done. */
const props = defineProps<{ judged: PracticeJudged }>();
const settings = useSettings();
const DOES: Record<ChangeJudged['does'], string> = {
  best: 'the shortest way',
  cures: 'cures, a longer way',
  helps: 'helps, not alone',
  little: 'does little',
  worse: 'makes it worse',
};
const clean = computed(() => props.judged.look === 'clean');
const named = computed(() => {
  const { look, named: said, right } = props.judged;
  return right ? `${LOOKS[look]} it is.` : `${LOOKS[look]}, not ${LOOKS[said].toLowerCase()}.`;
});
const rows = computed(() =>
  props.judged.changes.map((c) => ({
    change: c.change,
    label: CHANGE_LABEL[c.change],
    chosen: c.change === props.judged.change,
    does: does(c),
    way: way(c),
  })),
);
function does(c: ChangeJudged): string {
  if (!clean.value) return c.change === 'leave' ? 'leaves the fault' : DOES[c.does];
  if (c.change === 'leave') return 'right: nothing is wrong';
  return c.does === 'worse' ? 'goes wrong' : 'not needed';
}
function way(c: ChangeJudged): string {
  if (!c.knob || c.to === null || c.value === null || c.to === c.value) return '';
  if (c.does === 'little' || (c.does === 'worse' && !clean.value)) return '';
  const unit = settings.values.pressure_unit ?? 'psi';
  const shown = (v: number): string => knobValue(c.knob!, v, unit);
  return clean.value ? `from ${shown(c.to)}` : `${shown(c.value)} → ${shown(c.to)}`;
}
</script>

<template>
  <section class="judged" role="status" data-test="practice-judged">
    <h2>
      <StatusSign :sign="judged.right ? 'clean' : 'stop'" :word="named" />
    </h2>
    <p>{{ judged.shows }}.</p>
    <p data-test="practice-change-judged">
      <StatusSign
        :sign="judged.changed_well ? 'clean' : 'mind'"
        :word="`${CHANGE_LABEL[judged.change]}: ${rows.find((r) => r.chosen)?.does}.`"
      />
    </p>
    <ul>
      <li v-for="r in rows" :key="r.change" :class="{ chosen: r.chosen }">
        <span>{{ r.label }}</span>
        <span class="small">{{ r.does }}</span>
        <span class="number small">{{ r.way }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.judged {
  display: grid;
  gap: 8px;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 112px minmax(0, 1fr) auto;
  align-items: baseline;
  padding: 3px 6px;
  border-bottom: 1px solid var(--hair);
  gap: 8px;
}
.chosen {
  background: var(--well);
  font-weight: 640;
}
</style>
