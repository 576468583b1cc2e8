<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { computed, ref } from 'vue';

import { useDevices } from '@/stores/devices';
import { usePlan } from '@/stores/plan';

import { decimals } from '@/displays/format';
import NumberField from '@/fields/NumberField.vue';

const store = usePlan();
const devices = useDevices();
const open = ref(false);
/** The room as it is measured; else as the plan has it. */
const measured = computed(() => devices.now?.room ?? null);
const shown = computed(() => measured.value ?? store.plan?.room ?? null);
const off = computed(() => {
  const now = measured.value;
  const typed = store.plan?.room;
  return (
    !!now &&
    !!typed &&
    (Math.abs(now.temperature_c - typed.temperature_c) > 0.5 ||
      Math.abs(now.humidity_pct - typed.humidity_pct) > 2)
  );
});
function takeOver(): void {
  const now = measured.value;
  if (!now) return;
  void store.change('Room as measured', (plan) => {
    plan.room = { ...plan.room, ...now };
  });
}

function set(field: 'temperature_c' | 'humidity_pct', value: number): void {
  void store.change('Room changed', (plan) => {
    plan.room[field] = value;
  });
}
</script>

<template>
  <ElButton
    v-if="store.plan && shown"
    text
    class="room number"
    :title="measured ? 'The room, measured' : 'The room of this plan, typed'"
    @click="open = true"
  >
    <b>{{ decimals(shown.temperature_c, 1) }} °C</b>
    <small>{{ decimals(shown.humidity_pct, 0) }} % RH</small>
  </ElButton>
  <ElDialog v-model="open" title="The room" width="420px" append-to-body>
    <div v-if="store.plan" class="fields">
      <NumberField
        label="Temperature"
        unit="°C"
        :min="0"
        :max="45"
        :digits="1"
        :model-value="store.plan.room.temperature_c"
        @update:model-value="set('temperature_c', $event)"
      />
      <NumberField
        label="Humidity"
        unit="% RH"
        :min="1"
        :max="99"
        :step="5"
        :model-value="store.plan.room.humidity_pct"
        @update:model-value="set('humidity_pct', $event)"
      />
    </div>
    <p v-if="measured" class="note" data-test="measured">
      Measured: {{ decimals(measured.temperature_c, 1) }} °C,
      {{ decimals(measured.humidity_pct, 0) }} % RH.
      <ElButton v-if="off" size="small" data-test="take-over" @click="takeOver"
        >Use it for this plan</ElButton
      >
    </p>
    <p class="small">Waits, tip drying and dust follow from these.</p>
  </ElDialog>
</template>

<style scoped>
.room.el-button {
  height: auto;
  padding: 4px 8px;
  justify-content: start;
  text-align: left;
}
.room :deep(> span) {
  display: grid;
  line-height: 1.45;
}
.room b {
  font-weight: 680;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 16px;
  margin-bottom: 12px;
}
</style>
