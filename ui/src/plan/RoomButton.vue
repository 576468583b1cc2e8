<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { computed, ref } from 'vue';

import { useDevices } from '@/stores/devices';
import { usePlan } from '@/stores/plan';

import { decimals, temperature } from '@/displays/format';
import RoomFields from '@/fields/RoomFields.vue';

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

function set(change: { temperature_c?: number; humidity_pct?: number }): void {
  void store.change('Room changed', (plan) => {
    plan.room = { ...plan.room, ...change };
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
    <b>{{ temperature(shown.temperature_c) }}</b>
    <small>{{ decimals(shown.humidity_pct, 0) }} % RH</small>
  </ElButton>
  <ElDialog v-model="open" title="The room" width="420px" append-to-body>
    <RoomFields v-if="store.plan" class="fields" :room="store.plan.room" @change="set" />
    <p v-if="measured" class="note" data-test="measured">
      Measured: {{ temperature(measured.temperature_c) }},
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
  margin-bottom: 12px;
}
</style>
