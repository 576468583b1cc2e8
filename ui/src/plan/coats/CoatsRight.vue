<script setup lang="ts">
import { computed, ref } from 'vue';

import { MOST, SPRAYED } from '@/craft.generated';
import { useSky } from '@/composables/use-sky';
import SkyDisc, { type SkyStation } from '@/instruments/sky/SkyDisc.vue';
import type { Angles } from '@/instruments/sky/projection';
import AngleFields from '@/fields/AngleFields.vue';
import DropRow from '@/colour/DropRow.vue';
import { decimals, share } from '@/displays/format';
import HoldSketch from './HoldSketch.vue';
import NumberField from '@/fields/NumberField.vue';
import StatusSign from '@/displays/StatusSign.vue';
import FindingList from './FindingList.vue';
import { usePlan } from '@/stores/plan';
import { useShelf } from '@/stores/shelf';

import AimFields from './AimFields.vue';
import AnglesPanel from '@/plan/AnglesPanel.vue';
import OffColour from '@/plan/OffColour.vue';
import HandFields from './HandFields.vue';
import MixDialog from '@/colour/MixDialog.vue';
import MixFields from './MixFields.vue';

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
const ghosts = computed<SkyStation[]>(() =>
  store.sprayed
    .filter((c) => !c.off && c.id !== store.coat?.id && c.stations.length < 4)
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
    ),
);
const { suns, blocked } = useSky();
const told = computed(
  () => store.coatWorkings?.stations.find((s) => s.id === store.station?.id) ?? null,
);
/** What each part still lacks, when there is more than one. */
const perPart = computed(() => {
  const names = new Map(store.workings?.parts.map((v) => [v.part.id, v.part.name] as const));
  const rows = store.coatWorkings?.layer.parts ?? [];
  return rows.length > 1 ? rows.map((r) => ({ ...r, name: names.get(r.part) ?? r.part })) : [];
});
const panel = ref<InstanceType<typeof AnglesPanel>>();
const index = computed(
  () => (store.coat?.stations.findIndex((s) => s.id === store.station?.id) ?? 0) + 1,
);

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
const FIELD = {
  azimuth: 'azimuth_deg',
  elevation: 'elevation_deg',
  width: 'spread_deg',
} as const;
function setPaint(id: string): void {
  const paint = shelf.shelf.paints.find((p) => p.id === id);
  if (!paint) return;
  void store.changeCoat(`${paint.name} instead of ${store.coat?.paint.name}`, (coat) => {
    coat.paint = paint;
    coat.drops = 1;
    coat.also = [];
    coat.name = paint.name;
  });
}
/** Grounds and varnishes go everywhere: there is no light for them to paint. */
const allRound = computed(() => SPRAYED.find((t) => t.id === store.coat?.task)?.all_round ?? false);
const mixing = ref(false);
const wanted = ref('#808080');
function mix(colour: string): void {
  wanted.value = colour;
  mixing.value = true;
}
/** The mix of this coat by paint id; empty when it is one paint. */
const mixed = computed(() =>
  store.coat?.also?.length
    ? Object.fromEntries([
        [store.coat.paint.id, store.coat.drops ?? 1],
        ...store.coat.also.map((m) => [m.paint.id, m.drops ?? 1] as const),
      ])
    : null,
);
defineExpose({ workOut: () => panel.value?.workOut(), mix });
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
      <button
        v-if="!mixed"
        class="quiet-button"
        type="button"
        data-test="mix"
        @click="mix(store.coat.paint.masstone)"
      >
        Mix
      </button>
      <StatusSign v-if="store.coatWorkings" :sign="store.coatWorkings.spray.verdict" />
    </div>
    <div v-if="mixed" class="mixed">
      <DropRow :drops="mixed" />
      <button class="quiet-button" type="button" @click="mix(store.coat.paint.masstone)">
        Mix anew
      </button>
    </div>
    <MixFields :key="store.coat.id" />
    <p v-if="store.coat.note" class="small">{{ store.coat.note }}</p>
    <!-- what answers bring stands below, so that the sky stays under the hand -->
    <AimFields v-if="store.coat.aim" />
    <SkyDisc
      v-else
      class="disc"
      :stations="stations"
      :ghosts="ghosts"
      :selected="store.station?.id ?? null"
      :lights="suns"
      :blocked="blocked"
      @select="store.stationId = $event"
      @move="move"
      @done="done"
    />
    <FindingList />
    <p class="small number">
      {{ store.coatWorkings?.rounds
      }}<template v-if="store.coat.aim">, {{ store.coatWorkings?.aim_words }}</template>
      <template v-if="store.coatWorkings">
        · lands on {{ share(store.coatWorkings.layer.landed_share) }}, covers
        {{ share(store.coatWorkings.layer.covered_share) }} ·
        {{ decimals(store.coatWorkings.layer.bare_cm2, 1) }} cm² still bare
      </template>
    </p>
    <p v-for="u in store.coatWorkings?.layer.uneven ?? []" :key="u.less" class="note">
      <StatusSign sign="mind" /> {{ u.words }}
    </p>
    <OffColour />
    <AnglesPanel
      v-if="!store.coat.aim && !allRound"
      ref="panel"
      :key="store.coat.id"
      :coat="store.coat.id"
    />
    <section v-if="store.station" class="station" aria-label="Selected station">
      <div class="title">
        <h3>
          Station {{ index }}<span class="small"> of {{ stations.length }}</span>
          <span class="small side">{{ told?.side }}</span>
        </h3>
        <span class="buttons">
          <button
            class="quiet-button"
            type="button"
            :disabled="stations.length >= MOST.stations"
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
      <p v-if="told?.blocked_by" class="note">
        <StatusSign sign="mind" /> {{ told.blocked_by }} is in the way here.
      </p>
      <div class="fields">
        <AngleFields
          :azimuth="store.station.azimuth_deg"
          :elevation="store.station.elevation_deg"
          :width="store.station.spread_deg ?? 10"
          width-label="Sweep ±"
          @set="(f, v) => set(FIELD[f], v)"
        />
        <NumberField
          label="Rounds"
          :min="1"
          :max="200"
          :model-value="store.station.passes"
          @update:model-value="set('passes', $event)"
        />
      </div>
      <HoldSketch
        :azimuth="store.station.azimuth_deg"
        :elevation="store.station.elevation_deg"
        :words="told?.holding ?? '…'"
      />
    </section>
    <table v-if="perPart.length" class="parts" aria-label="This coat by part">
      <thead>
        <tr class="small">
          <th>part</th>
          <th class="number">lands on</th>
          <th class="number">covers</th>
          <th class="number">still bare</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in perPart" :key="r.part">
          <td>{{ r.name }}</td>
          <td class="number">{{ share(r.landed_share) }}</td>
          <td class="number">{{ share(r.covered_share) }}</td>
          <td class="number">{{ decimals(r.bare_cm2, 1) }} cm²</td>
        </tr>
      </tbody>
    </table>
  </div>
  <div v-else-if="store.hand" class="coat">
    <HandFields />
    <FindingList />
  </div>
  <div v-else class="coat">
    <h2>Bare surface</h2>
    <p>Nothing is sprayed yet. Choose a coat in the film, or press <span class="mono">]</span>.</p>
  </div>
  <MixDialog v-model="mixing" :start="wanted" :for-coat="store.coat !== null" />
</template>

<style scoped>
.side {
  display: block;
  font-weight: 400;
}
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
.mixed {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
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
  max-height: 36vh;
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
.parts {
  width: 100%;
  border-collapse: collapse;
}
.parts th {
  font-weight: 400;
  text-align: left;
}
.parts .number {
  text-align: right;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
</style>
