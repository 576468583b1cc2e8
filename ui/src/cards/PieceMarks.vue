<script setup lang="ts">
import { ElButton, ElSegmented } from 'element-plus';

import NumberField from '@/fields/NumberField.vue';

import type { Marking } from './use-marks';

/** How a photo is laid over its plan, and the paper that tells its light. */
const props = defineProps<{ marking: Marking; busy: boolean }>();
defineEmits<{ compare: [] }>();
const { way, patching, patch, lightness, counted, canGoBack, body, back } = props.marking;
const WAYS = [
  { label: 'Outline', value: 'outline' },
  { label: 'Points', value: 'points' },
];
</script>

<template>
  <section class="marks" aria-labelledby="marks">
    <h2 id="marks">Marks</h2>
    <ElSegmented
      v-model="way"
      :options="WAYS"
      size="small"
      aria-label="How the photo is laid over the plan"
      data-test="mark-way"
    />
    <p data-test="marked">
      {{ counted }}
      <ElButton text size="small" :disabled="!canGoBack" data-test="mark-back" @click="back"
        >Undo last point</ElButton
      >
    </p>
    <div class="paper">
      <ElButton :aria-pressed="patching" data-test="mark-paper" @click="patching = !patching">{{
        patch ? 'Mark the paper again' : 'Mark the paper'
      }}</ElButton>
      <NumberField
        v-model="lightness"
        label="Its lightness"
        unit="L*"
        :min="20"
        :max="100"
        :digits="1"
      />
    </div>
    <ElButton
      type="primary"
      :disabled="!body"
      :loading="busy"
      data-test="compare"
      @click="$emit('compare')"
      >Compare</ElButton
    >
  </section>
</template>

<style scoped>
.marks {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}
h2 {
  margin-bottom: 4px;
}
.paper {
  display: grid;
  grid-template-columns: minmax(0, auto) minmax(84px, 1fr);
  align-items: end;
  gap: 8px;
}
</style>
