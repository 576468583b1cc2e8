<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed } from 'vue';

import type { Sector } from '@/api/client';
import AngleFields from '@/fields/AngleFields.vue';
import { usePlan } from '@/stores/plan';
import ChoiceField from '@/fields/ChoiceField.vue';

/** Where a handle, a hand or the bench leaves no room for the airbrush. */
const store = usePlan();
const sectors = computed(() => store.plan?.piece.blocked ?? []);

const KINDS: { label: string; sector: Omit<Sector, 'id'> }[] = [
  {
    label: 'Handle below',
    sector: { name: 'Handle below', azimuth_deg: 0, elevation_deg: -90, half_angle_deg: 30 },
  },
  {
    label: 'Thin rod',
    sector: { name: 'Thin rod', azimuth_deg: 0, elevation_deg: -90, half_angle_deg: 12 },
  },
  {
    label: 'Bench or base below',
    sector: {
      name: 'Bench or base below',
      azimuth_deg: 0,
      elevation_deg: -90,
      half_angle_deg: 88,
    },
  },
  {
    label: 'Hand at the side',
    sector: { name: 'Hand at the side', azimuth_deg: 90, elevation_deg: 0, half_angle_deg: 25 },
  },
];

function add(label: string): void {
  const kind = KINDS.find((k) => k.label === label);
  if (!kind) return;
  void store.change(`${kind.label} blocks a part of the sky`, (plan) => {
    plan.piece.blocked = [
      ...(plan.piece.blocked ?? []),
      { id: `b${Date.now().toString(36)}`, ...kind.sector },
    ];
  });
}
function remove(id: string, name: string): void {
  void store.change(`${name} removed`, (plan) => {
    plan.piece.blocked = (plan.piece.blocked ?? []).filter((s) => s.id !== id);
  });
}
function set(id: string, field: 'azimuth' | 'elevation' | 'width', value: number): void {
  const key = { azimuth: 'azimuth_deg', elevation: 'elevation_deg', width: 'half_angle_deg' }[
    field
  ] as 'azimuth_deg' | 'elevation_deg' | 'half_angle_deg';
  void store.change('Changed what blocks the sky', (plan) => {
    const s = plan.piece.blocked?.find((x) => x.id === id);
    if (s) s[key] = value;
  });
}
</script>

<template>
  <section aria-label="What blocks the sky">
    <h3>Holder</h3>
    <p class="small">Nothing is sprayed from where a handle, a hand or the bench is.</p>
    <div v-for="s in sectors" :key="s.id" class="sector">
      <span class="name"
        >{{ s.name }}
        <ElButton @click="remove(s.id, s.name)">Remove</ElButton>
      </span>
      <AngleFields
        :azimuth="s.azimuth_deg ?? 0"
        :elevation="s.elevation_deg ?? -90"
        :width="s.half_angle_deg ?? 30"
        width-label="Blocks ±"
        :width-max="120"
        @set="(f, v) => set(s.id, f, v)"
      />
    </div>
    <ChoiceField
      v-if="sectors.length < 8"
      model-value=""
      label="Add what blocks the sky"
      hide-label
      placeholder="Add …"
      :choices="KINDS.map((k) => ({ id: k.label, label: k.label }))"
      @update:model-value="add"
    />
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}
.sector {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr;
  gap: 6px;
}
.name {
  grid-column: 1 / -1;
  display: flex;
  align-items: center;
  justify-content: space-between;
}
</style>
