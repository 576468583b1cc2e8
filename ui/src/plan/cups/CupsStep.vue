<script setup lang="ts">
import { computed } from 'vue';

import { DIALS, RISKS, type Knob } from '@/craft.generated';
import CupSection from '@/instruments/cup/CupSection.vue';
import ScaleBar from '@/instruments/cup/ScaleBar.vue';
import CautionList from '@/displays/CautionList.vue';
import { decimals, duration, pressure } from '@/displays/format';
import StatusSign from '@/displays/StatusSign.vue';
import { usePlan } from '@/stores/plan';
import { useSettings } from '@/stores/settings';
import { useShelf } from '@/stores/shelf';
import type { Coat, CoatWorkings } from '@/api/client';

const store = usePlan();
const shelf = useShelf();
const settings = useSettings();
const unit = computed(() => settings.values.pressure_unit ?? 'psi');
const work = computed(() => store.coatWorkings);

type Shown = { first: string; second?: string };
const SHOWN: Record<Knob, (value: number) => Shown> = {
  pressure_psi: (v) => pressure(v, unit.value),
  thinner_parts: (v) => ({ first: `${decimals(v, 2)} : 1` }),
  trigger: (v) => ({ first: `${decimals(v * 100, 0)} %` }),
  distance_mm: (v) => ({ first: `${decimals(v, 0)} mm` }),
  speed_mm_s: (v) => ({ first: `${decimals(v, 0)} mm/s` }),
};
const KNOBS = Object.keys(SHOWN) as Knob[];

function set(knob: Knob, value: number): void {
  void store.changeCoat(`${DIALS[knob].label} of ${store.coat?.name}`, (coat) => {
    coat.spray[knob] = value;
  });
}
function isKnob(name: string): name is Knob {
  return name in SHOWN;
}
function label(knob: string): string {
  return DIALS[knob as keyof typeof DIALS]?.label ?? knob;
}
function told(knob: string, value: number): string {
  return isKnob(knob) ? SHOWN[knob](value).first : `${duration(value)} blown dry`;
}
type Advice = CoatWorkings['spray']['advice'][number];
function follow(advice: Advice): void {
  void store.changeCoat(`${label(advice.knob)} of ${store.coat?.name}`, (coat) => {
    for (const { knob, by_hand: set } of [advice, ...advice.alongside]) {
      if (isKnob(knob)) coat.spray[knob] = set;
      else {
        coat.spray.rest_s = set;
        coat.spray.blown = true;
      }
    }
  });
}
function setThinner(id: string): void {
  const thinner = shelf.shelf.thinners.find((t) => t.id === id);
  if (thinner)
    void store.changeCoat(`Thinned with ${thinner.name}`, (c: Coat) => (c.thinner = thinner));
}
function setAirbrush(id: string): void {
  const airbrush = shelf.shelf.airbrushes.find((a) => a.id === id);
  if (airbrush) void store.change(`With ${airbrush.name}`, (plan) => (plan.airbrush = airbrush));
}
</script>

<template>
  <div v-if="store.coat && work" class="cups">
    <header>
      <h2>{{ store.coat.name }}</h2>
      <StatusSign :sign="work.spray.verdict" />
      <span v-if="work.spray.limiting" class="small">{{ RISKS[work.spray.limiting] }}</span>
    </header>
    <CautionList :cautions="work.cautions" />
    <div class="setup">
      <div class="pour">
        <CupSection :poured="work.cup.poured" :loads="work.cup.loads" />
        <div class="gear">
          <label>
            <span class="small">Airbrush, needle</span>
            <select
              aria-label="Airbrush and needle"
              :value="store.plan!.airbrush.id"
              @change="setAirbrush(($event.target as HTMLSelectElement).value)"
            >
              <option
                v-if="!shelf.shelf.airbrushes.some((a) => a.id === store.plan!.airbrush.id)"
                :value="store.plan!.airbrush.id"
              >
                {{ store.plan!.airbrush.name }}
              </option>
              <option v-for="a in shelf.shelf.airbrushes" :key="a.id" :value="a.id">
                {{ a.name }}
              </option>
            </select>
          </label>
          <label>
            <span class="small">Thinner</span>
            <select
              aria-label="Thinner"
              :value="store.coat.thinner.id"
              @change="setThinner(($event.target as HTMLSelectElement).value)"
            >
              <option
                v-if="!shelf.shelf.thinners.some((t) => t.id === store.coat!.thinner.id)"
                :value="store.coat.thinner.id"
              >
                {{ store.coat.thinner.name }}
              </option>
              <option v-for="t in shelf.shelf.thinners" :key="t.id" :value="t.id">
                {{ t.name }}
              </option>
            </select>
          </label>
        </div>
      </div>
      <section class="scales" aria-label="Setting; the clean range is drawn in">
        <ScaleBar
          v-for="knob in KNOBS"
          :key="knob"
          :label="DIALS[knob].label"
          :value="store.coat.spray[knob]"
          :min="DIALS[knob].low"
          :max="DIALS[knob].high"
          :step="DIALS[knob].step"
          :clean="work.margins[knob] ?? null"
          :shown="SHOWN[knob]"
          @change="set(knob, $event)"
        />
        <p class="small">
          The dark band is where this knob alone may be and still spray clean, from the model.
        </p>
      </section>
    </div>
    <section v-if="work.spray.advice.length" class="note" aria-label="What to change">
      <h3>What to change first</h3>
      <ul>
        <li v-for="a in work.spray.advice.slice(0, 3)" :key="a.knob">
          <span
            ><b>{{ label(a.knob) }}</b> {{ told(a.knob, a.from) }} → {{ told(a.knob, a.to) }}:
            {{ a.why
            }}<template v-for="b in a.alongside" :key="b.knob"
              >; {{ label(b.knob).toLowerCase() }} {{ told(b.knob, b.to) }}: {{ b.why }}</template
            >.</span
          >
          <button class="quiet-button" type="button" @click="follow(a)">Do this</button>
        </li>
      </ul>
    </section>
    <dl class="out number">
      <dt>how sure</dt>
      <dd class="wide">
        {{ work.spray.sure }}
        <span class="small">from the model, untried</span>
      </dd>
      <dt>rounds</dt>
      <dd class="wide">
        {{ work.rounds }}
        <span class="small"
          >{{
            store.coat.spray.rest_s
              ? `${duration(store.coat.spray.rest_s)} between${store.coat.spray.blown ? ', blown' : ''}`
              : 'without rests'
          }}; {{ work.rounds_alike }}</span
        >
      </dd>
      <dt>hands</dt>
      <dd>{{ duration(work.hands_s) }}</dd>
      <dd class="small">
        spraying, {{ store.plan!.piece.copies === 1 ? 'one copy' : 'all copies' }}
      </dd>
      <dt>spot</dt>
      <dd>{{ decimals(work.spray.footprint_mm, 0) }} mm</dd>
      <dd class="small">wide at this distance</dd>
      <dt>film per pass</dt>
      <dd>{{ decimals(work.spray.dry_film_um, 1) }} µm</dd>
      <dd class="small">
        dry, {{ decimals(work.spray.dry_film_um_low, 1) }} to
        {{ decimals(work.spray.dry_film_um_high, 1) }} in most airbrushes
      </dd>
      <dt>droplets</dt>
      <dd>{{ decimals(work.spray.droplet_um, 0) }} µm</dd>
      <dd class="small">mean size</dd>
      <dt>touch-dry</dt>
      <dd>{{ duration(work.waits.touch_dry_blown_s) }}</dd>
      <dd class="small">blown; {{ duration(work.waits.touch_dry_still_s) }} in still air</dd>
      <dt>next coat after</dt>
      <dd>{{ duration(work.waits.recoat_s) }}</dd>
      <dd class="small">
        {{ store.coat.spray.blown ? 'blown dry' : 'in still air' }}, in this room
      </dd>
      <dt>to mix</dt>
      <dd>{{ decimals(work.cup.mix_ml, 1) }} ml</dd>
      <dd class="small">for {{ store.plan!.piece.copies }}, trial and cup rest with it</dd>
    </dl>
  </div>
  <div v-else class="cups">
    <h2>
      {{
        store.hand
          ? store.hand.name
          : !store.coat
            ? 'No coat chosen'
            : store.refused
              ? 'No cup'
              : 'Working out the cup …'
      }}
    </h2>
    <p v-if="store.hand">{{ store.handWorkings?.words }} It needs no cup.</p>
    <p v-else-if="!store.coat">Choose a coat in the film to see what goes into its cup.</p>
  </div>
</template>

<style scoped>
.cups {
  display: grid;
  gap: 14px;
  padding: 14px 20px 20px;
}
header {
  display: flex;
  align-items: baseline;
  gap: 12px;
}
.setup {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 24px;
}
.pour {
  display: grid;
  align-content: start;
  gap: 10px;
}
.gear {
  display: grid;
  gap: 8px;
}
.gear label {
  display: grid;
  gap: 2px;
}
.scales {
  display: grid;
  gap: 8px;
}
ul {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  display: grid;
  gap: 8px;
}
li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
}
li .quiet-button {
  flex: none;
}
.out {
  display: grid;
  grid-template-columns: 118px 84px 1fr;
  align-items: baseline;
  gap: 3px 10px;
  margin: 0;
  padding-top: 12px;
  border-top: 1px solid var(--line);
}
dt {
  color: var(--text-2);
}
dd {
  margin: 0;
}
.wide {
  grid-column: 2 / 4;
}
.wide .small {
  margin-left: 8px;
  font-weight: 400;
}
dd:not(.small) {
  font-weight: 640;
}
</style>
