<script setup lang="ts">
import { ElButton, ElDialog, ElSkeleton } from 'element-plus';
import { computed, ref, watch } from 'vue';
import { useRouter } from 'vue-router';

import {
  api,
  sentence,
  take,
  type MeshTaken,
  type MeshView,
  type Part,
  type StandIn,
} from '@/api/client';
import { useJob } from '@/composables/use-job';
import { decimals } from '@/displays/format';
import ChoiceField from '@/fields/ChoiceField.vue';
import NumberField from '@/fields/NumberField.vue';
import TextField from '@/fields/TextField.vue';
import StandIns from '@/plan/piece/StandIns.vue';

import MeshDrop from './MeshDrop.vue';
import { UPS, type Up } from '@/plan/piece/ups';

/** Starting a plan: a mesh, how it stands, how tall it is; both are guessed and can be changed. */
const open = defineModel<boolean>({ required: true });
const router = useRouter();
const mesh = ref<MeshView | null>(null);
const guessed = ref<MeshTaken | null>(null);
const name = ref('');
const height = ref(32);
const copies = ref(1);
const up = ref<Up>('z');
const parts = ref<Part[]>([]);
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
    const { job } = await take(
      api.POST('/api/meshes/{mesh_id}/stand', {
        params: { path: { mesh_id: id }, query: { up: way } },
      }),
    );
    if (!job) return true;
    return (
      (await standing.run(
        async () => job,
        async () => true as const,
      )) === true
    );
  } catch (error) {
    problem.value = sentence(error);
    return false;
  }
}
const picture = computed(() =>
  mesh.value && stood.value
    ? `/api/meshes/${mesh.value.id}/picture.png?up=${encodeURIComponent(stood.value)}`
    : '',
);
const told = computed(() => {
  const found = guessed.value;
  if (!found) return '';
  const unit = found.unit === 'mm' ? 'millimetres' : found.unit === 'm' ? 'metres' : found.unit;
  return `Assumed to stand on its flat side, the file in ${unit}: ${decimals(found.height_mm, 1)} mm tall. Change what is not so.`;
});

function takeMesh(found: MeshView): void {
  parts.value = [];
  guessed.value = null;
  name.value = found.name.replace(/\.[^.]+$/, '').slice(0, 120);
  mesh.value = found;
}
function takeDropped(found: MeshTaken): void {
  takeMesh(found);
  guessed.value = found;
  up.value = found.up;
  height.value = Math.min(2000, Math.max(1, Math.round(found.height_mm * 10) / 10));
}
function takeStandIn(found: StandIn): void {
  up.value = 'z';
  takeMesh(found.mesh);
  parts.value = found.parts;
  height.value = found.height_mm;
  name.value = found.name;
}
async function start(): Promise<void> {
  busy.value = true;
  problem.value = '';
  try {
    const plan = await take(
      api.POST('/api/plans', {
        body: {
          mesh: mesh.value!.id,
          name: name.value.trim(),
          height_mm: height.value,
          copies: Math.round(copies.value),
          up: up.value,
          parts: parts.value,
          lights: null,
        },
      }),
    );
    await router.push({ name: 'plan', params: { id: plan.id, step: 'piece' } });
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <ElDialog v-model="open" title="New plan" width="620px" append-to-body>
    <div v-if="!mesh" class="form">
      <MeshDrop @done="takeDropped" />
      <p class="small">No mesh? Take what comes nearest to your kit, or a solid to practise on:</p>
      <StandIns @chosen="takeStandIn" />
    </div>
    <div v-else class="form two">
      <div class="picture" data-test="standing">
        <img v-if="picture" :src="picture" :alt="`The mesh with ${up} up`" />
        <p v-else-if="standing.problem.value" class="small" role="alert">
          {{ standing.problem.value }}
        </p>
        <ElSkeleton v-else animated :rows="5" aria-label="Preparing its picture" />
      </div>
      <div class="form">
        <p class="small">
          {{ mesh.name }}, {{ mesh.faces.toLocaleString() }} triangles
          <ElButton text size="small" @click="mesh = null">Another</ElButton>
        </p>
        <TextField v-model="name" label="Name of the plan" />
        <ChoiceField v-model="up" label="Which way is up in the file" :choices="UPS" />
        <div class="pair">
          <NumberField v-model="height" label="Height" unit="mm" :min="1" :max="2000" :digits="1" />
          <NumberField v-model="copies" label="Copies" :min="1" :max="500" />
        </div>
        <p v-if="told" class="note small" data-test="guess">{{ told }}</p>
        <p v-if="problem" class="note" role="alert">{{ problem }}</p>
        <ElButton type="primary" :disabled="busy || !name.trim()" @click="start">
          {{ busy ? 'Choosing settings …' : 'Start the plan' }}
        </ElButton>
      </div>
    </div>
  </ElDialog>
</template>

<style scoped>
.form {
  display: grid;
  align-content: start;
  gap: 14px;
}
.two {
  grid-template-columns: 250px minmax(0, 1fr);
  gap: 20px;
}
.picture {
  display: grid;
  place-items: center;
  min-height: 300px;
  padding: 8px;
  border-radius: 8px;
  background: var(--card);
  color: var(--on-card);
}
.picture img {
  max-width: 100%;
}
</style>
