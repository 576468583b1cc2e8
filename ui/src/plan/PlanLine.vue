<script setup lang="ts">
import { RefreshLeft, RefreshRight } from '@element-plus/icons-vue';
import { ElButton } from 'element-plus';
import { computed } from 'vue';

import { SCHOOLS, SCHOOLS_NAMED } from '@/craft.generated';
import { dayName, issues, length } from '@/displays/format';
import { placeOf, placeThen, STEPS, STEPS_THEN, type StepId } from '@/router';
import { usePlan } from '@/stores/plan';

const props = defineProps<{ id: string; step: StepId; then?: string }>();
const store = usePlan();

const schools = computed(() => {
  const follows = store.plan?.schools;
  if (!follows) return '';
  return SCHOOLS_NAMED.map(
    (row) => SCHOOLS[row].find((o) => o.id === follows[row])?.name ?? '',
  ).join(', ');
});
const what = computed(() => {
  const piece = store.plan?.piece;
  if (!piece) return '';
  const copies = piece.copies === 1 ? '1 copy' : `${piece.copies} copies`;
  return `${copies} · ${length(piece.height_mm)} · ${schools.value}`;
});
const SAVED = {
  saved: 'saved',
  saving: 'saving …',
  unsaved: 'not saved',
  stale: 'changed elsewhere',
};
const steps = computed(() => (props.then ? STEPS_THEN : STEPS));
const here = computed(() => steps.value.findIndex((s) => s.id === props.step));

/** The hose: thin, swelling under the step one is in. */
const hose = computed(() => {
  const width = 100 * steps.value.length;
  const middle = 100 * here.value + 50;
  const top: string[] = [];
  const bottom: string[] = [];
  for (let x = 0; x <= width; x += 4) {
    const swell = 2.2 + 6 / (1 + Math.exp((Math.abs(x - middle) - 40) / 5));
    top.push(`${x} ${(10 - swell / 2).toFixed(2)}`);
    bottom.unshift(`${x} ${(10 + swell / 2).toFixed(2)}`);
  }
  return `M${top.join(' L')} L${bottom.join(' L')} Z`;
});
const minds = computed<Partial<Record<StepId, number>>>(() => ({
  coats: store.findings.length,
  cups: store.workings?.to_mind ?? 0,
}));
</script>

<template>
  <header class="line no-print">
    <div class="what">
      <h1 :title="store.plan?.name">{{ store.plan?.name ?? '…' }}</h1>
      <p class="small" :title="what">{{ what }}</p>
    </div>
    <div v-if="!then" class="history">
      <ElButton
        text
        :icon="RefreshLeft"
        :disabled="!store.canUndo"
        aria-label="Undo"
        title="Undo (Ctrl+Z)"
        @click="store.undo()"
      />
      <ElButton
        text
        :icon="RefreshRight"
        :disabled="!store.canRedo"
        aria-label="Redo"
        title="Redo (Ctrl+Shift+Z)"
        @click="store.redo()"
      />
      <span class="small saved" :class="store.saving" role="status" data-test="saved">{{
        SAVED[store.saving]
      }}</span>
    </div>
    <span v-else class="small">as it was on {{ dayName(store.then?.date ?? '2026-01-01') }}</span>
    <nav
      class="steps"
      data-tour="steps"
      aria-label="Steps in working order"
      :style="{ '--steps': steps.length }"
    >
      <RouterLink
        v-for="(s, i) in steps"
        :key="s.id"
        :to="then ? placeThen(then, s.id) : placeOf(props.id, s.id)"
        :class="{ here: i === here }"
        :aria-current="i === here ? 'step' : undefined"
      >
        {{ s.label }}
        <span v-if="minds[s.id]" class="mind" :title="issues(minds[s.id] ?? 0)"
          >{{ minds[s.id]
          }}<span class="visually-hidden">
            {{ minds[s.id] === 1 ? ' issue' : ' issues' }}</span
          ></span
        >
      </RouterLink>
      <svg :viewBox="`0 0 ${100 * steps.length} 20`" preserveAspectRatio="none" aria-hidden="true">
        <path :d="hose" />
      </svg>
    </nav>
  </header>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: minmax(160px, 1fr) auto minmax(380px, 560px);
  align-items: center;
  gap: 18px;
  height: 68px;
  padding: 0 20px;
}
.what {
  min-width: 0;
}
h1 {
  font-size: 1.3rem;
}
h1,
.what p {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.history {
  display: flex;
  align-items: center;
  gap: 2px;
}
.saved {
  min-width: 52px;
}
.unsaved,
.stale {
  color: var(--sign-stop);
  font-weight: 640;
}
.steps {
  position: relative;
  display: grid;
  grid-template-columns: repeat(var(--steps), 1fr);
}
.steps a {
  position: relative;
  display: flex;
  align-items: center;
  justify-content: center;
  gap: 5px;
  min-height: 44px;
  padding-bottom: 8px;
  color: var(--ink-2);
  text-decoration: none;
  z-index: 1;
}
.steps a:hover,
.steps a.here {
  color: var(--ink);
}
.steps a.here {
  font-weight: 700;
}
.mind {
  min-width: 20px;
  padding: 0 5px;
  border-radius: 10px;
  background: var(--black);
  color: var(--on-black);
  font-size: var(--f12);
  font-weight: 700;
  line-height: 20px;
  text-align: center;
}
.steps svg {
  position: absolute;
  left: 0;
  bottom: -2px;
  width: 100%;
  height: 20px;
}
.steps path {
  fill: var(--black);
}
@media (max-width: 1100px) {
  .line {
    gap: 8px;
    padding: 0 12px;
  }
  .saved {
    min-width: 0;
  }
}
@media (max-width: 820px) {
  .line {
    grid-template-columns: minmax(0, 1fr) auto;
    gap: 0 8px;
    height: auto;
    padding: 6px 12px 8px;
  }
  .steps {
    grid-column: 1 / -1;
  }
}
</style>
