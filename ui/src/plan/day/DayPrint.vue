<script setup lang="ts">
import { computed } from 'vue';

import type { BoothStep, BoothView, DayView } from '@/api/client';
import CautionList from '@/displays/CautionList.vue';
import {
  clockTime,
  dayName,
  decimals,
  length,
  minutesOf,
  pressure,
  speed,
} from '@/displays/format';
import HoldSketch from '@/plan/coats/HoldSketch.vue';
import { useSettings } from '@/stores/settings';

/** The day on paper: every stretch in order, its cup and setting, and a sketch of every hold. */
const props = defineProps<{ day: DayView; booth: BoothView }>();
const settings = useSettings();
const start = computed(() => minutesOf(props.day.doc.start));
function at(minutes: number): string {
  return clockTime(minutes + start.value);
}

interface Stretch {
  entry: string;
  day: number;
  from: number;
  about: string;
  colour: string | null;
  clean: BoothStep | null;
  cup: BoothStep | null;
  sprayed: BoothStep | null;
  holds: { step: BoothStep; rounds: number }[];
  words: string[];
}
const stretches = computed(() => {
  const found: Stretch[] = [];
  for (const step of props.booth.steps) {
    if (step.kind === 'caution' || step.kind === 'close') continue;
    let one = found.at(-1);
    if (one?.entry !== step.entry) {
      one = {
        entry: step.entry,
        day: step.day,
        from: step.from_min,
        about: step.about,
        colour: step.colour ?? null,
        clean: null,
        cup: null,
        sprayed: null,
        holds: [],
        words: [],
      };
      found.push(one);
    }
    lay(one, step);
  }
  return found;
});
function lay(one: Stretch, step: BoothStep): void {
  if (step.kind === 'clean') one.clean = step;
  else if (step.kind === 'cup') one.cup = step;
  else if (step.kind === 'hand' || step.kind === 'dry') one.words.push(...step.words);
  else if (step.kind === 'hold') {
    one.sprayed = step;
    const same = one.holds.find((h) => h.step.title === step.title);
    // sides that are gone round several times stand once, with all their rounds
    if (same) same.rounds += step.rounds ?? 1;
    else one.holds.push({ step, rounds: step.rounds ?? 1 });
  }
}
function setting(step: BoothStep): string {
  const s = step.spray;
  if (!s) return '';
  const told = pressure(s.pressure_psi, settings.values.pressure_unit ?? 'psi');
  return [
    `${told.first} (${told.second})`,
    `trigger stop ${decimals(s.trigger * 100, 0)} %`,
    `${length(s.distance_mm)} away`,
    speed(s.speed_mm_s),
    ...(s.rest_s ? [`${decimals(s.rest_s, 0)} s between rounds`] : []),
  ].join(' · ');
}
const cautions = computed(
  () => props.booth.steps.find((s) => s.kind === 'caution')?.cautions ?? [],
);
function newDay(n: number): boolean {
  return n === 0 || stretches.value[n - 1]!.day !== stretches.value[n]!.day;
}
</script>

<template>
  <article class="paper" data-test="day-print">
    <h1>{{ dayName(day.doc.date) }}, {{ day.doc.start }}</h1>
    <p>{{ day.plans.map((p) => p.name).join(' · ') }}</p>
    <CautionList :cautions="cautions" />
    <template v-for="(one, n) in stretches" :key="`${one.entry}${n}`">
      <h2 v-if="newDay(n)">{{ dayName(day.doc.date, one.day) }}</h2>
      <section>
        <h3>
          <span class="mono">{{ at(one.from) }}</span>
          <i v-if="one.colour" :style="{ background: one.colour }" />
          {{ one.about }}
          <span v-for="copy in (one.sprayed ?? one.cup)?.which ?? []" :key="copy" class="box">{{
            copy
          }}</span>
        </h3>
        <p v-if="one.clean"><b>First:</b> {{ one.clean.words.join(' ') }}</p>
        <p v-if="one.cup">
          <b>Cup:</b> {{ one.cup.cup.join(', then ') }}. {{ one.cup.words.join(' ') }}
        </p>
        <p v-if="one.sprayed">{{ setting(one.sprayed) }}</p>
        <p v-for="words in one.words" :key="words">{{ words }}</p>
        <ul v-if="one.holds.length">
          <li v-for="h in one.holds" :key="h.step.id">
            <HoldSketch
              v-if="h.step.hold"
              bare
              :azimuth="h.step.hold.azimuth_deg"
              :elevation="h.step.hold.elevation_deg"
              :words="h.step.hold.words"
            />
            <b>{{ h.step.title }}</b>, {{ h.rounds }} round{{ h.rounds === 1 ? '' : 's'
            }}<template v-if="h.step.hold">: {{ h.step.hold.words }}</template>
          </li>
        </ul>
      </section>
    </template>
  </article>
</template>

<style scoped>
.paper {
  display: none;
}
@media print {
  .paper {
    display: block;
    color: #000;
    font-size: 9.5pt;
    line-height: 1.3;
  }
  h1 {
    font-size: 16pt;
  }
  h2 {
    margin-top: 10pt;
    font-size: 12pt;
  }
  h3 {
    display: flex;
    align-items: center;
    gap: 6pt;
    font-size: 10.5pt;
  }
  h3 i {
    width: 10pt;
    height: 10pt;
    border: 0.5pt solid #000;
    print-color-adjust: exact;
  }
  .box {
    min-width: 12pt;
    padding: 0 2pt;
    border: 0.7pt solid #000;
    font-size: 8pt;
    text-align: center;
  }
  section {
    margin-top: 5pt;
    padding-top: 3pt;
    border-top: 0.5pt solid #888;
    break-inside: avoid;
  }
  ul {
    display: grid;
    grid-template-columns: repeat(4, 1fr);
    gap: 4pt 8pt;
    margin: 3pt 0 0;
    padding: 0;
    list-style: none;
    font-size: 8pt;
  }
}
</style>
