<script setup lang="ts">
import { computed } from 'vue';

import { SCHOOLS, SCHOOLS_NAMED } from '@/craft.generated';
import { STEPS, type StepId } from '@/router';
import { usePlan } from '@/stores/plan';

const props = defineProps<{ id: string; step: StepId }>();
const store = usePlan();

const schools = computed(() => {
  const follows = store.plan?.schools;
  if (!follows) return '';
  return SCHOOLS_NAMED.map(
    (row) => SCHOOLS[row].find((o) => o.id === follows[row])?.name ?? '',
  ).join(', ');
});
const copies = computed(() => {
  const n = store.plan?.piece.copies ?? 1;
  return n === 1 ? 'one copy' : `${n} copies`;
});
const SAVED = {
  saved: 'saved',
  saving: 'saving …',
  unsaved: 'not saved',
  stale: 'changed elsewhere',
};
const here = computed(() => STEPS.findIndex((s) => s.id === props.step));

/** The hose: thin, swelling under the step one is in. */
const hose = computed(() => {
  const width = 100 * STEPS.length;
  const middle = 100 * here.value + 50;
  const top: string[] = [];
  const bottom: string[] = [];
  for (let x = 0; x <= width; x += 4) {
    const swell = 2.2 + 5.2 / (1 + Math.exp((Math.abs(x - middle) - 40) / 5));
    top.push(`${x} ${(10 - swell / 2).toFixed(2)}`);
    bottom.unshift(`${x} ${(10 + swell / 2).toFixed(2)}`);
  }
  return `M${top.join(' L')} L${bottom.join(' L')} Z`;
});
const minds = computed(() => store.workings?.to_mind ?? 0);
</script>

<template>
  <header class="line no-print">
    <div class="what">
      <h1 :title="store.plan?.name">{{ store.plan?.name ?? '…' }}</h1>
      <p class="small">
        {{ copies }} · {{ schools }} ·
        <span :class="store.saving" role="status" data-test="saved">{{ SAVED[store.saving] }}</span>
      </p>
    </div>
    <div class="history">
      <button
        class="quiet-button"
        type="button"
        :disabled="!store.canUndo"
        title="Undo (Ctrl+Z)"
        @click="store.undo()"
      >
        Undo
      </button>
      <button
        class="quiet-button"
        type="button"
        :disabled="!store.canRedo"
        title="Redo (Ctrl+Shift+Z)"
        @click="store.redo()"
      >
        Redo
      </button>
    </div>
    <nav class="steps" aria-label="Steps in working order">
      <RouterLink
        v-for="(s, i) in STEPS"
        :key="s.id"
        :to="{ name: 'plan', params: { id: props.id, step: s.id } }"
        :class="{ here: i === here }"
        :aria-current="i === here ? 'step' : undefined"
      >
        {{ s.label }}
        <span v-if="s.id === 'cups' && minds" class="mind">{{ minds }} to mind</span>
      </RouterLink>
      <svg :viewBox="`0 0 ${100 * STEPS.length} 20`" preserveAspectRatio="none" aria-hidden="true">
        <path :d="hose" />
      </svg>
    </nav>
  </header>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: minmax(200px, 1fr) auto minmax(420px, 560px);
  align-items: center;
  gap: 20px;
  height: 72px;
  padding: 0 20px;
  border-bottom: 1px solid var(--line);
}
.what {
  min-width: 0;
}
h1 {
  font-size: var(--f20);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.what p {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.unsaved,
.stale {
  color: var(--sign-stop);
  font-weight: 640;
}
.history {
  display: flex;
  gap: 6px;
}
.steps {
  position: relative;
  display: grid;
  grid-template-columns: repeat(5, 1fr);
}
.steps a {
  position: relative;
  display: flex;
  align-items: center;
  justify-content: center;
  min-height: 44px;
  padding-bottom: 10px;
  color: var(--text);
  text-decoration: none;
  z-index: 1;
}
.steps a.here {
  font-weight: 700;
}
.steps .mind {
  position: absolute;
  top: -8px;
  font-size: 13px;
  font-weight: 640;
  color: var(--sign-mind);
  white-space: nowrap;
}
.steps svg {
  position: absolute;
  left: 0;
  bottom: -1px;
  width: 100%;
  height: 20px;
}
.steps path {
  fill: var(--strong);
}
</style>
