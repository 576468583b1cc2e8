<script setup lang="ts">
import { cloneDeep } from 'lodash-es';
import { ref } from 'vue';

import type { Step } from '@/api/client';
import FilmColumn from '@/instruments/film/FilmColumn.vue';
import { usePlan } from '@/stores/plan';

import AddStep from './AddStep.vue';
import ComparePriming from './ComparePriming.vue';
import LadderDrawer from '@/colour/LadderDrawer.vue';
import StartSequence from './StartSequence.vue';

const props = defineProps<{ editing: boolean }>();
const store = usePlan();
const adding = ref(false);
const laddering = ref(false);
const starting = ref(false);
const priming = ref(false);

// the chosen step follows at once: a second press must not meet the one that stood there before
function move(from: number, to: number): void {
  void store.change('Order changed', (draft) => {
    const [coat] = draft.coats.splice(from - 1, 1);
    if (coat) draft.coats.splice(to - 1, 0, coat);
  });
  store.selectCoat(to);
}

function remove(): void {
  const at = store.after - 1;
  void store.change(`Removed ${store.step?.name}`, (draft) => draft.coats.splice(at, 1));
  store.selectCoat(Math.min(at + 1, store.plan?.coats.length ?? 0));
}

function duplicate(): void {
  const at = store.after;
  if (!store.step) return;
  const twin: Step = cloneDeep(store.step);
  const stamp = Date.now().toString(36);
  twin.id = `c${stamp}`;
  if (twin.kind === 'spray') twin.stations.forEach((s, i) => (s.id = `c${stamp}-${i + 1}`));
  void store.change(`Once more ${twin.name}`, (draft) => draft.coats.splice(at, 0, twin));
  store.selectCoat(at + 1);
}

function switchOff(): void {
  const off = !store.step?.off;
  void store.changeStep(`${off ? 'Left out' : 'Took in'} ${store.step?.name}`, (step) => {
    step.off = off;
  });
}
</script>

<template>
  <div v-if="store.plan" class="left">
    <header>
      <h2>Film</h2>
      <small>newest on top</small>
    </header>
    <div v-if="props.editing" class="whole" role="group" aria-label="The whole sequence">
      <button class="quiet-button" type="button" data-test="ladder" @click="laddering = true">
        Ladder
      </button>
      <button class="quiet-button" type="button" data-test="sequence" @click="starting = true">
        Scheme
      </button>
      <button class="quiet-button" type="button" data-test="priming" @click="priming = true">
        Priming
      </button>
    </div>
    <p v-if="!store.plan.coats.length" class="note">
      No steps yet. Add the ground first: it covers everything. Or let “Scheme” lay a whole sequence
      from three answers.
    </p>
    <div class="spring" />
    <FilmColumn
      :coats="store.plan.coats"
      :workings="store.workings?.coats ?? null"
      :layers="store.layers"
      :findings="store.findings"
      :surface="store.plan.piece.surface"
      :after="store.after"
      @select="store.selectCoat"
      @move="move"
    />
    <footer v-if="props.editing">
      <button class="quiet-button strong" type="button" @click="adding = true">Add a step</button>
      <div v-if="store.step" class="order" role="group" :aria-label="`Order of ${store.step.name}`">
        <button
          class="quiet-button"
          type="button"
          :disabled="store.after <= 1"
          @click="move(store.after, store.after - 1)"
        >
          Down
        </button>
        <button
          class="quiet-button"
          type="button"
          :disabled="store.after >= store.plan.coats.length"
          @click="move(store.after, store.after + 1)"
        >
          Up
        </button>
        <button class="quiet-button" type="button" @click="duplicate">Again</button>
        <button class="quiet-button" type="button" data-test="switch" @click="switchOff">
          {{ store.step.off ? 'Take in' : 'Leave out' }}
        </button>
        <button class="quiet-button" type="button" @click="remove">Remove</button>
      </div>
    </footer>
    <AddStep v-model="adding" />
    <LadderDrawer v-model="laddering" />
    <StartSequence v-model="starting" />
    <ComparePriming v-model="priming" />
  </div>
</template>

<style scoped>
.left {
  display: flex;
  flex-direction: column;
  min-height: 100%;
  padding: 14px 0 0 16px;
}
header {
  display: flex;
  align-items: baseline;
  gap: 8px;
}
.whole {
  display: grid;
  grid-template-columns: auto 1fr auto;
  gap: 6px;
  padding: 8px 16px 4px 0;
}
.whole .quiet-button {
  padding: 0 8px;
}
.spring {
  flex: 1;
  min-height: 12px;
}
footer {
  position: sticky;
  bottom: 0;
  z-index: 3;
  display: grid;
  gap: 6px;
  padding: 12px 16px 12px 0;
  background: var(--surface);
}
.order {
  display: grid;
  grid-template-columns: repeat(6, 1fr);
  gap: 6px;
}
.order > * {
  grid-column: span 2;
}
.order > :nth-child(n + 4) {
  grid-column: span 3;
}
.order .quiet-button {
  padding: 0 4px;
}
</style>
