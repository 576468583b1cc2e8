<script setup lang="ts">
import { computed } from 'vue';

import SkyDisc, { type SkyStation } from '@/instruments/sky/SkyDisc.vue';
import type { Angles } from '@/instruments/sky/projection';
import { decimals, share } from '@/parts/format';
import NumberField from '@/parts/NumberField.vue';
import StatusSign from '@/parts/StatusSign.vue';
import { usePlan } from '@/stores/plan';
import { useShelf } from '@/stores/shelf';

const store = usePlan();
const shelf = useShelf();

const stations = computed<SkyStation[]>(
  () =>
    store.coat?.stations.map((s, i) => ({
      id: s.id,
      azimuth: s.azimuth_deg,
      elevation: s.elevation_deg,
      spread: s.spread_deg,
      passes: s.passes,
      colour: store.coat!.paint.masstone,
      label: `Station ${i + 1}`,
    })) ?? [],
);
const ghosts = computed<SkyStation[]>(
  () =>
    store.plan?.coats
      .filter((c) => c.id !== store.coat?.id && c.stations.length < 4)
      .flatMap((c) =>
        c.stations.map((s) => ({
          id: `ghost-${s.id}`,
          azimuth: s.azimuth_deg,
          elevation: s.elevation_deg,
          spread: s.spread_deg,
          passes: s.passes,
          colour: c.paint.masstone,
          label: c.name,
        })),
      ) ?? [],
);
const light = computed(() => {
  const l = store.plan?.light;
  return l
    ? { azimuth: l.azimuth_deg, elevation: l.elevation_deg, softness: l.softness_deg }
    : null;
});
const holding = computed(
  () => store.coatWorkings?.stations.find((s) => s.id === store.station?.id)?.holding,
);
const index = computed(
  () => (store.coat?.stations.findIndex((s) => s.id === store.station?.id) ?? 0) + 1,
);
const passes = computed(() => store.coat?.stations.reduce((n, s) => n + s.passes, 0) ?? 0);

function move(id: string, to: Angles): void {
  store.stationId = id;
  store.sketchCoat((coat) => {
    const s = coat.stations.find((x) => x.id === id);
    if (s) {
      s.azimuth_deg = to.azimuth;
      s.elevation_deg = to.elevation;
    }
  });
}
function done(): void {
  if (!store.settle()) return;
  void store.commit(`Moved station ${index.value} of ${store.coat?.name}`);
}
function set(
  field: 'azimuth_deg' | 'elevation_deg' | 'spread_deg' | 'passes',
  value: number,
): void {
  const id = store.station?.id;
  void store.changeCoat(`Changed station ${index.value} of ${store.coat?.name}`, (coat) => {
    const s = coat.stations.find((x) => x.id === id);
    if (s) s[field] = field === 'passes' ? Math.round(value) : value;
  });
}
function addStation(): void {
  const from = store.station;
  const id = `s${Date.now().toString(36)}`;
  void store.changeCoat(`Added a station to ${store.coat?.name}`, (coat) => {
    coat.stations.push({
      id,
      azimuth_deg: ((from?.azimuth_deg ?? 0) + 60) % 360,
      elevation_deg: from?.elevation_deg ?? 45,
      spread_deg: from?.spread_deg ?? 12,
      passes: from?.passes ?? 1,
    });
  });
  store.stationId = id;
}
function removeStation(): void {
  const id = store.station?.id;
  void store.changeCoat(`Removed a station of ${store.coat?.name}`, (coat) => {
    coat.stations = coat.stations.filter((s) => s.id !== id);
  });
}
function setPaint(id: string): void {
  const paint = shelf.shelf.paints.find((p) => p.id === id);
  if (!paint) return;
  void store.changeCoat(`${paint.name} instead of ${store.coat?.paint.name}`, (coat) => {
    coat.paint = paint;
    coat.name = paint.name;
  });
}
</script>

<template>
  <div v-if="store.coat" class="coat">
    <div class="head">
      <span class="chip" :style="{ background: store.coat.paint.masstone }" />
      <select
        class="paint"
        aria-label="Paint of this coat"
        :value="store.coat.paint.id"
        @change="setPaint(($event.target as HTMLSelectElement).value)"
      >
        <option
          v-if="!shelf.shelf.paints.some((p) => p.id === store.coat!.paint.id)"
          :value="store.coat.paint.id"
        >
          {{ store.coat.paint.name }}
        </option>
        <option v-for="p in shelf.shelf.paints" :key="p.id" :value="p.id">{{ p.name }}</option>
      </select>
      <StatusSign v-if="store.coatWorkings" :sign="store.coatWorkings.spray.verdict" />
    </div>
    <p class="small number">
      {{ passes }} {{ passes === 1 ? 'pass' : 'passes' }} from
      {{ stations.length === 1 ? 'one station' : `${stations.length} stations` }}
      <template v-if="store.coatWorkings">
        · covers {{ share(store.coatWorkings.layer.covered_share) }} ·
        {{ decimals(store.coatWorkings.layer.bare_cm2, 1) }} cm² still bare
      </template>
    </p>
    <SkyDisc
      class="disc"
      :stations="stations"
      :ghosts="ghosts"
      :selected="store.station?.id ?? null"
      :light="light"
      @select="store.stationId = $event"
      @move="move"
      @done="done"
    />
    <section v-if="store.station" class="station" aria-label="Selected station">
      <div class="title">
        <h3>
          Station {{ index }}<span class="small"> of {{ stations.length }}</span>
        </h3>
        <span class="buttons">
          <button
            class="quiet-button"
            type="button"
            :disabled="stations.length >= 12"
            @click="addStation"
          >
            Add
          </button>
          <button
            class="quiet-button"
            type="button"
            :disabled="stations.length < 2"
            @click="removeStation"
          >
            Remove
          </button>
        </span>
      </div>
      <p class="hold">{{ holding ?? '…' }}</p>
      <div class="fields">
        <NumberField
          label="Azimuth"
          unit="°"
          :min="-360"
          :max="360"
          :step="5"
          :digits="1"
          :model-value="store.station.azimuth_deg"
          @update:model-value="set('azimuth_deg', $event)"
        />
        <NumberField
          label="Elevation"
          unit="°"
          :min="-90"
          :max="90"
          :step="5"
          :digits="1"
          :model-value="store.station.elevation_deg"
          @update:model-value="set('elevation_deg', $event)"
        />
        <NumberField
          label="Sweep ±"
          unit="°"
          :min="2"
          :max="90"
          :step="2"
          :digits="1"
          :model-value="store.station.spread_deg"
          @update:model-value="set('spread_deg', $event)"
        />
        <NumberField
          label="Passes"
          :min="1"
          :max="200"
          :model-value="store.station.passes"
          @update:model-value="set('passes', $event)"
        />
      </div>
    </section>
  </div>
  <div v-else class="coat">
    <h2>Bare surface</h2>
    <p>Nothing is sprayed yet. Choose a coat in the film, or press <span class="mono">]</span>.</p>
  </div>
</template>

<style scoped>
.coat {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 12px 16px 16px;
}
.head {
  display: flex;
  align-items: center;
  gap: 10px;
}
.chip {
  flex: none;
  width: 26px;
  height: 26px;
  border: 1px solid var(--edge);
}
.paint {
  flex: 1;
  min-width: 0;
  min-height: 44px;
  padding: 0 6px;
  border: 1px solid transparent;
  border-radius: 3px;
  background: var(--surface);
  color: var(--text);
  font: 640 var(--f20) var(--sans);
  text-overflow: ellipsis;
}
.paint:hover {
  border-color: var(--edge);
}
.disc {
  max-height: 46vh;
}
.station {
  display: grid;
  gap: 8px;
}
.title {
  display: flex;
  align-items: center;
  justify-content: space-between;
}
.buttons {
  display: flex;
  gap: 6px;
}
.hold::first-letter {
  text-transform: uppercase;
}
.hold {
  min-height: 2.8em;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
</style>
