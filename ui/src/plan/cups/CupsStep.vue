<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed } from 'vue';

import { DIALS, RISKS, type Knob } from '@/craft.generated';
import CupSection from '@/instruments/cup/CupSection.vue';
import ScaleBar from '@/instruments/cup/ScaleBar.vue';
import CautionList from '@/displays/CautionList.vue';
import { decimals, duration, pressure, stepWords } from '@/displays/format';
import FigureRow, { type Figure } from '@/displays/FigureRow.vue';
import StatusSign from '@/displays/StatusSign.vue';
import { usePlan } from '@/stores/plan';
import { useSettings } from '@/stores/settings';
import { useShelf } from '@/stores/shelf';
import type { Coat, CoatWorkings } from '@/api/client';
import ChoiceField from '@/fields/ChoiceField.vue';

const store = usePlan();
const shelf = useShelf();
const settings = useSettings();
const unit = computed(() => settings.values.pressure_unit ?? 'psi');
const work = computed(() => store.coatWorkings);

/** What is on the shelf, and what the plan has although it is no longer there. */
function owned(rows: { id: string; name: string }[], own: { id: string; name: string }) {
  const known = rows.some((r) => r.id === own.id) ? rows : [own, ...rows];
  return known.map((r) => ({ id: r.id, label: r.name }));
}
const airbrushes = computed(() => owned(shelf.shelf.airbrushes, store.plan!.airbrush));
const thinners = computed(() => owned(shelf.shelf.thinners, store.coat!.thinner));

const copies = computed(() => {
  const { copies: n, name } = store.plan!.piece;
  return n === 1 ? name : `${n} × ${name}`;
});
const loads = computed(() => {
  const n = work.value?.cup.loads ?? 1;
  return n === 1 ? 'one cup is enough' : `${n} cups`;
});
/** The rest of an amount, and its turn: thinner goes in first. */
function pourWords(amount: string, turn: number): string {
  const unit = amount.split(' ').slice(1).join(' ');
  return `${unit}, ${turn === 0 ? 'first' : turn === work.value!.cup.poured.length - 1 ? 'last' : 'then'}`;
}

const figures = computed<Figure[]>(() => {
  const w = work.value!;
  const film = `${decimals(w.spray.dry_film_um_low, 1)} to ${decimals(w.spray.dry_film_um_high, 1)} µm in most airbrushes; from the model`;
  return [
    { word: 'spot', value: decimals(w.spray.footprint_mm, 0), unit: 'mm' },
    { word: 'dry film a pass', value: decimals(w.spray.dry_film_um, 1), unit: 'µm', from: film },
    { word: 'touch-dry, blown', value: duration(w.waits.touch_dry_blown_s) },
    { word: 'of hands', value: duration(w.hands_s) },
  ];
});
/** Why there is no cup to show. */
const none = computed(() => {
  if (store.hand)
    return { title: store.hand.name, words: 'Done by hand: there is no cup to fill.' };
  if (!store.coat)
    return { title: 'No coat chosen', words: 'Choose one at the side to see its cup.' };
  return store.refused
    ? { title: 'No cup', words: 'This cannot be sprayed as it is; undo, or choose another.' }
    : { title: store.coat.name, words: 'Working it out …' };
});

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
    <section class="sheet pour" aria-label="The cup">
      <header>
        <h2>{{ store.coat.name }}</h2>
        <StatusSign :sign="work.spray.verdict" />
      </header>
      <p class="small about">
        {{ stepWords(store.coat) }} · {{ store.plan!.airbrush.name }} · {{ copies
        }}<template v-if="work.spray.limiting"> · {{ RISKS[work.spray.limiting] }}</template>
      </p>
      <CautionList v-if="work.cautions.length" :cautions="work.cautions" />
      <div class="filled">
        <CupSection :poured="work.cup.poured" :loads="work.cup.loads" />
        <dl class="poured number" aria-label="Pour in this order">
          <div v-for="(p, n) in work.cup.poured" :key="p.what">
            <dd>{{ p.amount.split(' ')[0] }}</dd>
            <dt>
              {{ p.what }}
              <small>{{ pourWords(p.amount, n) }}</small>
            </dt>
          </div>
          <div class="sum">
            <dd>{{ decimals(work.cup.mix_ml, 1) }}</dd>
            <dt>
              ml to mix
              <small>{{ loads }}, trial and cup rest with it</small>
            </dt>
          </div>
        </dl>
      </div>
      <FigureRow class="deciding" :figures="figures" />
      <dl class="out number">
        <dt>rounds</dt>
        <dd>
          <b>{{ work.rounds }}</b>
          <small
            >{{
              store.coat.spray.rest_s
                ? `${duration(store.coat.spray.rest_s)} between${store.coat.spray.blown ? ', blown' : ''}`
                : 'without rests'
            }}; {{ work.rounds_alike }}</small
          >
        </dd>
        <dt>next coat after</dt>
        <dd>
          <b>{{ duration(work.waits.recoat_s) }}</b>
          <small
            >{{ store.coat.spray.blown ? 'blown dry' : 'in still air' }}, in this room; touch-dry in
            still air {{ duration(work.waits.touch_dry_still_s) }}</small
          >
        </dd>
        <dt>film a pass</dt>
        <dd>
          <b
            >{{ decimals(work.spray.dry_film_um_low, 1) }} to
            {{ decimals(work.spray.dry_film_um_high, 1) }} µm</b
          >
          <small>in most airbrushes; droplets of {{ decimals(work.spray.droplet_um, 0) }} µm</small>
        </dd>
      </dl>
    </section>
    <section class="sheet setting" aria-label="Setting; the clean range is drawn in">
      <h2>Setting <small>the dark band sprays clean</small></h2>
      <div class="pair">
        <ChoiceField
          label="Airbrush and needle"
          :model-value="store.plan!.airbrush.id"
          :choices="airbrushes"
          @update:model-value="setAirbrush"
        />
        <ChoiceField
          label="Thinner"
          :model-value="store.coat.thinner.id"
          :choices="thinners"
          @update:model-value="setThinner"
        />
      </div>
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
      <p class="sure" data-test="sure">
        <b>{{ work.spray.sure.charAt(0).toUpperCase() + work.spray.sure.slice(1) }}</b>
        <small>from the model, untried</small>
      </p>
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
            <ElButton @click="follow(a)">Do this</ElButton>
          </li>
        </ul>
      </section>
    </section>
  </div>
  <div v-else class="sheet">
    <h2>{{ none.title }}</h2>
    <p>{{ none.words }}</p>
  </div>
</template>

<style scoped>
.cups {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 10px;
  min-height: 100%;
}
.sheet {
  display: grid;
  align-content: start;
  gap: 12px;
}
header {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 12px;
}
.about {
  margin-top: -10px;
}
.filled {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr);
  align-items: center;
  gap: 18px;
}
.poured {
  display: grid;
  gap: 10px;
  margin: 0;
}
.poured > div {
  display: grid;
  grid-template-columns: 62px 1fr;
  gap: 12px;
  align-items: center;
}
.poured dd {
  margin: 0;
  font: 700 1.5rem/1 var(--mono);
  text-align: right;
}
.poured dt {
  line-height: 1.25;
}
.poured small {
  display: block;
}
.poured .sum {
  padding-top: 10px;
  border-top: 1px solid var(--hair);
}
.poured .sum dd {
  font-size: var(--f18);
}
.deciding {
  padding: 10px 0;
  border-block: 1px solid var(--hair);
}
.out {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  align-items: baseline;
  gap: 4px 14px;
  margin: 0;
}
.out dt {
  color: var(--ink-2);
}
.out dd {
  margin: 0;
}
.out small {
  display: block;
}
.sure small {
  display: block;
}
ul {
  display: grid;
  gap: 8px;
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
}
li .el-button {
  flex: none;
}
@media (max-width: 820px) {
  .cups {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 1100px) {
  .filled {
    grid-template-columns: minmax(0, 0.75fr) minmax(0, 1fr);
    gap: 10px;
  }
  .poured > div {
    grid-template-columns: 46px 1fr;
    gap: 8px;
  }
  .poured dd {
    font-size: var(--f18);
  }
}
</style>
