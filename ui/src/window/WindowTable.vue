<script setup lang="ts">
import { ElTable, ElTableColumn } from 'element-plus';
import { computed } from 'vue';

import type { WindowOut } from '@/api/client';
import { CLEAN_BELOW } from '@/craft.generated';

import type { Axis } from './axes';

/** The window as a table: at each setting which fault strikes, or in how many airbrushes it is clean. */
const props = defineProps<{ window: WindowOut | null; across: Axis; up: Axis }>();
const WORDS = { spiders: 'spiders', specks: 'specks', dust: 'dust', no_flow: 'no flow' } as const;
const EVERY = 5;

const columns = computed(() =>
  (props.window?.across ?? [])
    .map((value, at) => ({ value, at }))
    .filter(({ at }) => at % EVERY === 2),
);
const rows = computed(() => {
  const shown = props.window;
  if (!shown) return [];
  return shown.up
    .map((value, at) => ({ value, at }))
    .filter(({ at }) => at % EVERY === 2)
    .reverse()
    .map(({ value, at: row }) => ({
      name: props.up.words(Number(value.toFixed(1))),
      cells: columns.value.map(({ at }) => {
        const worst = (Object.keys(WORDS) as (keyof typeof WORDS)[]).reduce((a, b) =>
          shown[a][row]![at]! >= shown[b][row]![at]! ? a : b,
        );
        if (shown[worst][row]![at]! >= CLEAN_BELOW) return WORDS[worst];
        return `clean ${Math.round(shown.clean_share[row]![at]! * 10)}/10`;
      }),
    }));
});
</script>

<template>
  <ElTable :data="rows" size="small" data-test="window-table" aria-label="The window as a table">
    <ElTableColumn :label="up.label" width="92">
      <template #default="{ row }"
        ><b>{{ row.name }}</b></template
      >
    </ElTableColumn>
    <ElTableColumn
      v-for="(c, n) in columns"
      :key="c.at"
      :label="across.words(Number(c.value.toFixed(1)))"
    >
      <template #default="{ row }">{{ row.cells[n] }}</template>
    </ElTableColumn>
  </ElTable>
</template>
