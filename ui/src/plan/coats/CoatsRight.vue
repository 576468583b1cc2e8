<script setup lang="ts">
import { ElButton, ElCollapse, ElCollapseItem, ElTable, ElTableColumn } from 'element-plus';
import { computed, ref } from 'vue';

import type { PaintUsed } from '@/api/client';

import { MOST, OPACITIES, SPRAYED } from '@/craft.generated';
import { useSky } from '@/composables/use-sky';
import SkyDisc, { type SkyStation } from '@/instruments/sky/SkyDisc.vue';
import type { Angles } from '@/instruments/sky/projection';
import AngleFields from '@/fields/AngleFields.vue';
import DropRow from '@/colour/DropRow.vue';
import { decimals, share } from '@/displays/format';
import HoldSketch from './HoldSketch.vue';
import NumberField from '@/fields/NumberField.vue';
import PaintField from '@/fields/PaintField.vue';
import FigureRow, { type Figure } from '@/displays/FigureRow.vue';
import StatusSign from '@/displays/StatusSign.vue';
import FindingList from './FindingList.vue';
import { usePlan } from '@/stores/plan';

import AimFields from './AimFields.vue';
import AnglesPanel from '@/plan/AnglesPanel.vue';
import OffColour from '@/plan/OffColour.vue';
import HandFields from './HandFields.vue';
import MixDialog from '@/colour/MixDialog.vue';
import MixFields from './MixFields.vue';

const store = usePlan();

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
function setPaint(paint: PaintUsed): void {
  void store.changeCoat(`${paint.name} instead of ${store.coat?.paint.name}`, (coat) => {
    coat.paint = paint;
    coat.drops = 1;
    coat.also = [];
    coat.name = paint.name;
  });
}
/** Grounds and varnishes go everywhere: there is no light for them to paint. */
const allRound = computed(() => SPRAYED.find((t) => t.id === store.coat?.task)?.all_round ?? false);
/** What is in the bottle. */
const bottle = computed(() => {
  const paint = store.coat?.paint;
  return paint
    ? [paint.maker, OPACITIES[paint.opacity ?? 'opaque']].filter(Boolean).join(', ')
    : '';
});
/** Where there is room, what else one wants to know lies open. */
const roomy = window.matchMedia('(min-width: 1700px) and (min-height: 900px)').matches;
const unfolded = ref<string[]>(roomy ? ['hold', 'parts'] : []);
const sideName = computed(() => {
  const side = told.value?.side ?? 'side';
  return side.charAt(0).toUpperCase() + side.slice(1);
});
const figures = computed<Figure[] | null>(() => {
  const layer = store.coatWorkings?.layer;
  if (!layer) return null;
  const percent = (part: number): string => decimals(part * 100, 0);
  return [
    { word: 'lands on', value: percent(layer.landed_share), unit: '%', from: LANDS },
    { word: 'covers', value: percent(layer.covered_share), unit: '%', from: COVERS },
    { word: 'uncovered', value: decimals(layer.bare_cm2, 1), unit: 'cm²', from: BARE_CM2 },
  ];
});
const LANDS = 'of the surface gets any film of this coat; from the model';
const COVERS = 'of the surface gets at least half of a square-on film; from the model';
const BARE_CM2 = 'of each copy has less than 1 µm of film after this coat; from the model';
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
      <div class="paint">
        <h2 v-if="mixed" :title="store.coat.name">{{ store.coat.name }}</h2>
        <PaintField
          v-else
          label="Paint of this coat"
          hide-label
          class="which"
          :paint="store.coat.paint"
          @chosen="setPaint"
        />
        <span class="small">{{ bottle }}</span>
      </div>
      <ElButton data-test="mix" @click="mix(store.coat.paint.masstone)">
        {{ mixed ? 'Mix again' : 'Mix' }}
      </ElButton>
    </div>
    <DropRow v-if="mixed" :drops="mixed" />
    <FindingList />
    <p v-if="store.coat.note" class="small">{{ store.coat.note }}</p>
    <p v-if="store.coatWorkings" class="side-words number" data-test="rounds">
      {{ store.coatWorkings.rounds
      }}<template v-if="store.coat.aim">, {{ store.coatWorkings.aim_words }}</template>
      <StatusSign :sign="store.coatWorkings.spray.verdict" />
    </p>
    <AimFields v-if="store.coat.aim" />
    <SkyDisc
      v-else
      class="disc"
      data-tour="sky"
      :stations="stations"
      :ghosts="ghosts"
      :selected="store.station?.id ?? null"
      :lights="suns"
      :blocked="blocked"
      @select="store.stationId = $event"
      @move="move"
      @done="done"
    />
    <AnglesPanel
      v-if="!store.coat.aim && !allRound"
      ref="panel"
      :key="store.coat.id"
      :coat="store.coat.id"
    />
    <FigureRow v-if="figures" class="shares" data-test="shares" :figures="figures" />
    <p v-for="u in store.coatWorkings?.layer.uneven ?? []" :key="u.less" class="note">
      <StatusSign sign="mind" /> {{ u.words }}
    </p>
    <section v-if="store.station" class="station" aria-label="Selected station">
      <div class="title">
        <h3>
          {{ sideName }} <small>{{ index }} of {{ stations.length }}</small>
        </h3>
        <span class="buttons">
          <ElButton text :disabled="stations.length >= MOST.stations" @click="addStation">
            Add
          </ElButton>
          <ElButton text :disabled="stations.length < 2" @click="removeStation">Remove</ElButton>
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
    </section>
    <ElCollapse v-model="unfolded" class="more">
      <ElCollapseItem v-if="store.station" name="hold" title="How to hold it">
        <HoldSketch
          :azimuth="store.station.azimuth_deg"
          :elevation="store.station.elevation_deg"
          :words="told?.holding ?? '…'"
        />
      </ElCollapseItem>
      <ElCollapseItem name="drops" title="By drops, over dark and light" data-test="by-drops">
        <MixFields v-if="unfolded.includes('drops')" :key="store.coat.id" />
      </ElCollapseItem>
      <ElCollapseItem v-if="perPart.length" name="parts" title="This coat by part">
        <ElTable :data="perPart" aria-label="This coat by part" data-test="by-part">
          <ElTableColumn label="part" prop="name" min-width="90" />
          <ElTableColumn label="lands on" align="right" width="72">
            <template #default="{ row }">{{ share(row.landed_share) }}</template>
          </ElTableColumn>
          <ElTableColumn label="covers" align="right" width="64">
            <template #default="{ row }">{{ share(row.covered_share) }}</template>
          </ElTableColumn>
          <ElTableColumn label="bare" align="right" width="72">
            <template #default="{ row }">{{ decimals(row.bare_cm2, 1) }} cm²</template>
          </ElTableColumn>
        </ElTable>
      </ElCollapseItem>
    </ElCollapse>
    <OffColour />
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
.coat {
  display: flex;
  flex-direction: column;
  gap: 10px;
  padding: 14px;
}
.head {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  align-items: center;
  gap: 10px;
}
.chip {
  width: 40px;
  height: 40px;
  border: 1px solid var(--outline);
  border-radius: 8px;
}
.paint h2 {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
/* the name of the paint reads as a title until it is pointed at */
.which :deep(.el-select__wrapper) {
  min-height: var(--control-small);
  margin-left: -6px;
  padding: 0 6px;
  border-bottom-color: transparent;
  background: none;
  font-size: var(--f18);
  font-weight: 680;
}
.which :deep(.el-select__wrapper:hover) {
  background: var(--well);
}
.which :deep(.el-select__prefix) {
  display: none;
}
.side-words .sign {
  margin-left: 4px;
}
.side-words {
  font-size: 1rem;
  line-height: 1.35;
}
.disc {
  max-height: max(27vh, 216px);
}
@media (min-width: 1700px) and (min-height: 900px) {
  .disc {
    max-height: 34vh;
  }
}
.shares {
  padding-bottom: 8px;
  border-bottom: 1px solid var(--hair);
  justify-content: space-between;
}
.station {
  display: grid;
  gap: 4px;
}
.title h3 {
  line-height: 1.25;
}
.title {
  display: flex;
  align-items: center;
  justify-content: space-between;
}
.buttons {
  display: flex;
  flex: none;
}
.fields {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 6px;
}
.more {
  --el-collapse-header-bg-color: transparent;
  --el-collapse-content-bg-color: transparent;
  --el-collapse-header-height: 36px;
  --el-collapse-border-color: var(--hair);
  border-bottom: 0;
}
</style>
