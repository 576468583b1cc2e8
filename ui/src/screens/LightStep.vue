<script setup lang="ts">
import { computed } from 'vue';

import SkyDisc from '@/instruments/sky/SkyDisc.vue';
import type { Angles } from '@/instruments/sky/projection';
import { share } from '@/parts/format';
import NumberField from '@/parts/NumberField.vue';
import { usePlan } from '@/stores/plan';

const store = usePlan();
const light = computed(() => {
  const l = store.plan!.light;
  return { azimuth: l.azimuth_deg, elevation: l.elevation_deg, softness: l.softness_deg };
});
const bars = computed(() => {
  const s = store.workings?.light;
  return s
    ? [
        { name: 'in light', value: s.lit, shade: 'var(--surface)' },
        { name: 'half light', value: s.half, shade: 'var(--line)' },
        { name: 'dark', value: s.dark, shade: 'var(--text)' },
      ]
    : [];
});

function move(_: string, to: Angles): void {
  store.sketch((plan) => {
    plan.light.azimuth_deg = to.azimuth;
    plan.light.elevation_deg = to.elevation;
  });
}
function done(): void {
  if (!store.settle()) return;
  void store.commit('Moved the light');
}
function set(field: 'azimuth_deg' | 'elevation_deg' | 'softness_deg', value: number): void {
  void store.change('Changed the light', (plan) => {
    plan.light[field] = value;
  });
}
/** Coats that come from one side follow the light; the ground stays all round. */
const followers = computed(
  () => store.plan?.coats.filter((c) => c.task === 'light' && c.stations.length === 1) ?? [],
);
function sprayFromLight(): void {
  void store.change('Light coats sprayed from the light', (plan) => {
    const [first] = followers.value;
    for (const coat of plan.coats) {
      if (coat.id !== first?.id) continue;
      Object.assign(coat.stations[0]!, {
        azimuth_deg: plan.light.azimuth_deg,
        elevation_deg: plan.light.elevation_deg,
        spread_deg: Math.max(2, plan.light.softness_deg),
      });
    }
  });
}
</script>

<template>
  <div class="light">
    <h2>Key light</h2>
    <p class="small">
      Drag the sun, or type. Straight overhead is the middle, the show side is at the bottom.
    </p>
    <SkyDisc :stations="[]" :selected="null" :light="light" moves-light @move="move" @done="done" />
    <div class="fields">
      <NumberField
        label="Azimuth"
        unit="°"
        :min="-360"
        :max="360"
        :step="5"
        :digits="1"
        :model-value="light.azimuth"
        @update:model-value="set('azimuth_deg', $event)"
      />
      <NumberField
        label="Elevation"
        unit="°"
        :min="-90"
        :max="90"
        :step="5"
        :digits="1"
        :model-value="light.elevation"
        @update:model-value="set('elevation_deg', $event)"
      />
      <NumberField
        label="Softness ±"
        unit="°"
        :min="2"
        :max="90"
        :step="2"
        :digits="1"
        :model-value="light.softness"
        @update:model-value="set('softness_deg', $event)"
      />
    </div>
    <section aria-label="Show side">
      <h3>Of the show side</h3>
      <div v-for="b in bars" :key="b.name" class="bar">
        <span>{{ b.name }}</span>
        <span class="track"
          ><i :style="{ width: share(b.value).replace(' ', ''), background: b.shade }"
        /></span>
        <span class="number">{{ share(b.value) }}</span>
      </div>
      <p class="small">
        From the model: light that reaches each point past the piece itself, by area.
      </p>
    </section>
    <button v-if="followers.length" class="quiet-button" type="button" @click="sprayFromLight">
      Spray {{ followers[0]!.name }} from this light
    </button>
  </div>
</template>

<style scoped>
.light {
  display: grid;
  gap: 12px;
  padding: 16px 20px;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr;
  gap: 8px;
}
section {
  display: grid;
  gap: 6px;
}
.bar {
  display: grid;
  grid-template-columns: 84px 1fr 48px;
  align-items: center;
  gap: 10px;
}
.bar .number {
  text-align: right;
}
.track {
  height: 18px;
  background: var(--surface-3);
}
.track i {
  display: block;
  height: 100%;
  border: 1px solid var(--edge);
}
</style>
