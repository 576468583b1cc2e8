<script setup lang="ts">
import { computed } from 'vue';

import type { Sector } from '@/api/client';
import AngleFields from '@/fields/AngleFields.vue';
import { usePlan } from '@/stores/plan';

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

function add(event: Event): void {
  const box = event.target as HTMLSelectElement;
  const kind = KINDS.find((k) => k.label === box.value);
  box.value = '';
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
    <h3>Held by</h3>
    <p class="small">Nothing is sprayed from where a handle, a hand or the bench is.</p>
    <div v-for="s in sectors" :key="s.id" class="sector">
      <span class="name"
        >{{ s.name }}
        <button class="quiet-button" type="button" @click="remove(s.id, s.name)">Remove</button>
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
    <select v-if="sectors.length < 8" aria-label="Add what blocks the sky" @change="add">
      <option value="">Add …</option>
      <option v-for="k in KINDS" :key="k.label" :value="k.label">{{ k.label }}</option>
    </select>
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
