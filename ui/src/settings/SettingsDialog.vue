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

/** Settings with a few choices: name, words, and what each choice is called. */
const ROWS: { name: string; label: string; more: string; choices: [string, string][] }[] = [
  {
    name: 'theme',
    label: 'Theme',
    more: 'dark room is easy on the eyes at night',
    choices: [
      ['daylight', 'daylight'],
      ['lamp_off', 'dark room'],
    ],
  },
  {
    name: 'pressure_unit',
    label: 'Pressure first in',
    more: 'the other stands beside it',
    choices: [
      ['psi', 'psi'],
      ['bar', 'bar'],
    ],
  },
  {
    name: 'length_unit',
    label: 'Lengths in',
    more: 'needles and films stay in mm and µm',
    choices: [
      ['mm', 'mm'],
      ['inch', 'inch'],
    ],
  },
  {
    name: 'temperature_unit',
    label: 'Temperature in',
    more: 'of the room',
    choices: [
      ['c', '°C'],
      ['f', '°F'],
    ],
  },
  {
    name: 'volume_unit',
    label: 'Cups in',
    more: 'counted, or measured with a syringe',
    choices: [
      ['drops', 'drops'],
      ['ml', 'ml'],
    ],
  },
  {
    name: 'trade_words',
    label: 'Explain trade words',
    more: 'explained where the pointer or the focus rests',
    choices: [
      ['short', 'as they are'],
      ['explained', 'explained'],
    ],
  },
  {
    name: 'decimal_sign',
    label: 'Decimal sign',
    more: 'a point and a comma can both be typed',
    choices: [
      ['auto', 'as usual here'],
      ['point', '1.5'],
      ['comma', '1,5'],
    ],
  },
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
  <ElDialog v-model="open" title="Settings" width="520px" append-to-body>
    <div v-for="row in ROWS" :key="row.name" class="row">
      <span
        >{{ row.label }}<br /><small>{{ row.more }}</small></span
      >
      <ElRadioGroup
        :model-value="settings.values[row.name]"
        :aria-label="row.label"
        :data-test="row.name"
        @update:model-value="set(row.name, String($event))"
      >
        <ElRadioButton v-for="[value, words] in row.choices" :key="value" :value="value">{{
          words
        }}</ElRadioButton>
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
