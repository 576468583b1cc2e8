<script setup lang="ts">
import { computed } from 'vue';

import CautionList from '@/displays/CautionList.vue';
import {
  clock,
  decimals,
  duration,
  length,
  pressure,
  speed,
  stepWords,
  temperature,
} from '@/displays/format';
import { usePlan } from '@/stores/plan';
import { useSettings } from '@/stores/settings';

const store = usePlan();
const settings = useSettings();
const unit = computed(() => settings.values.pressure_unit ?? 'psi');
const work = computed(() => store.workings);

const coats = computed(() =>
  (store.plan?.coats ?? [])
    .filter((c) => !c.off)
    .map((step, i) => ({
      step,
      coat: step.kind === 'spray' ? step : null,
      number: i + 1,
      work: work.value?.coats.find((c) => c.id === step.id) ?? null,
      hands: work.value?.steps.filter((s) => s.coat === step.id && !s.beside) ?? [],
      beside: work.value?.steps.find((s) => s.coat === step.id && s.beside) ?? null,
    })),
);
const KINDS: Record<string, string> = {
  pour: 'Pour',
  trial: 'Try',
  spray: 'Spray',
  rinse: 'Rinse',
  hand: 'By hand',
};
const today = new Intl.DateTimeFormat(undefined, { dateStyle: 'long' }).format(new Date());
</script>

<template>
  <article v-if="store.plan && work" class="day">
    <header>
      <div>
        <h2>Run sheet</h2>
        <p class="name">{{ store.plan.name }}</p>
        <p class="small number">
          {{ store.plan.piece.copies }} × {{ store.plan.piece.name }},
          {{ length(store.plan.piece.height_mm, 1) }} · {{ store.plan.airbrush.name }} ·
          {{ temperature(store.plan.room.temperature_c) }},
          {{ decimals(store.plan.room.humidity_pct, 0) }} % RH · {{ today }}
        </p>
      </div>
      <div class="total">
        <span class="big number">{{ work.totals.hands }}</span>
        <small>of hands</small>
      </div>
    </header>
    <p data-test="totals">
      And {{ work.totals.waits }}
      {{ Math.max(0, store.sprayed.filter((c) => !c.off).length - 1) }} cup changes.
    </p>
    <CautionList :cautions="work.cautions" />
    <p v-if="!coats.length" class="note">No steps yet: there is nothing to do.</p>
    <section
      v-for="{ step, coat, number, work: w, hands, beside } in coats"
      :key="step.id"
      class="coat"
    >
      <h3>
        <span v-if="step.paint" class="chip" :style="{ background: step.paint.masstone }" />
        {{ number }}. {{ step.name }}
        <span class="small"
          >{{ stepWords(step)
          }}<template v-if="step.paint?.maker">, {{ step.paint.maker }}</template></span
        >
      </h3>
      <p v-if="w && coat" class="setting number">
        <b>{{ pressure(coat.spray.pressure_psi, unit).first }}</b>
        <small>{{ pressure(coat.spray.pressure_psi, unit).second }}</small>
        <span
          >needle <b>{{ decimals(store.plan.airbrush.needle_mm, 2) }} mm</b></span
        >
        <span
          >trigger stop <b>{{ decimals(coat.spray.trigger * 100, 0) }} %</b></span
        >
        <span
          ><b>{{ length(coat.spray.distance_mm) }}</b> away</span
        >
        <span
          ><b>{{ speed(coat.spray.speed_mm_s) }}</b></span
        >
        <span
          ><b>{{ w.rounds }}</b
          ><template v-if="coat.spray.rest_s"
            >, {{ duration(coat.spray.rest_s) }} between</template
          ></span
        >
      </p>
      <div class="tide">
        <ol>
          <li v-for="s in hands" :key="`${s.kind}-${s.station}`">
            <span class="mono at">{{ clock(s.start_s) }}</span>
            <span class="kind">{{ KINDS[s.kind] }}</span>
            <span class="text">{{ s.text }}</span>
            <span v-if="s.rounds" class="boxes" aria-hidden="true"
              ><i v-for="n in Math.min(s.rounds, 12)" :key="n"
            /></span>
          </li>
        </ol>
        <div v-if="beside" class="beside">
          <span class="mono at">{{ clock(beside.start_s) }}</span>
          <span>{{ beside.text }}</span>
          <b class="number">{{ duration(beside.seconds) }}</b>
        </div>
      </div>
    </section>
    <p class="small">
      Times and settings are from the model; tick a box for each round over all copies.
    </p>
  </article>
  <p v-else class="day">Working out the day …</p>
</template>

<style scoped>
.day {
  display: grid;
  gap: 14px;
  max-width: 960px;
  padding: 16px 22px 24px;
}
header {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 20px;
  align-items: center;
}
.name {
  font-weight: 640;
  overflow-wrap: anywhere;
}
.total {
  display: grid;
  text-align: right;
}
.big {
  font-size: var(--f24);
  font-weight: 640;
  line-height: 1.1;
}
.coat {
  border-top: 3px solid var(--ink);
  padding-top: 8px;
  display: grid;
  gap: 6px;
  break-inside: avoid;
}
h3 {
  display: flex;
  align-items: center;
  gap: 8px;
}
.chip {
  flex: none;
  width: 20px;
  height: 20px;
  border: 1px solid var(--edge);
  print-color-adjust: exact;
}
.setting {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
}
.setting small {
  margin-left: -10px;
}
.tide {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 150px;
  gap: 14px;
}
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 44px 54px minmax(0, 1fr) auto;
  gap: 8px;
  align-items: baseline;
  padding: 3px 0;
  border-top: 1px solid var(--well-2);
}
.at {
  color: var(--ink-2);
  font-size: var(--f14);
  text-align: right;
}
.kind {
  font-weight: 640;
}
.boxes {
  display: flex;
  gap: 4px;
}
.boxes i {
  width: 13px;
  height: 13px;
  border: 1.4px solid var(--ink);
}
.beside {
  align-self: end;
  display: grid;
  gap: 2px;
  padding: 8px 10px;
  border-left: 4px solid var(--edge);
  background: var(--well);
  font-size: var(--f14);
}
.beside .at {
  text-align: left;
}
@media print {
  .day {
    padding: 0;
    gap: 8pt;
  }
  .beside {
    background: none;
  }
}
</style>
