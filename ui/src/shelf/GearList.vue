<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { ref } from 'vue';

import { api, sentence, take, type ShelfScreenData } from '@/api/client';
import { THINNER_KINDS } from '@/craft.generated';
import { decimals, parseNumber } from '@/displays/format';
import { useShelf } from '@/stores/shelf';
import ChoiceField from '@/fields/ChoiceField.vue';
import TextField from '@/fields/TextField.vue';
import { asChoices } from '@/fields/choices';

import { freshId } from './blank-paint';

/** Airbrushes and needles, thinners, the compressor. */
const open = defineModel<boolean>({ required: true });
defineProps<{ data: ShelfScreenData }>();
const emit = defineEmits<{ done: [data: ShelfScreenData] }>();
const shelf = useShelf();
const problem = ref('');
const airbrush = ref({ name: '', needle: '0.3', cup: '7' });
const thinner = ref({
  name: '',
  kind: 'acrylic_thinner' as keyof typeof THINNER_KINDS,
  drop: '50',
});
const compressor = ref({ name: '', psi: '60', tank: '0' });
async function attempt(work: () => Promise<ShelfScreenData>): Promise<boolean> {
  problem.value = '';
  try {
    emit('done', await work());
    await shelf.reload();
    return true;
  } catch (error) {
    problem.value = sentence(error);
    return false;
  }
}
async function addAirbrush(): Promise<void> {
  const a = airbrush.value;
  const body = {
    id: freshId(a.name),
    name: a.name.trim(),
    needle_mm: parseNumber(a.needle) ?? 0,
    cup_ml: parseNumber(a.cup) ?? 0,
  };
  if (await attempt(() => take(api.PUT('/api/shelf/airbrush', { body })))) a.name = '';
}
async function addThinner(): Promise<void> {
  const t = thinner.value;
  const body = {
    id: freshId(t.name),
    name: t.name.trim(),
    kind: t.kind,
    drop_ul: parseNumber(t.drop) ?? 0,
    ml_left: null,
  };
  if (await attempt(() => take(api.PUT('/api/shelf/thinner', { body })))) t.name = '';
}
async function addCompressor(): Promise<void> {
  const c = compressor.value;
  const body = {
    id: freshId(c.name),
    name: c.name.trim(),
    most_psi: parseNumber(c.psi) ?? 0,
    tank_l: parseNumber(c.tank) ?? 0,
  };
  if (await attempt(() => take(api.PUT('/api/shelf/compressor', { body })))) c.name = '';
}
function drop(what: string, id: string): void {
  void attempt(() =>
    take(api.DELETE('/api/shelf/{what}/{gear_id}', { params: { path: { what, gear_id: id } } })),
  );
}
</script>

<template>
  <ElDialog v-model="open" title="Equipment" width="720px" top="5vh" append-to-body>
    <div class="gear" data-test="gear-list">
      <p v-if="problem" class="note" role="alert">{{ problem }}</p>
      <section>
        <h3>Airbrushes and needles</h3>
        <p v-for="a in data.airbrushes" :key="a.id">
          <span>{{ a.name }}</span>
          <span class="number">{{ decimals(a.needle_mm, 2) }} mm needle</span>
          <span class="number">{{ decimals(a.cup_ml ?? 7, 1) }} ml cup</span>
          <ElButton @click="drop('airbrush', a.id)"> Delete </ElButton>
        </p>
        <form @submit.prevent="addAirbrush">
          <TextField v-model="airbrush.name" label="Airbrush name" required />
          <TextField v-model="airbrush.needle" label="Needle" unit="mm" figures />
          <TextField v-model="airbrush.cup" label="Cup" unit="ml" figures />
          <ElButton native-type="submit">Add</ElButton>
        </form>
      </section>
      <section>
        <h3>Thinners</h3>
        <p v-for="t in data.thinners" :key="t.id">
          <span>{{ t.name }}</span>
          <span>{{ t.kind.replaceAll('_', ' ') }}</span>
          <span class="number">{{ decimals(t.drop_ul ?? 50, 0) }} µl a drop</span>
          <ElButton @click="drop('thinner', t.id)"> Delete </ElButton>
        </p>
        <form @submit.prevent="addThinner">
          <TextField v-model="thinner.name" label="Thinner name" required />
          <ChoiceField
            v-model="thinner.kind"
            label="Kind of thinner"
            :choices="asChoices(THINNER_KINDS)"
          />
          <TextField v-model="thinner.drop" label="Drop" unit="µl" figures />
          <ElButton native-type="submit">Add</ElButton>
        </form>
      </section>
      <section>
        <h3>Compressor</h3>
        <p v-for="c in data.compressors" :key="c.id">
          <span>{{ c.name }}</span>
          <span class="number">up to {{ decimals(c.most_psi, 0) }} psi</span>
          <span class="number">{{ c.tank_l ? `${decimals(c.tank_l, 1)} l tank` : 'no tank' }}</span>
          <ElButton @click="drop('compressor', c.id)"> Delete </ElButton>
        </p>
        <form @submit.prevent="addCompressor">
          <TextField v-model="compressor.name" label="Compressor name" required />
          <TextField v-model="compressor.psi" label="Highest pressure" unit="psi" figures />
          <TextField v-model="compressor.tank" label="Tank" unit="l" figures />
          <ElButton native-type="submit">Add</ElButton>
        </form>
        <p class="note small">
          Stay under the ratings of hose, regulator and tank; drain the water, and unplug before
          service.
        </p>
      </section>
    </div>
  </ElDialog>
</template>

<style scoped>
.gear {
  display: grid;
  gap: 18px;
}
section {
  display: grid;
  gap: 4px;
}
p:not(.note) {
  display: grid;
  grid-template-columns: 1.4fr 1fr 1fr auto;
  align-items: center;
  gap: 8px;
}
form {
  display: grid;
  grid-template-columns: 1.4fr 1fr 1fr auto;
  align-items: end;
  gap: 8px;
}
</style>
