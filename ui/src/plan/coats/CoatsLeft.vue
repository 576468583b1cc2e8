<script setup lang="ts">
import { MoreFilled, Plus } from '@element-plus/icons-vue';
import { ElButton, ElDropdown, ElDropdownItem, ElDropdownMenu } from 'element-plus';
import { cloneDeep } from 'lodash-es';
import { ref } from 'vue';

import type { Step } from '@/api/client';
import FilmColumn from '@/instruments/film/FilmColumn.vue';
import { usePlan } from '@/stores/plan';

import AddStep from './AddStep.vue';
import ComparePriming from './ComparePriming.vue';
import LadderDrawer from '@/colour/LadderDrawer.vue';
import SchemeDialog from '@/plan/scheme/SchemeDialog.vue';

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
      <ElButton text :icon="Plus" data-test="add-step" @click="adding = true">Step</ElButton>
    </header>
    <p v-if="!store.plan.coats.length" class="note">
      No steps yet. Add the ground first: it covers everything. Or let “Scheme” work out a whole
      sequence.
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
    <footer>
      <div v-if="store.step" class="order" role="group" :aria-label="`Order of ${store.step.name}`">
        <ElButton text :disabled="store.after <= 1" @click="move(store.after, store.after - 1)">
          Down
        </ElButton>
        <ElButton
          text
          :disabled="store.after >= store.plan.coats.length"
          @click="move(store.after, store.after + 1)"
        >
          Up
        </ElButton>
        <ElButton text data-test="switch" @click="switchOff">
          {{ store.step.off ? 'Turn on' : 'Turn off' }}
        </ElButton>
        <ElDropdown trigger="click">
          <ElButton text :icon="MoreFilled" :aria-label="`More for ${store.step.name}`" />
          <template #dropdown>
            <ElDropdownMenu>
              <ElDropdownItem @click="duplicate">Duplicate</ElDropdownItem>
              <ElDropdownItem @click="remove">Remove</ElDropdownItem>
            </ElDropdownMenu>
          </template>
        </ElDropdown>
      </div>
      <div class="whole" role="group" aria-label="The whole sequence">
        <ElButton data-test="ladder" @click="laddering = true">Ladder</ElButton>
        <ElButton data-test="sequence" @click="starting = true">Scheme</ElButton>
        <ElButton data-test="priming" @click="priming = true">Priming</ElButton>
      </div>
    </footer>
    <AddStep v-model="adding" />
    <LadderDrawer v-model="laddering" />
    <SchemeDialog v-model="starting" />
    <ComparePriming v-model="priming" />
  </div>
</template>

<style scoped>
.left {
  display: flex;
  flex-direction: column;
  min-height: 100%;
  padding: 14px 14px 0;
}
header {
  display: flex;
  align-items: baseline;
  gap: 10px;
}
header .el-button {
  margin-left: auto;
}
.spring {
  flex: 1;
  min-height: 10px;
}
footer {
  display: grid;
  gap: 6px;
  position: sticky;
  bottom: 0;
  padding: 8px 0 14px;
  background: var(--sheet);
  z-index: 3;
}
.left :deep(.layer) {
  scroll-margin-bottom: 124px; /* the foot lies over the end of the film */
}
.order {
  display: flex;
  justify-content: space-between;
}
.whole {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px;
}
.whole .el-button {
  padding: 0 6px;
}
@media (max-width: 1100px) {
  header small {
    display: none;
  }
  .order .el-button {
    padding: 0 4px;
  }
  .whole {
    gap: 4px;
  }
  .whole .el-button {
    padding: 0 2px;
  }
}
</style>
