<script setup lang="ts">
import { ElTour, ElTourStep } from 'element-plus';
import { watch } from 'vue';
import { useRoute } from 'vue-router';

import { usePlan } from '@/stores/plan';
import { useSettings } from '@/stores/settings';

/** Five stops round a plan: once by itself, when the first plan stands there, and from Help. */
const open = defineModel<boolean>({ required: true });
const route = useRoute();
const plan = usePlan();
const settings = useSettings();

const STOPS = [
  {
    target: '[data-tour="steps"]',
    placement: 'bottom' as const,
    title: 'Six words, in working order',
    words:
      'Piece, light, coats, cups, day, booth. None has to be finished before the next; keys 1 to 6.',
  },
  {
    target: '[data-tour="film"]',
    placement: 'right' as const,
    title: 'The film',
    words:
      'A cut through the paint: bare surface at the foot, the newest coat on top. Pick a coat.',
  },
  {
    target: '[data-test="piece"]',
    placement: 'right' as const,
    title: 'The piece, as it stands after that coat',
    words: 'Drag to turn it, the wheel brings it near. A click takes a core sample there.',
  },
  {
    target: '[data-tour="sky"]',
    placement: 'left' as const,
    title: 'Where it is sprayed from',
    words:
      'The sky round the piece. Drag a station, or let Haze work out the angles for the light.',
  },
  {
    target: '[data-tour="looks"]',
    placement: 'top' as const,
    title: 'Looks',
    words: 'The same piece by value, by what this coat reaches, by what is uncovered.',
  },
];

watch(
  () =>
    route.name === 'plan' &&
    (route.params.step || 'coats') === 'coats' &&
    plan.workings !== null &&
    settings.loaded &&
    settings.values.tour === 'to_show',
  (ready) => {
    if (ready) open.value = true;
  },
  { immediate: true },
);
// its stops are on the screen that is left; there it begins again until it was seen
watch(
  () => route.path,
  () => (open.value = false),
);
function seen(): void {
  open.value = false;
  if (settings.values.tour === 'to_show') void settings.set('tour', 'seen').catch(() => undefined);
}
</script>

<template>
  <ElTour
    v-if="open"
    :model-value="open"
    :scroll-into-view-options="false"
    data-test="tour"
    @close="seen"
    @finish="seen"
  >
    <ElTourStep
      v-for="(s, i) in STOPS"
      :key="s.target"
      :target="s.target"
      :placement="s.placement"
      :title="s.title"
      :prev-button-props="{ children: 'Back' }"
      :next-button-props="{ children: i < STOPS.length - 1 ? 'Next' : 'Done', type: 'primary' }"
    >
      {{ s.words }}
    </ElTourStep>
  </ElTour>
</template>
