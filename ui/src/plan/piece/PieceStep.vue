<script setup lang="ts">
import { ElButton } from 'element-plus';
import type { MeshTaken, Plan, StandIn } from '@/api/client';
import MeshDrop from '@/plans/MeshDrop.vue';
import { decimals } from '@/displays/format';
import NameField from '@/fields/NameField.vue';
import NumberField from '@/fields/NumberField.vue';
import StandIns from './StandIns.vue';
import { usePlan } from '@/stores/plan';

import HandleFields from './HandleFields.vue';
import PartsList from './PartsList.vue';
import ChoiceField from '@/fields/ChoiceField.vue';
import { UPS, type Up } from '@/plan/piece/ups';

const emit = defineEmits<{ 'this-side-shows': [] }>();
const store = usePlan();

type Show = Plan['piece']['show'];
const FRONT: Record<string, Show> = { z: '-y', y: '+z', x: '-y' };

function change(reason: string, piece: Partial<Plan['piece']>): void {
  void store.change(reason, (plan) => Object.assign(plan.piece, piece));
}
function setUp(up: Up): void {
  change('Way up changed', { up, show: FRONT[up.slice(-1)]!, turn_deg: 0 });
}
/** What lies at places of the old mesh would lie nowhere on the new one. */
function replace(reason: string, piece: Partial<Plan['piece']>): void {
  void store.change(reason, (plan) => {
    Object.assign(plan.piece, { turn_deg: 0, parts: [], ...piece });
    plan.lights = (plan.lights ?? []).filter((l) => l.kind !== 'glow');
    plan.coats = (plan.coats ?? []).filter(
      (c) => !c.aim || !['ramp', 'glow', 'part'].includes(c.aim.field),
    );
  });
}
function use(mesh: MeshTaken): void {
  replace(`Mesh ${mesh.name}`, {
    mesh: mesh.id,
    name: mesh.name.replace(/\.[^.]+$/, '') || mesh.name,
    up: mesh.up,
    show: FRONT[mesh.up.slice(-1)]!,
    height_mm: mesh.height_mm,
  });
}
function useStandIn(standIn: StandIn): void {
  replace(`${standIn.name} instead`, {
    mesh: standIn.mesh.id,
    name: standIn.name,
    height_mm: standIn.height_mm,
    parts: standIn.parts,
    up: 'z',
    show: '-y',
  });
}
function rename(name: string): void {
  void store.change('Renamed', (plan) => {
    plan.name = name;
  });
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
        label="Height"
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
    <ChoiceField
      label="Which way is up in the file"
      :model-value="store.plan.piece.up"
      :choices="UPS"
      @update:model-value="setUp"
    />
    <div class="show">
      <p class="small">
        The front is the side people look at; the mark on the ground stands there. Turn the piece
        until the side you want faces you.
      </p>
      <ElButton @click="emit('this-side-shows')"> Set as front </ElButton>
    </div>
    <PartsList />
    <HandleFields />
    <section aria-label="Another mesh">
      <h3>Change model</h3>
      <MeshDrop @done="use" />
      <StandIns @chosen="useStandIn" />
    </section>
    <label class="up">
      <span class="small">Name of the plan</span>
      <NameField
        :model-value="store.plan.name"
        label="Name of the plan"
        @update:model-value="rename"
      />
    </label>
  </div>
</template>

<style scoped>
.step {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
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
  color: var(--ink-2);
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
.show {
  display: grid;
  justify-items: start;
  gap: 8px;
}
section {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
}
</style>
