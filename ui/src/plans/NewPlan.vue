<script setup lang="ts">
import {
  ElButton,
  ElDialog,
  ElRadioButton,
  ElRadioGroup,
  ElSegmented,
  ElSkeleton,
} from 'element-plus';
import { computed, ref, watch } from 'vue';
import { useRouter } from 'vue-router';

import { api, sentence, take, type MeshTaken, type MeshView, type StandInView } from '@/api/client';
import { useJob } from '@/composables/use-job';
import { decimals } from '@/displays/format';
import ChoiceField from '@/fields/ChoiceField.vue';
import NumberField from '@/fields/NumberField.vue';
import TextField from '@/fields/TextField.vue';
import StandInWall from '@/plan/piece/StandInWall.vue';
import { UPS, type Up } from '@/plan/piece/ups';
import { freshAnswers } from '@/plan/scheme/answers';
import SchemeAnswers from '@/plan/scheme/SchemeAnswers.vue';
import { useScheme } from '@/stores/scheme';

import MeshDrop from './MeshDrop.vue';

/** A new plan: what it is, how tall and how many, what colours; or bare, to build step by step. */
const open = defineModel<boolean>({ required: true });
const router = useRouter();
const scheme = useScheme();
const standIn = ref<StandInView | null>(null);
const mesh = ref<MeshView | null>(null);
const guessed = ref<MeshTaken | null>(null);
const name = ref('');
const size = ref('');
const height = ref(32);
const copies = ref(1);
const up = ref<Up>('z');
const answers = ref(freshAnswers('shoulder'));
const begins = ref<'colours' | 'bare'>('colours');
const busy = ref(false);
const problem = ref('');
const standing = useJob<true>();
const stood = ref<Up | null>(null);

watch([mesh, up], async ([now, way]) => {
  stood.value = null;
  if (!now) return;
  const ready = await stand(now.id, way);
  if (ready && mesh.value?.id === now.id && up.value === way) stood.value = way;
});
/** Prepares the mesh that way up, so that it can be looked at. */
async function stand(id: string, way: Up): Promise<boolean> {
  try {
    const params = { path: { mesh_id: id }, query: { up: way } };
    const { job } = await take(api.POST('/api/meshes/{mesh_id}/stand', { params }));
    if (!job) return true;
    const done = await standing.run(
      async () => job,
      async () => true as const,
    );
    return done === true;
  } catch (error) {
    problem.value = sentence(error);
    return false;
  }
}
const picture = computed(() => {
  if (standIn.value) return `/api/stand-ins/${standIn.value.id}/picture.webp`;
  if (!mesh.value || !stood.value) return '';
  return `/api/meshes/${mesh.value.id}/picture.png?up=${encodeURIComponent(stood.value)}`;
});
const chosen = computed(() => standIn.value?.name ?? mesh.value?.name ?? '');
const usual = computed(() => standIn.value?.sizes.find((s) => s.label === size.value));
const about = computed(() => {
  if (usual.value) return usual.value.words;
  const found = guessed.value;
  if (!found) return '';
  const unit = found.unit === 'mm' ? 'millimetres' : found.unit === 'm' ? 'metres' : found.unit;
  return `Assumed to stand on its flat side, the file in ${unit}: ${decimals(found.height_mm, 1)} mm tall. Change what is not so.`;
});

function takeStandIn(found: StandInView): void {
  standIn.value = found;
  size.value = found.usual;
  height.value = found.height_mm;
  name.value = found.name;
  answers.value = { ...answers.value, what: found.what };
}
watch(usual, (now) => {
  if (now) height.value = now.height_mm;
});
function takeDropped(found: MeshTaken): void {
  mesh.value = found;
  guessed.value = found;
  name.value = found.name.replace(/\.[^.]+$/, '').slice(0, 120);
  up.value = found.up;
  height.value = Math.min(2000, Math.max(1, Math.round(found.height_mm * 10) / 10));
}
function another(): void {
  standIn.value = mesh.value = guessed.value = null;
  problem.value = '';
}
/** The piece as a plan holds it; a stand-in is put into the data folder first. */
async function piece() {
  if (!standIn.value) return { mesh: mesh.value!.id, parts: [], up: up.value };
  const params = { path: { identity: standIn.value.id } };
  const found = await take(api.POST('/api/stand-ins/{identity}', { params }));
  return { mesh: found.mesh.id, parts: found.parts, up: 'z' as const };
}
async function make(): Promise<void> {
  busy.value = true;
  problem.value = '';
  try {
    const body = {
      ...(await piece()),
      name: name.value.trim(),
      height_mm: height.value,
      copies: Math.round(copies.value),
      lights: null,
    };
    const { id, plan } = await take(api.POST('/api/plans', { body }));
    if (begins.value === 'colours') void scheme.begin(id, plan, answers.value);
    await router.push({ name: 'plan', params: { id, step: 'coats' } });
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <ElDialog v-model="open" title="New plan" width="min(860px, 94vw)" top="5vh" append-to-body>
    <div v-if="!chosen" class="which">
      <StandInWall @chosen="takeStandIn" />
      <div class="own">
        <h3>Your own mesh</h3>
        <MeshDrop @done="takeDropped" />
        <p class="small">No mesh of the kit you bought? Press what comes nearest to it.</p>
      </div>
    </div>
    <div v-else class="two">
      <div>
        <div class="picture" data-test="standing">
          <img v-if="picture" :src="picture" :alt="standIn ? '' : `The mesh with ${up} up`" />
          <p v-else-if="standing.problem.value" class="small" role="alert">
            {{ standing.problem.value }}
          </p>
          <ElSkeleton v-else animated :rows="5" aria-label="Preparing its picture" />
        </div>
        <p class="small">
          {{ chosen }}<template v-if="mesh">, {{ mesh.faces.toLocaleString() }} triangles</template>
          <ElButton text size="small" @click="another">Change model</ElButton>
        </p>
      </div>
      <div class="form">
        <TextField v-model="name" label="Name of the plan" />
        <ElSegmented
          v-if="standIn?.sizes.length"
          v-model="size"
          :options="standIn.sizes.map((s) => s.label)"
          aria-label="Usual size"
          data-test="stand-in-size"
        />
        <ChoiceField v-if="mesh" v-model="up" label="Which way is up in the file" :choices="UPS" />
        <div class="pair">
          <NumberField v-model="height" label="Height" unit="mm" :min="1" :max="2000" :digits="1" />
          <NumberField v-model="copies" label="Copies" :min="1" :max="500" />
        </div>
        <p v-if="about" class="small" data-test="guess">{{ about }}</p>
        <ElRadioGroup v-model="begins" aria-label="How it begins">
          <ElRadioButton value="colours">Work out the coats</ElRadioButton>
          <ElRadioButton value="bare">Start bare</ElRadioButton>
        </ElRadioGroup>
        <SchemeAnswers v-if="begins === 'colours'" v-model="answers" :what-known="!!standIn" />
        <p v-else class="small">No steps yet: add them one by one under Coats.</p>
        <p v-if="problem" class="note" role="alert">{{ problem }}</p>
        <ElButton type="primary" :disabled="busy || !name.trim()" data-test="make" @click="make">
          {{ busy ? 'Making the plan …' : 'Make the plan' }}
        </ElButton>
      </div>
    </div>
  </ElDialog>
</template>

<style scoped>
.which {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 230px;
  gap: 20px;
}
.own,
.form {
  display: grid;
  align-content: start;
  gap: 12px;
}
.two {
  display: grid;
  grid-template-columns: 240px minmax(0, 1fr);
  gap: 20px;
}
.picture {
  display: grid;
  place-items: center;
  min-height: 260px;
  padding: 8px;
  border-radius: 8px;
  background: var(--card);
  color: var(--on-card);
}
.picture img {
  max-width: 100%;
  height: auto;
}
.form > .el-button {
  justify-self: end;
}
@media (max-width: 700px) {
  .which,
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
