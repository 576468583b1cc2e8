<script setup lang="ts">
import { ElDialog, ElRadioButton, ElRadioGroup, ElSwitch } from 'element-plus';
import { ref } from 'vue';

import { sentence } from '@/api/client';
import { useSettings } from '@/stores/settings';

import DataPanel from './DataPanel.vue';
import DevicesPanel from './DevicesPanel.vue';
import TabletPanel from './TabletPanel.vue';

/** What Haze keeps to for this painter: surroundings, units, keys. */
const open = defineModel<boolean>({ required: true });
const settings = useSettings();
const problem = ref('');

async function set(name: string, value: string): Promise<void> {
  problem.value = '';
  try {
    await settings.set(name, value);
  } catch (error) {
    problem.value = sentence(error);
  }
}
</script>

<template>
  <ElDialog v-model="open" title="Settings" width="520px" append-to-body>
    <div class="row">
      <span>Surroundings<br /><small>lamp off is for a dark room</small></span>
      <ElRadioGroup
        :model-value="settings.values.theme"
        aria-label="Surroundings"
        @update:model-value="set('theme', String($event))"
      >
        <ElRadioButton value="daylight">daylight</ElRadioButton>
        <ElRadioButton value="lamp_off">lamp off</ElRadioButton>
      </ElRadioGroup>
    </div>
    <div class="row">
      <span>Pressure first in<br /><small>the other stands beside it</small></span>
      <ElRadioGroup
        :model-value="settings.values.pressure_unit"
        aria-label="Pressure first in"
        @update:model-value="set('pressure_unit', String($event))"
      >
        <ElRadioButton value="psi">psi</ElRadioButton>
        <ElRadioButton value="bar">bar</ElRadioButton>
      </ElRadioGroup>
    </div>
    <div class="row">
      <span>Single-key shortcuts<br /><small>1 to 6, brackets, letters</small></span>
      <ElSwitch
        :model-value="settings.singleKeys"
        aria-label="Single-key shortcuts"
        @update:model-value="set('single_keys', $event ? 'on' : 'off')"
      />
    </div>
    <DataPanel v-if="open" />
    <DevicesPanel v-if="open" />
    <TabletPanel v-if="open" />
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
  </ElDialog>
</template>

<style scoped>
.row {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: 60px;
  border-top: 1px solid var(--hair);
}
</style>
