<script setup lang="ts">
import { ref } from 'vue';

import { sentence, type MeshView, type Plan } from '@/api/client';
import MeshDrop from '@/parts/MeshDrop.vue';
import { decimals } from '@/parts/format';
import NumberField from '@/parts/NumberField.vue';
import { usePlan } from '@/stores/plan';

const emit = defineEmits<{ 'this-side-shows': [] }>();
const store = usePlan();
const name = ref('');
const problem = ref('');

type Up = Plan['piece']['up'];
type Show = Plan['piece']['show'];
const UPS: { id: Up; label: string }[] = [
  { id: 'z', label: 'z up' },
  { id: 'y', label: 'y up' },
  { id: 'x', label: 'x up' },
  { id: '-z', label: 'z down' },
  { id: '-y', label: 'y down' },
  { id: '-x', label: 'x down' },
];
const FRONT: Record<string, Show> = { z: '-y', y: '+z', x: '-y' };

function change(reason: string, piece: Partial<Plan['piece']>): void {
  void store.change(reason, (plan) => Object.assign(plan.piece, piece));
}
function setUp(up: Up): void {
  change('Way up changed', { up, show: FRONT[up.slice(-1)]!, turn_deg: 0 });
}
async function use(mesh: MeshView, heightMm: number | null): Promise<void> {
  problem.value = '';
  try {
    await store.change(`Mesh ${mesh.name}`, (plan) =>
      Object.assign(plan.piece, {
        mesh: mesh.id,
        name: mesh.name.replace(/\.[^.]+$/, '') || mesh.name,
        turn_deg: 0,
        height_mm: heightMm ?? plan.piece.height_mm,
      }),
    );
  } catch (error) {
    problem.value = sentence(error);
  }
}
function rename(): void {
  const text = name.value.trim();
  if (text && text !== store.plan?.name) {
    void store.change('Renamed', (plan) => {
      plan.name = text.slice(0, 120);
    });
  }
}
</script>

<template>
  <div v-if="store.plan" class="step">
    <h2>{{ store.plan.piece.name }}</h2>
    <dl v-if="store.workings" class="facts number">
      <dt>surface</dt>
      <dd>{{ decimals(store.workings.area_cm2, 1) }} cm²</dd>
      <dt>spray can reach</dt>
      <dd>{{ decimals(store.workings.reachable_share * 100, 1) }} %</dd>
      <dt>points that carry colour</dt>
      <dd>{{ store.workings.vertices }}</dd>
    </dl>
    <div class="fields">
      <NumberField
        label="True height"
        unit="mm"
        :min="1"
        :max="2000"
        :digits="1"
        :model-value="store.plan.piece.height_mm"
        @update:model-value="change('Height changed', { height_mm: $event })"
      />
      <NumberField
        label="Copies"
        :min="1"
        :max="500"
        :model-value="store.plan.piece.copies"
        @update:model-value="change('Copies changed', { copies: Math.round($event) })"
      />
    </div>
    <label class="up">
      <span class="small">Which way is up in the file</span>
      <select
        :value="store.plan.piece.up"
        @change="setUp(($event.target as HTMLSelectElement).value as Up)"
      >
        <option v-for="u in UPS" :key="u.id" :value="u.id">{{ u.label }}</option>
      </select>
    </label>
    <div class="show">
      <p class="small">
        The show side is the one people look at; the mark on the ring stands there. Turn the piece
        until the side you want faces you.
      </p>
      <button class="quiet-button" type="button" @click="emit('this-side-shows')">
        This side shows
      </button>
    </div>
    <section aria-label="Another mesh">
      <h3>Another mesh</h3>
      <MeshDrop @done="use" />
      <p v-if="problem" class="note" role="alert">{{ problem }}</p>
    </section>
    <label class="up">
      <span class="small">Name of the plan</span>
      <input
        type="text"
        maxlength="120"
        :value="store.plan.name"
        @input="name = ($event.target as HTMLInputElement).value"
        @change="rename"
      />
    </label>
  </div>
</template>

<style scoped>
.step {
  display: grid;
  gap: 16px;
  padding: 16px 20px;
}
.facts {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 4px 12px;
  margin: 0;
}
dt {
  color: var(--text-2);
}
dd {
  margin: 0;
  text-align: right;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
.up {
  display: grid;
  gap: 2px;
}
select,
.up input {
  min-height: 44px;
  padding: 0 8px;
  border: 1px solid var(--edge);
  border-radius: 3px;
  background: var(--surface);
  color: var(--text);
  font: inherit;
}
.show {
  display: grid;
  gap: 8px;
}
section {
  display: grid;
  gap: 8px;
}
</style>
