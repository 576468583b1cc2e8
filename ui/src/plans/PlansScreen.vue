<script setup lang="ts">
import { ElAlert, ElButton, ElDialog } from 'element-plus';
import { onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';

import {
  api,
  sentence,
  take,
  type MeshView,
  type Part,
  type DamagedPlan,
  type PlanList,
  type PlanSummary,
  type StandIn,
} from '@/api/client';
import MeshDrop from './MeshDrop.vue';
import NumberField from '@/fields/NumberField.vue';
import StandIns from '@/plan/piece/StandIns.vue';
import { decimals, when } from '@/displays/format';

const router = useRouter();
const plans = ref<PlanSummary[] | null>(null);
const trashed = ref<PlanSummary[]>([]);
const damaged = ref<DamagedPlan[]>([]);
const unused = ref<PlanList['unused_meshes']>({ count: 0, size_bytes: 0 });
const problem = ref('');
const busy = ref(false);
const starting = ref(false);
const showTrash = ref(false);
const mesh = ref<MeshView | null>(null);
const name = ref('');
const height = ref(32);
const copies = ref(1);
const up = ref<'z' | 'y' | 'x'>('z');
const parts = ref<Part[]>([]);

async function load(): Promise<void> {
  try {
    const found = await take(api.GET('/api/plans'));
    plans.value = found.plans;
    trashed.value = found.trashed;
    damaged.value = found.damaged;
    unused.value = found.unused_meshes;
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(load);

async function attempt(work: () => Promise<void>): Promise<void> {
  busy.value = true;
  problem.value = '';
  try {
    await work();
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}

function openDemo(): Promise<void> {
  return attempt(async () => {
    const demo = await take(api.POST('/api/demo'));
    await router.push({ name: 'plan', params: { id: demo.id, step: 'coats' } });
  });
}
function takeMesh(found: MeshView): void {
  mesh.value = found;
  parts.value = [];
  up.value = found.format === 'glb' ? 'y' : 'z';
  name.value = found.name.replace(/\.[^.]+$/, '').slice(0, 120);
}
function takeStandIn(found: StandIn): void {
  takeMesh(found.mesh);
  parts.value = found.parts;
  height.value = found.height_mm;
  name.value = found.name;
}
function start(): Promise<void> {
  return attempt(async () => {
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
  });
}
function putAway(plan: PlanSummary, away: boolean): Promise<void> {
  return attempt(async () => {
    await take(
      api.POST('/api/plans/{plan_id}/trash', {
        params: { path: { plan_id: plan.id } },
        body: { version: plan.version, trashed: away },
      }),
    );
    await load();
  });
}
function mend(plan: DamagedPlan): Promise<void> {
  return attempt(async () => {
    await take(
      api.POST('/api/plans/{plan_id}/mend', {
        params: { path: { plan_id: plan.id } },
        body: { version: plan.version },
      }),
    );
    await load();
  });
}
function emptyTrash(): Promise<void> {
  return attempt(async () => {
    await take(api.DELETE('/api/trash'));
    showTrash.value = false;
    await load();
  });
}
</script>

<template>
  <div class="plans">
    <header>
      <h1>Plans</h1>
      <button
        v-if="plans?.length"
        class="quiet-button strong"
        type="button"
        @click="starting = true"
      >
        Start with a mesh
      </button>
      <button
        v-if="plans?.length"
        class="quiet-button"
        type="button"
        :disabled="busy"
        @click="openDemo"
      >
        Open the demo plan
      </button>
      <button
        v-if="trashed.length || unused.count"
        class="quiet-button"
        type="button"
        @click="showTrash = true"
      >
        Trash ({{ trashed.length + unused.count }})
      </button>
    </header>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>

    <ElAlert
      v-for="plan in damaged"
      :key="plan.id"
      class="damaged"
      type="error"
      :closable="false"
      show-icon
      title="A plan cannot be read"
    >
      <p>
        Last saved {{ when(plan.updated_at) }}. Nothing of it is lost: what was saved stays stored.
        <template v-if="!plan.good_at">None of its revisions can be read by this Haze.</template>
      </p>
      <ElButton v-if="plan.good_at" :disabled="busy" @click="mend(plan)">
        Go back to its last good revision, of {{ when(plan.good_at) }}
      </ElButton>
    </ElAlert>

    <section v-if="plans && !plans.length && !damaged.length" class="empty">
      <h2>Nothing planned yet</h2>
      <p>
        A plan takes a piece from bare surface to its last coat: where to spray from, how to thin,
        what to set, and what it will look like.
      </p>
      <div>
        <button class="quiet-button strong" type="button" :disabled="busy" @click="openDemo">
          Open the demo plan
        </button>
        <button class="quiet-button" type="button" @click="starting = true">
          Start with a mesh
        </button>
      </div>
    </section>

    <ul v-else-if="plans" class="strips">
      <li v-for="plan in plans" :key="plan.id">
        <RouterLink
          :to="{ name: 'plan', params: { id: plan.id, step: 'coats' } }"
          class="strip"
          data-test="plan"
        >
          <span class="picture">
            <img
              v-if="plan.pictured"
              :src="`/api/plans/${plan.id}/picture.png?v=${plan.version}`"
              alt=""
            />
            <small v-else>opens to work out its picture</small>
          </span>
          <span class="words">
            <span class="title">{{ plan.name }}</span>
            <span
              >{{ plan.copies === 1 ? 'one' : plan.copies }} × {{ plan.piece }} · {{ plan.coats }}
              {{ plan.coats === 1 ? 'step' : 'steps' }}</span
            >
            <span class="small">{{ plan.school }}</span>
            <span class="small">saved {{ when(plan.updated_at) }}</span>
            <span class="film" aria-hidden="true">
              <i v-for="(colour, i) in plan.film" :key="i" :style="{ background: colour }" />
            </span>
          </span>
        </RouterLink>
        <button
          class="quiet-button"
          type="button"
          :disabled="busy"
          :aria-label="`Put ${plan.name} into the trash`"
          @click="putAway(plan, true)"
        >
          Put away
        </button>
      </li>
    </ul>
    <p v-else-if="!problem">Looking for plans …</p>

    <ElDialog v-model="starting" title="Start with a mesh" width="520px" append-to-body>
      <div class="form">
        <template v-if="!mesh">
          <MeshDrop @done="takeMesh" />
          <p class="small">Or plan on one of these, to try it out or to practise:</p>
          <StandIns @chosen="takeStandIn" />
        </template>
        <template v-else>
          <p>
            {{ mesh.name }}, {{ mesh.faces.toLocaleString() }} triangles
            <button class="quiet-button" type="button" @click="mesh = null">Another</button>
          </p>
          <label>
            <span class="small">Name of the plan</span>
            <input v-model="name" type="text" maxlength="120" />
          </label>
          <div class="pair">
            <NumberField
              v-model="height"
              label="True height"
              unit="mm"
              :min="1"
              :max="2000"
              :digits="1"
            />
            <NumberField v-model="copies" label="Copies" :min="1" :max="500" />
          </div>
          <label>
            <span class="small">Which way is up in the file</span>
            <select v-model="up">
              <option value="z">z up</option>
              <option value="y">y up</option>
              <option value="x">x up</option>
            </select>
          </label>
          <p v-if="problem" class="note" role="alert">{{ problem }}</p>
          <button
            class="quiet-button strong"
            type="button"
            :disabled="busy || !name.trim()"
            @click="start"
          >
            {{ busy ? 'Choosing settings …' : 'Start the plan' }}
          </button>
        </template>
      </div>
    </ElDialog>
    <ElDialog v-model="showTrash" title="Trash" width="520px" append-to-body>
      <ul class="trash">
        <li v-for="plan in trashed" :key="plan.id">
          <span>{{ plan.name }}</span>
          <button class="quiet-button" type="button" :disabled="busy" @click="putAway(plan, false)">
            Take back
          </button>
        </li>
      </ul>
      <p v-if="unused.count">
        {{ unused.count === 1 ? 'One mesh' : `${unused.count} meshes` }} no plan uses,
        {{ decimals(unused.size_bytes / 2 ** 20, 1) }} MiB
      </p>
      <ElButton :disabled="busy || !(trashed.length || unused.count)" @click="emptyTrash">
        Delete all of this for good
      </ElButton>
    </ElDialog>
  </div>
</template>

<style scoped>
.plans {
  height: 100%;
  overflow-y: auto;
  padding: 20px 28px;
}
header {
  display: flex;
  align-items: center;
  gap: 10px;
  padding-bottom: 16px;
}
h1 {
  margin-right: auto;
}
.damaged {
  margin-bottom: 12px;
}
.empty {
  display: grid;
  gap: 16px;
  max-width: 560px;
  padding: 80px 0;
}
.empty div {
  display: flex;
  gap: 10px;
}
.strips {
  display: grid;
  gap: 12px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.strips li {
  display: flex;
  align-items: center;
  gap: 16px;
  padding-right: 16px;
  background: var(--surface-2);
}
.strip {
  flex: 1;
  min-width: 0;
  display: flex;
  gap: 20px;
  color: inherit;
  text-decoration: none;
}
.picture {
  flex: none;
  display: grid;
  place-items: center;
  width: 150px;
  height: 190px;
  background: var(--card);
  color: var(--on-card);
  text-align: center;
}
.picture small {
  padding: 12px;
  color: var(--on-card);
}
.words {
  display: grid;
  align-content: center;
  gap: 4px;
  min-width: 0;
}
.title {
  font-size: var(--f20);
  font-weight: 640;
  overflow-wrap: anywhere;
}
.film {
  display: flex;
  gap: 2px;
  margin-top: 8px;
}
.film i {
  width: 44px;
  height: 18px;
}
.form {
  display: grid;
  gap: 14px;
}
.form label {
  display: grid;
  gap: 2px;
}
.form input,
.form select {
  min-height: 44px;
  padding: 0 8px;
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--surface);
  color: var(--text);
  font: inherit;
}
.form input[type='file'] {
  min-height: 0;
}
.pair {
  gap: 12px;
}
.trash {
  display: grid;
  gap: 8px;
  margin: 0 0 16px;
  padding: 0;
  list-style: none;
}
.trash li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
}
</style>
