<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { ref } from 'vue';

import { usePlan } from '@/stores/plan';

import { decimals } from '@/displays/format';
import NumberField from '@/fields/NumberField.vue';

const store = usePlan();
const open = ref(false);

function set(field: 'temperature_c' | 'humidity_pct', value: number): void {
  void store.change('Room changed', (plan) => {
    plan.room[field] = value;
  });
}
</script>

<template>
  <ElButton
    v-if="store.plan"
    text
    class="room number"
    title="The room of this plan, typed"
    @click="open = true"
  >
    <b>{{ decimals(store.plan.room.temperature_c, 1) }} °C</b>
    <small>{{ decimals(store.plan.room.humidity_pct, 0) }} % RH</small>
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
