<script setup lang="ts">
import { computed, ref, watch } from 'vue';

import { api, sentence, take, type TurnedBody } from '@/api/client';
import { decimals, length } from '@/displays/format';
import { useLatest } from '@/composables/use-latest';
import { useShelf } from '@/stores/shelf';
import BenchFields from '@/window/BenchFields.vue';
import { useBenchChoice } from '@/window/use-bench-choice';

/** Which paint through which needle a card is for; the setting is the recipe for covering. */
const emit = defineEmits<{ asked: [body: TurnedBody | null] }>();
const shelf = useShelf();
const chosen = useBenchChoice('card', () => shelf.shelf);
const { paint, airbrush, thinner } = chosen;
const words = ref('');
const problem = ref('');
const given = computed(() => {
  const [p, a, t] = [paint.value, airbrush.value, thinner.value];
  return p && a && t ? { p, a, t } : null;
});
const finding = useLatest<NonNullable<typeof given.value>>(
  async (wish) => {
    const { p, a, t } = wish;
    const ground = { surface: 'matt' as const, lightness: 95, contrast: null };
    const room = { temperature_c: 20, humidity_pct: 50 };
    const found = await take(
      api.POST('/api/recipe/known', {
        body: {
          paint: { kind: p.kind, drop_ul: p.drop_ul },
          paint_id: p.id,
          airbrush_id: a.id,
          needle_mm: a.needle_mm,
          thinner: t.kind,
          task: 'cover',
          school: 'middle',
          room,
          ground,
          line_mm: null,
          speck_mm: null,
        },
      }),
    );
    if (given.value !== wish) return; // chosen otherwise meanwhile: its own answer comes next
    problem.value = 'none' in found ? `${found.none} ${found.change}` : '';
    if ('none' in found) {
      words.value = '';
      emit('asked', null);
      return;
    }
    const { pressure_psi, thinner_parts, trigger, distance_mm } = found;
    words.value =
      `${decimals(pressure_psi, 0)} psi · ${decimals(thinner_parts, 1)} : 1 · ` +
      `trigger ${decimals(trigger * 100, 0)} % · ${length(distance_mm)}`;
    emit('asked', {
      paint: { id: p.id, name: p.name, kind: p.kind },
      airbrush: { id: a.id, name: a.name, needle_mm: a.needle_mm },
      task: 'cover',
      setting: { ...found, ground, additives: [] },
    });
  },
  (error) => (problem.value = sentence(error)),
);
watch(
  given,
  (now) => {
    // no card is made for what was chosen before
    words.value = '';
    emit('asked', null);
    if (now) finding.push(now);
  },
  { immediate: true },
);
</script>

<template>
  <div class="choices">
    <BenchFields :chosen="chosen" />
  </div>
  <p v-if="problem" class="note" role="status">{{ problem }}</p>
  <p v-else-if="words" data-test="card-setting">
    A covering recipe: <b>{{ words }}</b>.
    <span class="small">For another setting, press Print a card in Window or Cups.</span>
  </p>
  <p v-if="!given" class="note">A card needs a paint, a thinner and an airbrush on the shelf.</p>
</template>

<style scoped>
.choices {
  display: grid;
  grid-template-columns: 1.6fr 1.3fr 1.2fr;
  gap: 8px 12px;
}
</style>
