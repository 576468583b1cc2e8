<script setup lang="ts">
import { ElButton, ElTable, ElTableColumn } from 'element-plus';

import type { OrdersOut } from '@/api/client';
import { decimals, duration } from '@/displays/format';

import LandedChips from './LandedChips.vue';

/** All orders of colour beside each other, the best named with why. */
defineProps<{ tried: OrdersOut }>();
const emit = defineEmits<{ show: [number: number] }>();

function percent(share: number | null | undefined): string {
  return share == null ? '–' : `${decimals(Math.min(share, 1) * 100, 0)} %`;
}
</script>

<template>
  <section aria-label="All orders" data-test="orders-tried">
    <p>
      <b>{{ tried.why }}</b>
    </p>
    <ElTable :data="tried.orders" size="small">
      <ElTableColumn label="Order" width="90">
        <template #default="{ row, $index }">
          <b v-if="$index === tried.best">{{ row.name }}</b><span v-else>{{ row.name }}</span>
        </template>
      </ElTableColumn>
      <ElTableColumn label="Asked, then shade, half light, light" min-width="220">
        <template #default="{ row }">
          <LandedChips v-if="row.found" :found="row.found" />
          <span v-else class="small">{{ row.refused }}</span>
        </template>
      </ElTableColumn>
      <ElTableColumn label="ΔE" width="64" align="right">
        <template #default="{ row }">{{
          row.found ? decimals(row.found.lands.delta_e, 1) : '–'
        }}</template>
      </ElTableColumn>
      <ElTableColumn label="Chroma kept" width="104" align="right">
        <template #default="{ row }">{{ percent(row.found?.lands.chroma_kept) }}</template>
      </ElTableColumn>
      <ElTableColumn label="In the lights" width="104" align="right">
        <template #default="{ row }">{{ percent(row.found?.lands.light_chroma_kept) }}</template>
      </ElTableColumn>
      <ElTableColumn label="Rounds" width="76" align="right">
        <template #default="{ row }">{{ row.found?.cost.rounds ?? '–' }}</template>
      </ElTableColumn>
      <ElTableColumn label="Hands" width="96" align="right">
        <template #default="{ row }">{{
          row.found ? duration(row.found.cost.minutes * 60) : '–'
        }}</template>
      </ElTableColumn>
      <ElTableColumn label="" width="84">
        <template #default="{ row, $index }">
          <ElButton
            size="small"
            :disabled="!row.found"
            :aria-label="`Show ${row.name}`"
            @click="emit('show', $index)"
            >Show</ElButton
          >
        </template>
      </ElTableColumn>
    </ElTable>
  </section>
</template>
