<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue';

import type { BoothStep } from '@/api/client';
import { hoursWords } from '@/displays/format';

import SwatchPlate from '@/window/SwatchPlate.vue';
import { takeSwatch, type Swatch } from '@/window/swatch';

import BoothHold from './BoothHold.vue';
import BoothSetting from './BoothSetting.vue';

/** One step as it is told: what to do now, in words that are read from 1.5 m. */
const props = defineProps<{
  step: BoothStep;
  title: string;
  /** Which round or copy it is; empty when there is but one. */
  units: string;
  /** When what lies below is dry; empty when it is. */
  dryAt: string;
  gauge: number | null;
  sagging: boolean;
  picture: string | null;
}>();
const waits = computed(() => props.dryAt !== '');
const piece = computed(() => props.step.about.split(' · ').at(-1));
const paint = computed(() => props.step.about.split(' · ')[0]);
const latest = computed(() => {
  const limit = props.step.after?.latest_min;
  return limit === null || limit === undefined ? '' : `within ${hoursWords(limit)} of the last`;
});
const swatch = shallowRef<Swatch | null>(null);
/** Beside a trial: what the card should look like. Without a server the booth goes on without it. */
watch(
  () => (props.step.kind === 'trial' ? props.step.through : null),
  async (through) => {
    swatch.value = null;
    if (!through) return;
    const drawn = await takeSwatch({ ...through, task: 'cover' }, props.step.mixed ?? []).catch(
      () => null,
    );
    if (props.step.through === through) swatch.value = drawn;
  },
  { immediate: true },
);
</script>

<template>
  <div class="step" :class="[step.kind, { waits }]">
    <div class="told">
      <h1 data-test="booth-title">
        <i v-if="step.colour && step.kind === 'cup'" :style="{ background: step.colour }" />{{
          title
        }}
      </h1>
      <template v-if="waits">
        <p class="large">{{ piece }} dries until {{ dryAt }}.</p>
        <p class="large">
          Then <b>{{ paint }}</b><template v-if="latest">, {{ latest }}</template
          >.
        </p>
      </template>
      <template v-else>
        <p v-if="step.kind === 'hold'" class="large">
          <b>{{ step.title }}</b><template v-if="step.hold">: {{ step.hold.words }}</template
          >.
        </p>
        <p v-else-if="units" class="large">{{ units }}</p>
        <p v-if="latest" class="large warned">{{ latest }}</p>
        <ul v-if="step.cautions.length && step.kind === 'caution'" class="cautions">
          <li v-for="c in step.cautions" :key="c.id" :class="c.sign">
            <b>{{ c.sign }}</b> {{ c.text }}
          </li>
        </ul>
        <ol v-if="step.cup.length" class="poured">
          <li v-for="line in step.cup" :key="line">{{ line }}</li>
        </ol>
        <ul v-if="step.kind === 'check'" class="check">
          <li v-for="side in step.sides" :key="side">{{ side }}</li>
          <li v-for="part in step.parts" :key="part.name">
            {{ part.name }}: lands on {{ Math.round(part.share * 100) }} %
          </li>
        </ul>
        <p v-if="step.kind === 'hold'" class="words">{{ step.words.join(' ') }}</p>
        <template v-else-if="step.kind !== 'trial'">
          <p v-for="words in step.words" :key="words" class="words">{{ words }}</p>
        </template>
        <BoothSetting v-if="step.spray" :step="step" :gauge="gauge" :sagging="sagging" />
        <ul v-if="step.kind === 'cup' && step.cautions.length" class="short">
          <li v-for="c in step.cautions" :key="c.id">{{ c.short }}</li>
        </ul>
      </template>
    </div>
    <SwatchPlate v-if="swatch && !waits" class="should" :swatch="swatch" />
    <BoothHold v-if="step.hold && !waits" :step="step" :picture="picture" />
  </div>
</template>

<style scoped>
.step {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 32px;
  height: 100%;
}
.step.hold:has(.hold) {
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 0.9fr);
  grid-template-rows: minmax(0, 1fr);
}
.step.trial:has(.should) {
  grid-template-columns: minmax(0, 1.1fr) minmax(0, 0.9fr);
}
.should {
  align-content: start;
  font-size: 28px;
}
.should :deep(small) {
  font-size: 28px;
}
.should :deep(img) {
  max-width: none;
}
.told {
  display: grid;
  align-content: start;
  gap: 16px;
}
h1 {
  display: flex;
  align-items: center;
  gap: 20px;
  font-size: 72px;
  font-weight: 740;
  line-height: 1;
  overflow-wrap: anywhere;
}
h1 i {
  flex: none;
  width: 64px;
  height: 64px;
  border-radius: 14px;
  box-shadow: inset 0 0 0 2px rgb(0 0 0 / 25%);
}
.caution h1 {
  font-size: 56px;
}
.waits h1 {
  font-size: 150px;
  font-variant-numeric: tabular-nums;
}
.large {
  font-size: 36px;
  line-height: 1.2;
}
.hold .told {
  gap: 12px;
}
.hold .large {
  font-size: 32px;
}
.warned {
  font-weight: 700;
}
.words,
.short,
.check,
.cautions {
  font-size: 30px;
  line-height: 1.25;
}
ul,
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
.cautions {
  columns: 2;
  column-gap: 36px;
  font-size: 28px;
}
.cautions li {
  margin-bottom: 14px;
  break-inside: avoid;
}
.cautions b::after {
  content: ':';
}
.cautions .stop {
  padding-left: 14px;
  border-left: 8px solid var(--sign-stop);
}
.poured {
  display: grid;
  gap: 6px;
  font-size: 48px;
  font-weight: 680;
  line-height: 1.1;
}
.check {
  columns: 2;
  column-gap: 40px;
}
.check li {
  break-inside: avoid;
  padding: 2px 0;
}
.check li::before {
  content: '□ ';
}
.short {
  display: grid;
  gap: 4px;
  color: var(--ink-2);
}
ul,
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
@media (max-width: 900px) {
  .step.hold:has(.hold) {
    grid-template-columns: minmax(0, 1fr);
    grid-template-rows: auto 225px;
    height: auto;
  }
  .cautions,
  .check {
    columns: 1;
  }
}
</style>
