<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';

import { api, sentence, take, type GlowLight, type KeyLight, type Light } from '@/api/client';
import { useSky } from '@/composables/use-sky';
import SkyDisc from '@/instruments/sky/SkyDisc.vue';
import type { Angles } from '@/instruments/sky/projection';
import AngleFields from '@/parts/AngleFields.vue';
import NameField from '@/parts/NameField.vue';
import NumberField from '@/parts/NumberField.vue';
import ShareBars from '@/parts/ShareBars.vue';
import { share } from '@/parts/format';
import { usePlan } from '@/stores/plan';

import AnglesPanel from './AnglesPanel.vue';
import CompareLights from './CompareLights.vue';

const MOST_LIGHTS = 12;
const store = usePlan();
const presets = ref<{ id: string; name: string; words: string }[]>([]);
const comparing = ref(false);
const problem = ref('');
const panel = ref<InstanceType<typeof AnglesPanel>>();

onMounted(async () => {
  try {
    presets.value = (await take(api.GET('/api/light/presets'))).presets;
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
function change(fields: Partial<KeyLight> & Partial<GlowLight>): void {
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
  const id = fresh();
  add(
    {
      kind: 'key',
      id,
      name: 'Key',
      azimuth_deg: 40,
      elevation_deg: 45,
      softness_deg: 15,
      strength: 1,
      colour: '#ffffff',
    },
    'Key light added',
  );
}
function addOpposite(): void {
  const key = lights.value.find((l): l is KeyLight => l.kind === 'key');
  if (!key) return addKey();
  const away = ((key.azimuth_deg! + 360) % 360) - 180;
  add(
    {
      ...key,
      id: fresh(),
      name: 'Opposite key',
      azimuth_deg: away,
      strength: 0.8,
      colour: '#9fc4ff',
    },
    'Opposite key added',
  );
}
function addSky(): void {
  add(
    { kind: 'sky', id: fresh(), name: 'Sky', strength: 0.4, colour: '#ffffff' },
    'Sky light added',
  );
}
function addGlow(): void {
  store.picking = {
    words: 'Click on the piece where the glow sits.',
    done: (at) =>
      add(
        {
          kind: 'glow',
          id: fresh(),
          name: 'Glow',
          shape: 'sphere',
          at,
          to: null,
          radius_mm: 1,
          reach_mm: Math.max(2, Math.round((store.plan?.piece.height_mm ?? 30) / 8)),
          clear_mm: 0,
          strength: 1,
          colour: '#8fe8dc',
        },
        'Glow placed',
      ),
  };
}
function place(end: 'at' | 'to'): void {
  store.picking = {
    words: end === 'at' ? 'Click on the new place of the glow.' : 'Click on the other end.',
    done: (at) => change({ [end]: at }),
  };
}
function setShape(shape: GlowLight['shape']): void {
  change({ shape });
  const glow = store.light;
  if (shape === 'strip' && glow?.kind === 'glow' && !glow.to) place('to');
}
/** Move a glow off the surface it was clicked on, or beside the piece: axis of the piece, in mm. */
function shift(axis: 0 | 1 | 2, mm: number): void {
  const glow = store.light;
  const work = store.workings;
  if (glow?.kind !== 'glow' || !work) return;
  // the file's own direction along that axis, per millimetre
  const along = work.frame[axis]!.slice(0, 3);
  const step = (mm * work.units_per_mm) / along.reduce((sum, v) => sum + v * v, 0);
  const moved = (at: number[]): number[] => at.map((v, i) => v + along[i]! * step);
  change({ at: moved(glow.at), ...(glow.to ? { to: moved(glow.to) } : {}) });
}
const SHIFTS: { label: string; axis: 0 | 1 | 2; way: 1 | -1 }[] = [
  { label: 'Up', axis: 2, way: 1 },
  { label: 'Down', axis: 2, way: -1 },
  { label: 'Left', axis: 0, way: -1 },
  { label: 'Right', axis: 0, way: 1 },
  { label: 'To the front', axis: 1, way: -1 },
  { label: 'To the back', axis: 1, way: 1 },
];
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
async function usePreset(event: Event): Promise<void> {
  const box = event.target as HTMLSelectElement;
  const preset = box.value;
  box.value = '';
  const plan = store.plan;
  if (!plan || !preset) return;
  problem.value = '';
  try {
    const found = await take(api.POST('/api/light/preset', { body: { plan, preset } }));
    const name = presets.value.find((p) => p.id === preset)?.name ?? preset;
    await store.change(`Light plan: ${name}`, (draft) => {
      const glows = (draft.lights ?? []).filter((l) => l.kind === 'glow');
      draft.lights = [...found.lights, ...glows];
      if (preset === 'noon' || preset === 'shoulder' || preset === 'stage') {
        draft.schools = { ...draft.schools!, light: preset };
      }
    });
    store.lightId = found.lights[0]?.id ?? null;
  } catch (error) {
    problem.value = sentence(error);
  }
}
defineExpose({ workOut: () => panel.value?.workOut() });
</script>

<template>
  <div class="light">
    <header>
      <select aria-label="Light plan to start from" data-test="presets" @change="usePreset">
        <option value="">Light plan …</option>
        <option v-for="p in presets" :key="p.id" :value="p.id">{{ p.name }}: {{ p.words }}</option>
      </select>
      <button class="quiet-button" type="button" data-test="compare" @click="comparing = true">
        Compare three
      </button>
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
        <h3>Show side</h3>
        <ShareBars :shares="study.show" narrow />
      </div>
      <div>
        <h3>All round</h3>
        <ShareBars :shares="study.around" narrow />
      </div>
      <p v-if="study.meeting" class="small wide">
        On the show side {{ study.meeting.first_name }} and {{ study.meeting.second_name }} meet on
        {{ share(study.meeting.both) }}; {{ share(study.meeting.neither) }} gets neither.
      </p>
    </section>
    <div class="lights" role="radiogroup" aria-label="Lights">
      <button
        v-for="l in lights"
        :key="l.id"
        type="button"
        role="radio"
        class="quiet-button lamp"
        :aria-checked="l.id === store.light?.id"
        :class="{ chosen: l.id === store.light?.id }"
        :data-test="`light-${l.id}`"
        @click="store.lightId = l.id!"
      >
        <i :style="{ background: l.colour }" /><span>{{ l.name }}</span>
        <small>{{ KIND[l.kind!] }}</small>
      </button>
    </div>
    <div v-if="lights.length < MOST_LIGHTS" class="adds" role="group" aria-label="Add a light">
      <button class="quiet-button" type="button" @click="addKey">Key</button>
      <button class="quiet-button" type="button" @click="addOpposite">Opposite</button>
      <button class="quiet-button" type="button" @click="addSky">Sky</button>
      <button class="quiet-button" type="button" data-test="add-glow" @click="addGlow">Glow</button>
    </div>
    <section v-if="store.light" class="one" :aria-label="store.light.name">
      <div class="title">
        <NameField
          :model-value="store.light.name!"
          label="Name of the light"
          @update:model-value="change({ name: $event })"
        />
        <button class="quiet-button" type="button" @click="remove">Remove</button>
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
        <template v-if="store.light.kind === 'glow'">
          <label class="wide">
            <span class="small">Shape</span>
            <select
              :value="store.light.shape"
              @change="setShape(($event.target as HTMLSelectElement).value as GlowLight['shape'])"
            >
              <option value="sphere">a ball of light</option>
              <option value="strip">a strip</option>
              <option value="pool">a pool that faces up</option>
            </select>
          </label>
          <NumberField
            label="Full light at"
            unit="mm"
            :min="0.5"
            :max="1000"
            :digits="1"
            :model-value="store.light.reach_mm!"
            @update:model-value="change({ reach_mm: $event })"
          />
          <NumberField
            v-if="store.light.shape !== 'strip'"
            label="Radius"
            unit="mm"
            :min="0.1"
            :max="500"
            :digits="1"
            :model-value="store.light.radius_mm!"
            @update:model-value="change({ radius_mm: $event })"
          />
          <NumberField
            label="No shadow within"
            unit="mm"
            :min="0"
            :max="100"
            :digits="1"
            :model-value="store.light.clear_mm!"
            @update:model-value="change({ clear_mm: $event })"
          />
          <span class="places">
            <button class="quiet-button" type="button" @click="place('at')">Place</button>
            <button
              v-if="store.light.shape === 'strip'"
              class="quiet-button"
              type="button"
              @click="place('to')"
            >
              Other end
            </button>
          </span>
          <span class="places" role="group" aria-label="Move the glow by a millimetre">
            <span class="small">1 mm</span>
            <button
              v-for="m in SHIFTS"
              :key="m.label"
              class="quiet-button"
              type="button"
              @click="shift(m.axis, m.way)"
            >
              {{ m.label }}
            </button>
          </span>
        </template>
        <NumberField
          label="Strength"
          unit="%"
          :min="0"
          :max="400"
          :step="10"
          :model-value="store.light.strength! * 100"
          @update:model-value="change({ strength: $event / 100 })"
        />
        <label>
          <span class="small">Colour</span>
          <input
            type="color"
            :value="store.light.colour"
            @change="change({ colour: ($event.target as HTMLInputElement).value })"
          />
        </label>
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
.lamp {
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
  border: 2px solid var(--strong);
  font-weight: 640;
}
.adds::before {
  content: 'Add';
  align-self: center;
  color: var(--text-2);
}
.adds .quiet-button {
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
.fields label {
  display: grid;
  gap: 2px;
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
select,
input[type='color'] {
  min-height: 44px;
  min-width: 0;
  width: 100%;
  padding: 0 8px;
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--surface);
  color: var(--text);
  font: inherit;
}
input[type='color'] {
  padding: 3px;
}
.shares {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 14px;
}
</style>
