<script setup lang="ts">
import { ElButton, ElRadioButton, ElRadioGroup, ElSkeleton } from 'element-plus';
import { computed, onMounted, ref, shallowRef } from 'vue';

import { api, take, type PracticeChange, type PracticeView, type TrialLook } from '@/api/client';
import { useAttempt } from '@/composables/use-attempt';
import {
  decimals,
  length,
  needleBeside,
  pressure,
  share,
  speed,
  temperature,
} from '@/displays/format';
import { useSettings } from '@/stores/settings';

import CardsFrame from './CardsFrame.vue';
import PracticeJudged from './PracticeJudged.vue';
import PracticeStandings from './PracticeStandings.vue';
import { LOOKS_APART } from '@/craft.generated';
import { CHANGES, LOOKS } from './measures';

/** Cards that were made to show something: the painter names it and the one change. */
const settings = useSettings();
const card = shallowRef<PracticeView | null>(null);
const look = ref<TrialLook>();
const change = ref<PracticeChange>();
const drawn = ref(false);
const { problem, busy, attempt } = useAttempt();

const judged = computed(() => card.value?.judged ?? null);
const rows = computed(() => {
  const now = card.value;
  if (!now) return [];
  const s = now.setting;
  const psi = pressure(s.pressure_psi, settings.values.pressure_unit ?? 'psi').first;
  const room = `${temperature(s.room.temperature_c, 0)}, ${decimals(s.room.humidity_pct, 0)} %`;
  return [
    { name: 'Paint', words: now.paint },
    { name: 'Airbrush', words: through(now) },
    { name: 'Thinner', words: s.thinner_parts ? `${decimals(s.thinner_parts, 1)} : 1` : 'none' },
    { name: 'Pressure', words: psi },
    { name: 'Trigger', words: share(s.trigger) },
    { name: 'Distance', words: length(s.distance_mm) },
    { name: 'Hand', words: speed(s.speed_mm_s) },
    { name: 'Room', words: room },
  ];
});
function through(now: PracticeView): string {
  const needle = needleBeside(now.airbrush, now.needle_mm);
  return needle ? `${now.airbrush}, ${needle}` : now.airbrush;
}
const question = computed(() => {
  const level = card.value?.level ?? 0;
  return ['Plain to see', 'Look closely', 'Near the limit'][level];
});

const next = (): Promise<void> =>
  attempt(async () => {
    drawn.value = false;
    look.value = undefined;
    change.value = undefined;
    card.value = await take(api.POST('/api/practice'));
  });
const answer = (): Promise<void> =>
  attempt(async () => {
    const now = card.value;
    if (!now || !look.value || !change.value) return;
    card.value = await take(
      api.POST('/api/practice/{practice_id}/answer', {
        params: { path: { practice_id: now.id } },
        body: { look: look.value, change: change.value },
      }),
    );
  });
onMounted(next);
</script>

<template>
  <CardsFrame seen="Card to practise on" :problem="problem">
    <template #tools>
      <span v-if="card" class="small">{{ question }} · {{ card.answered }} answered so far</span>
    </template>
    <template #mend>
      <ElButton text data-test="practice-again" @click="next">Try again</ElButton>
    </template>
    <div class="plate">
      <ElSkeleton v-if="!drawn && !problem" class="wait" animated :rows="5" />
      <img
        v-if="card"
        v-show="drawn"
        :key="card.id"
        :src="`/api/practice/${card.id}.png`"
        alt="A card that was sprayed with the setting beside it"
        data-test="practice-card"
        @load="drawn = true"
      />
    </div>
    <PracticeStandings v-if="card" :standings="card.standings" />
    <template #told>
      <template v-if="card">
        <section aria-labelledby="sprayed-with">
          <h2 id="sprayed-with">Sprayed with</h2>
          <dl class="with">
            <div v-for="r in rows" :key="r.name">
              <dt>{{ r.name }}</dt>
              <dd>{{ r.words }}</dd>
            </div>
          </dl>
        </section>
        <PracticeJudged v-if="judged" :judged="judged" />
        <template v-else>
          <section aria-labelledby="what-is-it">
            <h2 id="what-is-it">What do you see?</h2>
            <ElRadioGroup
              v-model="look"
              class="looks"
              aria-labelledby="what-is-it"
              data-test="practice-look"
            >
              <ElRadioButton v-for="l in LOOKS_APART" :key="l" :value="l">{{
                LOOKS[l]
              }}</ElRadioButton>
            </ElRadioGroup>
          </section>
          <section aria-labelledby="what-change">
            <h2 id="what-change">What would you change?</h2>
            <ElRadioGroup
              v-model="change"
              class="changes"
              aria-labelledby="what-change"
              data-test="practice-change"
            >
              <ElRadioButton v-for="[c, label] in CHANGES" :key="c" :value="c">{{
                label
              }}</ElRadioButton>
            </ElRadioGroup>
          </section>
        </template>
        <footer>
          <ElButton
            v-if="judged"
            type="primary"
            :loading="busy"
            data-test="practice-next"
            @click="next"
            >Next card</ElButton
          >
          <ElButton
            v-else
            type="primary"
            :disabled="!look || !change"
            :loading="busy"
            data-test="practice-answer"
            @click="answer"
            >Answer</ElButton
          >
          <span v-if="!judged && !(look && change)" class="small">Choose one of each.</span>
        </footer>
      </template>
    </template>
  </CardsFrame>
</template>

<style scoped>
footer {
  display: flex;
  align-items: center;
  gap: 12px;
  position: sticky;
  bottom: -16px;
  margin: auto 0 -16px;
  padding: 12px 0 16px;
  background: var(--sheet);
}
h2 {
  margin-bottom: 8px;
}
.plate {
  display: grid;
  flex: 1;
  place-items: center;
  min-height: 0;
  padding: 14px;
  overflow: hidden;
  border-radius: 8px;
  background: var(--stand);
}
.plate img {
  max-width: 100%;
  max-height: 100%;
  min-height: 0;
  border-radius: 3px;
}
.wait {
  width: 60%;
}
.with {
  display: grid;
  grid-template-columns: 1fr 1fr;
  margin: 0;
  gap: 2px 14px;
}
.with div {
  display: flex;
  justify-content: space-between;
  padding: 4px 0;
  border-bottom: 1px solid var(--hair);
  gap: 8px;
}
.with div:nth-child(-n + 2) {
  grid-column: 1 / -1;
}
.with dt {
  color: var(--ink-2);
}
.with dd {
  margin: 0;
  text-align: right;
}
.looks,
.changes {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px;
}
.looks {
  grid-template-columns: repeat(6, 1fr);
}
.looks > * {
  grid-column: span 2;
}
.looks > :nth-child(n + 4) {
  grid-column: span 3;
}
.looks :deep(.el-radio-button__inner),
.changes :deep(.el-radio-button__inner) {
  width: 100%;
  border: 1px solid var(--outline);
  border-radius: 6px;
}
</style>
