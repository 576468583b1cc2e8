<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed, onMounted, ref } from 'vue';

import {
  api,
  sentence,
  take as answer,
  type GlowLight,
  type KeyLight,
  type Light,
} from '@/api/client';
import { FRESH, MOST } from '@/craft.generated';
import { useSky } from '@/composables/use-sky';
import SkyDisc from '@/instruments/sky/SkyDisc.vue';
import type { Angles } from '@/instruments/sky/projection';
import AngleFields from '@/fields/AngleFields.vue';
import NameField from '@/fields/NameField.vue';
import NumberField from '@/fields/NumberField.vue';
import ShareBars from '@/displays/ShareBars.vue';
import { share } from '@/displays/format';
import { usePlan } from '@/stores/plan';

import AnglesPanel from '@/plan/AnglesPanel.vue';
import CompareLights from './CompareLights.vue';
import GlowFields from './GlowFields.vue';
import ChoiceField from '@/fields/ChoiceField.vue';
import ColourField from '@/fields/ColourField.vue';

const store = usePlan();
const presets = ref<{ id: string; name: string; words: string }[]>([]);
const comparing = ref(false);
const problem = ref('');
const panel = ref<InstanceType<typeof AnglesPanel>>();

onMounted(async () => {
  try {
    presets.value = (await answer(api.GET('/api/light/presets'))).presets;
  } catch (error) {
    problem.value = sentence(error);
  }
});

const lights = computed<Light[]>(() => store.plan?.lights ?? []);
const { suns, blocked } = useSky();
const study = computed(() => store.workings?.light ?? null);
const KIND: Record<Light['kind'] & string, string> = { key: 'key', sky: 'sky', glow: 'glow' };

function move(id: string, to: Angles): void {
  store.lightId = id;
  store.sketch((plan) => {
    const l = plan.lights?.find((x) => x.id === id);
    if (l?.kind === 'key') {
      l.azimuth_deg = to.azimuth;
      l.elevation_deg = to.elevation;
    }
  });
}
function done(): void {
  if (!store.settle()) return;
  void store.commit(`Moved ${store.light?.name ?? 'the light'}`);
}
function change(fields: Partial<KeyLight> | Partial<GlowLight>): void {
  const id = store.light?.id;
  void store.change(`Changed ${store.light?.name ?? 'the light'}`, (plan) => {
    const l = plan.lights?.find((x) => x.id === id);
    if (l) Object.assign(l, fields);
  });
}
function setAngle(field: 'azimuth' | 'elevation' | 'width', value: number): void {
  const name = { azimuth: 'azimuth_deg', elevation: 'elevation_deg', width: 'softness_deg' }[field];
  change({ [name]: value });
}
function fresh(): string {
  return `l${Date.now().toString(36)}`;
}
function add(light: Light, words: string): void {
  store.lightId = light.id!;
  void store.change(words, (plan) => (plan.lights = [...(plan.lights ?? []), light]));
}
function addKey(): void {
  add({ ...FRESH.key, id: fresh() }, 'Key light added');
}
function addSky(): void {
  add({ ...FRESH.sky, id: fresh() }, 'Sky light added');
}
function addGlow(): void {
  store.picking = {
    words: 'Click on the piece where the glow sits.',
    done: (at) =>
      add(
        {
          ...FRESH.glow,
          id: fresh(),
          at,
          reach_mm: Math.max(2, Math.round((store.plan?.piece.height_mm ?? 30) / 8)),
        },
        'Glow placed',
      ),
  };
}
function remove(): void {
  const id = store.light?.id;
  const name = store.light?.name;
  void store.change(`${name} removed`, (plan) => {
    plan.lights = (plan.lights ?? []).filter((l) => l.id !== id);
    plan.coats = (plan.coats ?? []).filter((c) => c.aim?.light !== id);
  });
  store.lightId = null;
}
const aimedHere = computed(
  () => store.plan?.coats?.filter((c) => c.aim?.light === store.light?.id && c.aim?.light) ?? [],
);
function choose(id: string): void {
  const preset = presets.value.find((p) => p.id === id);
  if (preset) void take(preset.id, `Light plan: ${preset.name}`);
}
/** Take over what the server makes of the lights: a preset, or a second key from the other side. */
async function take(preset: string, words: string): Promise<void> {
  const plan = store.plan;
  if (!plan) return;
  problem.value = '';
  try {
    const found = await answer(api.POST('/api/light/preset', { body: { plan, preset } }));
    await store.change(words, (draft) => {
      draft.lights = found.lights;
      draft.schools = found.schools;
    });
    store.lightId = found.lights.find((l) => !plan.lights.some((o) => o.id === l.id))?.id ?? null;
  } catch (error) {
    problem.value = sentence(error);
  }
}
function addOpposite(): void {
  if (lights.value.some((l) => l.kind === 'key')) void take('opposite', 'Opposite key added');
  else addKey();
}
defineExpose({ workOut: () => panel.value?.workOut() });
</script>

<template>
  <div class="light">
    <header>
      <ChoiceField
        model-value=""
        label="Light plan to start from"
        hide-label
        placeholder="Light plan …"
        data-test="presets"
        :choices="presets.map((p) => ({ id: p.id, label: p.name, more: p.words }))"
        @update:model-value="choose"
      />
      <ElButton data-test="compare" @click="comparing = true"> Compare three </ElButton>
    </header>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
    <SkyDisc
      class="disc"
      :stations="[]"
      :selected="store.light?.id ?? null"
      :lights="suns"
      :blocked="blocked"
      moves-lights
      @select="store.lightId = $event"
      @move="move"
      @done="done"
    />
    <section v-if="study" class="shares" aria-label="How much is lit">
      <div>
        <h2>Front</h2>
        <ShareBars :shares="study.show" narrow />
      </div>
      <div>
        <h2>All round</h2>
        <ShareBars :shares="study.around" narrow />
      </div>
      <p v-if="study.meeting" class="small wide">
        On the front {{ study.meeting.first_name }} and {{ study.meeting.second_name }} meet on
        {{ share(study.meeting.both) }}; {{ share(study.meeting.neither) }} gets neither.
      </p>
    </section>
    <div class="lights" role="radiogroup" aria-label="Lights">
      <ElButton
        v-for="l in lights"
        :key="l.id"
        role="radio"
        class="lamp"
        :aria-checked="l.id === store.light?.id"
        :class="{ chosen: l.id === store.light?.id }"
        :data-test="`light-${l.id}`"
        @click="store.lightId = l.id!"
      >
        <i :style="{ background: l.colour }" /><span>{{ l.name }}</span>
        <small>{{ KIND[l.kind!] }}</small>
      </ElButton>
    </div>
    <div v-if="lights.length < MOST.lights" class="adds" role="group" aria-label="Add a light">
      <ElButton @click="addKey">Key</ElButton>
      <ElButton @click="addOpposite">Opposite</ElButton>
      <ElButton @click="addSky">Sky</ElButton>
      <ElButton data-test="add-glow" @click="addGlow">Glow</ElButton>
    </div>
    <section v-if="store.light" class="one" :aria-label="store.light.name">
      <div class="title">
        <NameField
          :model-value="store.light.name!"
          label="Name of the light"
          @update:model-value="change({ name: $event })"
        />
        <ElButton @click="remove">Remove</ElButton>
      </div>
      <p v-if="aimedHere.length" class="small">
        {{ aimedHere.map((c) => c.name).join(', ') }} is aimed round this glow and goes with it.
      </p>
      <div class="fields">
        <AngleFields
          v-if="store.light.kind === 'key'"
          :azimuth="store.light.azimuth_deg!"
          :elevation="store.light.elevation_deg!"
          :width="store.light.softness_deg!"
          width-label="Softness ±"
          @set="setAngle"
        />
        <GlowFields v-if="store.light.kind === 'glow'" @change="change" />
        <NumberField
          label="Strength"
          unit="%"
          :min="0"
          :max="400"
          :step="10"
          :model-value="store.light.strength! * 100"
          @update:model-value="change({ strength: $event / 100 })"
        />
        <ColourField
          class="wide"
          label="Colour"
          :model-value="store.light.colour!"
          @update:model-value="change({ colour: $event })"
        />
      </div>
    </section>
    <p v-else class="note">No light yet: add one, or choose a light plan.</p>
    <AnglesPanel ref="panel" :coat="null" />
    <CompareLights v-model="comparing" :presets="presets" />
  </div>
</template>

<style scoped>
.light {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
  padding: 14px 18px 20px;
}
header {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 8px;
}
.disc {
  max-height: 32vh;
}
.lights,
.adds {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.lamp :deep(> span) {
  display: flex;
  align-items: center;
  gap: 7px;
}
.lamp {
  max-width: 100%;
}
.lamp span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.lamp i {
  flex: none;
  width: 16px;
  height: 16px;
  border: 1px solid var(--edge);
  border-radius: 50%;
}
.lamp.chosen {
  border: 2px solid var(--black);
  font-weight: 640;
}
.adds::before {
  content: 'Add';
  align-self: center;
  color: var(--ink-2);
}
.adds .el-button {
  flex: 1;
  padding: 0 6px;
}
.one {
  display: grid;
  gap: 8px;
}
.title {
  display: flex;
  gap: 8px;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr;
  gap: 8px;
  align-items: end;
}
.places {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
}
.wide {
  grid-column: 1 / -1;
}
.shares h2 {
  font-size: var(--f15);
}
.shares {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 14px;
}
</style>
