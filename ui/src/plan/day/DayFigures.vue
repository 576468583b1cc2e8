<script setup lang="ts">
import { computed } from 'vue';

import type { DayFigures, DayView } from '@/api/client';
import FigureRow from '@/displays/FigureRow.vue';
import { clockTime, hoursWords, minutesOf, weekday } from '@/displays/format';

/** What a laid day comes to, against the usual ways and against what no order can beat. */
const props = defineProps<{ day: DayView; figures: DayFigures }>();

const MIDNIGHT = 24 * 60;
const start = computed(() => minutesOf(props.day.doc.start));
const single = computed(() => props.figures.days === 1);

function until(minutes: number): string {
  const on = Math.floor((minutes + start.value) / MIDNIGHT);
  const time = clockTime(minutes + start.value);
  return on ? `${weekday(props.day.doc.date, on)} ${time}` : time;
}
/** A length of time: hours on one day, else which day it ends on. */
function long(minutes: number): string {
  if (minutes < MIDNIGHT && single.value) return hoursWords(minutes);
  return `day ${Math.floor((minutes + start.value) / MIDNIGHT) + 1}`;
}
const ways = computed(() => {
  const f = props.figures;
  const rows = [
    { word: 'one by one', minutes: f.one_by_one_min, own: false },
    { word: 'coat by coat', minutes: f.coat_by_coat_min, own: false },
    { word: 'this day', minutes: f.finish_min, own: true },
  ];
  const most = Math.max(...rows.map((r) => r.minutes ?? 0), 1);
  return rows.map((r) => ({ ...r, share: (r.minutes ?? 0) / most }));
});
const large = computed(() => {
  const [number, ...unit] = hoursWords(
    single.value ? props.figures.total_min : props.figures.hands_min,
  ).split(' ');
  return { number, unit: unit.join(' ') };
});
const under = computed(() =>
  single.value
    ? `till ${until(props.figures.total_min)}, then it dries`
    : `of hands in ${props.figures.days} sittings, the last till ${until(props.figures.finish_min)}`,
);
const bound = computed(() =>
  single.value
    ? `No order can be shorter than ${hoursWords(props.figures.bound_min)}.`
    : `No order ends before ${until(props.figures.bound_min)}.`,
);
const deciding = computed(() => [
  { word: 'cup changes', value: String(props.figures.changes) },
  { word: 'idle', value: hoursWords(props.figures.idle_min) },
  { word: 'deep cleans', value: String(props.figures.deep_cleans) },
]);
</script>

<template>
  <div class="told" data-test="day-figures">
    <p class="large">
      <b class="number">{{ large.number }} {{ large.unit }}</b>
    </p>
    <p class="small under">{{ under }}</p>
    <dl class="ways">
      <div v-for="way in ways" :key="way.word" :class="{ own: way.own }">
        <dt>{{ way.word }}</dt>
        <dd class="bar" aria-hidden="true"><i :style="{ width: `${way.share * 100}%` }" /></dd>
        <dd class="number">{{ way.minutes === null ? 'cannot be' : long(way.minutes!) }}</dd>
      </div>
    </dl>
    <p class="small" data-test="bound">{{ bound }}</p>
    <FigureRow :figures="deciding" />
    <p v-if="figures.moved !== null && figures.moved !== undefined" class="small" data-test="moved">
      {{
        figures.moved === 0
          ? 'The order is as it was.'
          : `${figures.moved} of the steps that followed each other are now done the other way round.`
      }}
    </p>
  </div>
</template>

<style scoped>
.told {
  display: grid;
  gap: 10px;
}
.large b {
  font-size: var(--f42);
  font-weight: 700;
  line-height: 1;
}
.under {
  margin-top: -6px;
}
.ways {
  display: grid;
  gap: 6px;
  margin: 0;
}
.ways > div {
  display: grid;
  grid-template-columns: 88px minmax(0, 1fr) 62px;
  gap: 8px;
  align-items: center;
}
.ways dt {
  font-size: var(--f14);
}
.ways dd {
  margin: 0;
  font-size: var(--f14);
  font-weight: 660;
}
.bar i {
  display: block;
  height: 11px;
  border-radius: 4px;
  background: var(--outline);
}
.own dt {
  font-weight: 660;
}
.own .bar i {
  background: var(--black);
}
</style>
