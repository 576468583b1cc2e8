<script setup lang="ts">
import { useEventListener } from '@vueuse/core';
import { ElButton } from 'element-plus';
import { computed, onBeforeUnmount, ref, watch } from 'vue';
import { useRouter } from 'vue-router';

import AddToShelf from '@/displays/AddToShelf.vue';
import { sentence } from '@/api/client';
import { useKeys } from '@/composables/use-keys';
import { useNews } from '@/composables/use-news';
import PieceView from '@/instruments/piece/PieceView.vue';
import { HOME, TURN_KEYS } from '@/instruments/piece/view';
import PlanLine from './PlanLine.vue';
import { placeOf, placeThen, STEPS, STEPS_THEN, type StepId } from '@/router';
import { usePlan } from '@/stores/plan';
import { useSettings } from '@/stores/settings';
import { useShelf } from '@/stores/shelf';

import CoatsLeft from '@/plan/coats/CoatsLeft.vue';
import CoatsRight from '@/plan/coats/CoatsRight.vue';
import CupList from '@/plan/cups/CupList.vue';
import CupsStep from '@/plan/cups/CupsStep.vue';
import DayStep from '@/plan/day/DayStep.vue';
import LightStep from '@/plan/light/LightStep.vue';
import PieceStep from '@/plan/piece/PieceStep.vue';
import SchemeBanner from '@/plan/scheme/SchemeBanner.vue';
import RecipeStrip from '@/plan/coats/RecipeStrip.vue';
import SamplePlate from '@/plan/coats/SamplePlate.vue';
import PictureWays from '@/plan/picture/PictureWays.vue';
import { useAnswers } from '@/plan/use-answers';
import { useLeaving } from '@/plan/use-leaving';

const props = defineProps<{ id?: string; then?: string; step?: StepId | '' }>();
/** Steps beside which the piece stands. */
const PIECE_SHOWN = new Set<StepId>(['piece', 'light', 'coats']);
/** What stands beside the piece, for whoever goes from region to region by ear. */
const SIDES: Record<StepId, string> = {
  piece: 'The piece',
  light: 'Lights',
  coats: 'The chosen coat',
  cups: 'The chosen cup',
  day: 'The day',
  booth: 'Booth',
};
const router = useRouter();
const store = usePlan();
const shelf = useShelf();
const settings = useSettings();
const view = ref<InstanceType<typeof PieceView>>();
const solver = ref<{
  workOut: () => Promise<void> | undefined;
  mix?: (colour: string) => void;
} | null>(null);
const problem = ref('');
const step = computed<StepId>(() => (props.step ? props.step : 'coats'));

watch(
  () => [props.id, props.then] as const,
  ([id, then]) => {
    problem.value = '';
    const opening = then ? store.openThen(then) : store.open(id ?? '');
    Promise.all([opening, shelf.load()]).catch((error: unknown) => {
      problem.value = sentence(error);
    });
  },
  { immediate: true },
);
onBeforeUnmount(() => store.close());

// the light is what one wants to see while choosing it
watch(
  step,
  (now, before) => {
    if (now === 'light' && store.look === 'as_painted') store.look = 'light_wanted';
    else if (before === 'light' && store.look === 'light_wanted') store.look = 'as_painted';
  },
  { immediate: true },
);
const { smooth } = useAnswers(store, () => view.value?.pieceKey ?? null);

const MOVED_PX = 40;
const NEARER = 1.25;
function go(to: StepId): void {
  void router.push(props.then ? placeThen(props.then, to) : placeOf(props.id ?? '', to));
}
function nextLook(): void {
  const i = store.looks.findIndex((l) => l.id === store.look);
  store.look = store.looks[(i + 1) % store.looks.length]!.id;
}
useKeys(
  {
    ...Object.fromEntries(
      (props.then ? STEPS_THEN : STEPS).map((s, i) => [String(i + 1), () => go(s.id)]),
    ),
    '[': () => store.selectCoat(store.after - 1),
    ']': () => store.selectCoat(store.after + 1),
    v: () => (store.look = store.look === 'value' ? 'as_painted' : 'value'),
    l: nextLook,
    a: () => void solver.value?.workOut(),
    c: () => view.value?.sampleAtCentre(),
    Escape: () => {
      if (store.picking) store.picking = null;
      else store.samples = [];
    },
    Enter: () => {
      if (store.picking) view.value?.placeAtCentre();
    },
    ...Object.fromEntries(
      Object.entries(TURN_KEYS).map(([key, by]) => [key, () => view.value?.turn(...by)]),
    ),
    'Shift+ArrowLeft': () => view.value?.move(-MOVED_PX, 0),
    'Shift+ArrowRight': () => view.value?.move(MOVED_PX, 0),
    'Shift+ArrowUp': () => view.value?.move(0, -MOVED_PX),
    'Shift+ArrowDown': () => view.value?.move(0, MOVED_PX),
    '+': () => view.value?.magnify(NEARER),
    '-': () => view.value?.magnify(1 / NEARER),
    '0': () => view.value?.home(),
    b: () => store.lookBack(true),
    'Ctrl+Z': () => void store.undo(),
    'Ctrl+Shift+Z': () => void store.redo(),
  },
  () => settings.singleKeys,
);
useEventListener(window, 'keyup', (event) => {
  if (event.key.toLowerCase() === 'b') store.lookBack(false);
});
useEventListener(window, 'blur', () => store.lookBack(false));
useNews('plan', store.hear, store.lookAgain);
useLeaving(store);
async function keepAsCopy(): Promise<void> {
  const copy = await store.keepAsCopy();
  if (!copy) return;
  store.close(); // nothing is lost with it now
  await router.push({ name: 'plan', params: { id: copy, step: step.value } });
}
function thisSideShows(): void {
  const turn = view.value?.lookedAtFrom() ?? 0;
  void store.change('Front set', (plan) => {
    plan.piece.turn_deg = (((plan.piece.turn_deg + turn) % 360) + 360) % 360;
  });
  view.value?.home();
}
</script>

<template>
  <div class="plan">
    <PlanLine :id="props.id ?? ''" :step="step" :then="props.then" />
    <p v-if="problem" class="note stop" role="alert">
      {{ problem }} <RouterLink to="/">Back to the plans</RouterLink>
    </p>
    <p v-else-if="store.then" class="note then no-print" role="status" data-test="then">
      {{ store.problem || 'This is the plan as it was on that day. Nothing here changes it.' }}
      <ElButton data-test="keep-then" @click="keepAsCopy">Keep it as a plan of its own</ElButton>
      <RouterLink :to="{ name: 'notebook', params: { what: 'session', id: store.then.session } }"
        >Back to the notebook</RouterLink
      >
    </p>
    <p v-else-if="store.problem" class="note stop no-print" role="alert">
      {{ store.problem }} <AddToShelf :text="store.problem" />
      <ElButton @click="store.recover()">
        {{ store.saving === 'stale' ? 'Take the newer plan' : 'Save again' }}
      </ElButton>
      <ElButton v-if="store.saving === 'stale'" @click="keepAsCopy"> Keep mine as a copy </ElButton>
    </p>
    <p v-if="store.refused" class="note stop no-print" role="alert" data-test="refused">
      This cannot be sprayed: {{ store.refused }}
      <ElButton :disabled="!store.canUndo" @click="store.undo()"> Undo </ElButton>
    </p>
    <SchemeBanner :plan="props.id ?? ''" />
    <div v-if="store.plan" class="bench" :class="step">
      <aside
        v-if="step === 'coats' || step === 'cups'"
        class="left"
        :aria-label="step === 'coats' ? 'Film' : 'All cups'"
        data-tour="film"
      >
        <CoatsLeft v-if="step === 'coats'" />
        <CupList v-else />
      </aside>
      <PieceView
        v-show="PIECE_SHOWN.has(step)"
        ref="view"
        class="no-print"
        :show-station="step === 'coats'"
        :show-glows="step === 'light' || store.coat?.aim?.field === 'glow'"
        :samples="step === 'coats'"
        :smooth="smooth"
      >
        <template #ways>
          <PictureWays
            v-if="view?.geometry"
            :geometry="view.geometry"
            :view="() => view?.view() ?? HOME"
          />
        </template>
        <RecipeStrip v-if="step === 'coats'" />
        <SamplePlate
          v-if="step === 'coats' && store.samples.length"
          @mix="(colour) => solver?.mix?.(colour)"
        />
      </PieceView>
      <aside class="right" :aria-label="SIDES[step]">
        <PieceStep v-if="step === 'piece'" @this-side-shows="thisSideShows" />
        <LightStep v-else-if="step === 'light'" ref="solver" />
        <CoatsRight v-else-if="step === 'coats'" ref="solver" />
        <CupsStep v-else-if="step === 'cups'" />
        <DayStep v-else />
      </aside>
    </div>
  </div>
</template>

<style scoped>
.plan {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.note.then {
  display: flex;
  align-items: center;
  gap: 16px;
  margin: 0 12px 8px;
}
.note.stop {
  display: flex;
  align-items: center;
  gap: 16px;
  margin: 0 12px 8px;
  border-left-color: var(--sign-stop);
}
/* one sheet with the piece let into it */
.bench {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 392px;
  margin: 0 12px 12px;
  border-radius: var(--round);
  overflow: hidden;
}
.bench.coats {
  grid-template-columns: 286px minmax(0, 1fr) 322px;
}
.bench.cups {
  grid-template-columns: 268px minmax(0, 1fr);
  gap: 10px;
}
.bench.day {
  grid-template-columns: minmax(0, 1fr);
}
aside {
  min-height: 0;
  overflow-y: auto;
  background: var(--sheet);
}
.bench.cups aside {
  border-radius: var(--round);
}
.bench.cups .right,
.bench.day .right {
  background: none;
}
@media (min-width: 1700px) {
  .bench.coats {
    grid-template-columns: 330px minmax(0, 1fr) 430px;
  }
  .bench.cups {
    grid-template-columns: 320px minmax(0, 1fr);
  }
  .bench.piece,
  .bench.light {
    grid-template-columns: minmax(0, 1fr) 500px;
  }
}
@media (max-width: 1100px) {
  .bench.coats {
    grid-template-columns: 244px minmax(0, 1fr) 296px;
  }
  .bench.cups {
    grid-template-columns: 210px minmax(0, 1fr);
  }
  .bench.piece,
  .bench.light {
    grid-template-columns: minmax(0, 1fr) 352px;
  }
}
@media (max-width: 820px) {
  .bench,
  .bench.coats,
  .bench.cups,
  .bench.piece,
  .bench.light {
    display: block;
    overflow-y: auto;
  }
  .bench > .piece {
    height: max(56vh, 260px);
  }
}
@media print {
  .plan,
  .bench {
    display: block;
    height: auto;
    margin: 0;
  }
  aside {
    overflow: visible;
  }
  .left {
    display: none;
  }
}
</style>
