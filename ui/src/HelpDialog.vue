<script setup lang="ts">
import { ElDialog, ElSwitch, ElRadioButton, ElRadioGroup } from 'element-plus';
import { ref } from 'vue';

import { sentence } from '@/api/client';
import { useSettings } from '@/stores/settings';

const open = defineModel<boolean>({ required: true });
const settings = useSettings();
const problem = ref('');

const KEYS: [string, string][] = [
  ['1 … 5', 'go to Piece, Light, Coats, Cups, Day'],
  ['[  ]', 'one coat back, one coat on'],
  ['V', 'see values only, and back'],
  ['L', 'next look'],
  ['A', 'work out the angles'],
  ['C', 'core sample at the middle of the picture; a click takes one there'],
  ['← → ↑ ↓', 'turn the piece; on the sky: move the station by 5°, with Shift by 1°'],
  ['Ctrl+Z', 'undo'],
  ['Ctrl+Shift+Z', 'redo'],
  ['?', 'this list'],
  ['Esc', 'close'],
];

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
  <ElDialog v-model="open" title="Help" width="560px" append-to-body>
    <h3>Keys</h3>
    <dl>
      <template v-for="[key, text] in KEYS" :key="key">
        <dt class="mono">{{ key }}</dt>
        <dd>{{ text }}</dd>
      </template>
    </dl>
    <div class="row">
      <span>Single-key shortcuts</span>
      <ElSwitch
        :model-value="settings.singleKeys"
        aria-label="Single-key shortcuts"
        @update:model-value="set('single_keys', $event ? 'on' : 'off')"
      />
    </div>
    <div class="row">
      <span>Surroundings</span>
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
      <span>Pressure first in</span>
      <ElRadioGroup
        :model-value="settings.values.pressure_unit"
        aria-label="Pressure first in"
        @update:model-value="set('pressure_unit', String($event))"
      >
        <ElRadioButton value="psi">psi</ElRadioButton>
        <ElRadioButton value="bar">bar</ElRadioButton>
      </ElRadioGroup>
    </div>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
    <p class="small">
      Numbers come from the model unless you typed them. Predicted colours and settings are a start:
      try each cup on card first.
    </p>
  </ElDialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 130px 1fr;
  gap: 6px 12px;
  margin: 10px 0 20px;
}
dd {
  margin: 0;
}
.row {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: 52px;
  border-top: 1px solid var(--line);
}
p {
  margin-top: 12px;
}
</style>
