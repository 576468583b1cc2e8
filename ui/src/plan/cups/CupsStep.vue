<script setup lang="ts">
import { chosen } from '@/displays/units';
import TradeWord from '@/displays/TradeWord.vue';
import { MoreFilled } from '@element-plus/icons-vue';
import {
  ElButton,
  ElCollapse,
  ElCollapseItem,
  ElDropdown,
  ElDropdownItem,
  ElDropdownMenu,
} from 'element-plus';
import { computed, ref } from 'vue';

import { DIALS, SUITS } from '@/craft.generated';
import CupSection from '@/instruments/cup/CupSection.vue';
import CautionList from '@/displays/CautionList.vue';
import { decimals, duration, stepWords } from '@/displays/format';
import FigureRow, { type Figure } from '@/displays/FigureRow.vue';
import StatusSign from '@/displays/StatusSign.vue';
import { axisOf } from '@/window/axes';
import { additives, knobLabel, turned } from '@/window/knobs';
import PrintCard from '@/cards/PrintCard.vue';
import TriedOnCard from '@/window/TriedOnCard.vue';
import TroubleDialog from '@/window/TroubleDialog.vue';
import { useOwnWay } from '@/window/use-own-way';
import { useSetting, windowTask, type Asked } from '@/window/use-setting';
import WindowPanel from '@/window/WindowPanel.vue';
import { usePlan } from '@/stores/plan';
import { useSettings } from '@/stores/settings';
import { useShelf } from '@/stores/shelf';
import type { Coat, MixPart, SprayAt, TrialLook } from '@/api/client';
import ChoiceField from '@/fields/ChoiceField.vue';
import NumberField from '@/fields/NumberField.vue';

import PremixDialog from './PremixDialog.vue';
import SchoolsDialog from './SchoolsDialog.vue';

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
const thinners = computed(() => {
  const { paint, thinner } = store.coat!;
  const suits = SUITS[paint.kind];
  const kinds = new Map([thinner, ...shelf.shelf.thinners].map((t) => [t.id, t.kind]));
  return owned(shelf.shelf.thinners, thinner).map((row) => {
    const kind = kinds.get(row.id)!;
    if (!suits.includes(kind)) return { ...row, more: 'spoils this paint: another chemistry' };
    return { ...row, more: kind === suits[0] ? 'its own' : 'suits it' };
  });
});

const copies = computed(() => {
  const { copies: n, name } = store.plan!.piece;
  return n === 1 ? name : `${n} × ${name}`;
});
const loads = computed(() => {
  const n = work.value?.cup.loads ?? 1;
  return n === 1 ? 'one fill' : `${n} fills`;
});
/** The rest of an amount, and its turn: thinner goes in first. */
function pourWords(amount: string, turn: number): string {
  const unit = amount.split(' ').slice(1).join(' ');
  return `${unit}, ${turn === 0 ? 'first' : turn === work.value!.cup.poured.length - 1 ? 'last' : 'then'}`;
}

const figures = computed<Figure[]>(() => {
  const w = work.value!;
  const told = setting.told.value?.spray ?? w.spray;
  const known = setting.known.value?.trials.length
    ? 'from the model and your trials'
    : 'from the model';
  const film = `${decimals(told.dry_film_um_low, 1)} to ${decimals(told.dry_film_um_high, 1)} µm in most airbrushes; ${known}`;
  return [
    { word: 'spot', value: decimals(told.footprint_mm, 0), unit: 'mm', from: known },
    { word: 'dry film a pass', value: decimals(told.dry_film_um, 1), unit: 'µm', from: film },
    { word: 'touch-dry with air', value: duration(told.touch_dry_s.blown ?? 0), from: known },
    { word: 'until the tip dries', value: duration(told.tip_dry_min * 60), from: known },
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

/** The coat as one may ask after it without its plan. */
const asked = computed<Asked | null>(() => {
  const { coat, plan } = store;
  const w = work.value;
  if (!coat || !plan || !w) return null;
  const { id, name, needle_mm } = plan.airbrush;
  const s = coat.spray;
  return {
    paint: { id: coat.paint.id, name: coat.paint.name, kind: coat.paint.kind },
    airbrush: { id, name, needle_mm },
    task: coat.task,
    // the setting follows the screen at once; what lies below comes from the last workings
    setting: {
      ...w.setting,
      needle_mm,
      thinner: coat.thinner.kind,
      thinner_parts: s.thinner_parts,
      trigger: s.trigger,
      pressure_psi: s.pressure_psi,
      distance_mm: s.distance_mm,
      speed_mm_s: s.speed_mm_s,
      rest_s: s.rest_s,
      blown: s.blown,
      additives: additives(s),
    },
  };
});
const parts = computed<MixPart[]>(() => {
  const coat = store.coat;
  return coat ? [{ paint: coat.paint, drops: coat.drops ?? 1 }, ...(coat.also ?? [])] : [];
});
const across = computed(() => axisOf('thinner_parts', unit.value));
const up = computed(() => axisOf('pressure_psi', unit.value));
const setting = useSetting(
  () => asked.value,
  () => ({ across: across.value, up: up.value }),
  () => windowTask(store.coat?.task),
  () => parts.value,
);
const spray = computed<SprayAt>(() => ({ ...store.coat!.spray, ...setting.dragged.value }));
function change(knobs: Record<string, number>): void {
  setting.dragged.value = {};
  const names = Object.keys(knobs).map((k) => knobLabel(k));
  void store.changeCoat(`${names.join(' and ')} of ${store.coat?.name}`, (coat) => {
    coat.spray = turned(coat.spray, knobs);
  });
}
async function log(look: TrialLook): Promise<void> {
  await setting.log(look, { plan: store.id!, step: store.coat!.id });
  store.relearn();
}
async function back(trial: string, now: boolean): Promise<void> {
  await setting.takeBack(trial, now);
  store.relearn();
}
const troubled = ref(false);
const comparing = ref(false);
const printing = ref(false);
const bottling = ref(false);
const own = useOwnWay(
  () => asked.value,
  () => store.coat!.task,
);
function useWay(): void {
  const way = own.way.value;
  if (way) void store.changeCoat(`Your way for ${store.coat?.name}`, (c: Coat) => (c.spray = way));
}
function useSchool(name: string, said: SprayAt): void {
  void store.changeCoat(`${name} for ${store.coat?.name}`, (c: Coat) => (c.spray = said));
}
function setThinner(id: string): void {
  const thinner = shelf.shelf.thinners.find((t) => t.id === id);
  if (thinner)
    void store.changeCoat(`Thinned with ${thinner.name}`, (c: Coat) => (c.thinner = thinner));
}
function setAdditive(name: 'Flow aid' | 'Retarder', parts: number): void {
  const field = name === 'Retarder' ? 'retarder_parts' : 'flow_aid_parts';
  void store.changeCoat(`${name} of ${store.coat?.name}`, (c: Coat) => {
    c.spray[field] = parts;
  });
}
function setAirbrush(id: string): void {
  const airbrush = shelf.shelf.airbrushes.find((a) => a.id === id);
  if (airbrush) void store.change(`With ${airbrush.name}`, (plan) => (plan.airbrush = airbrush));
}
/** Counted in drops, or in ml for who measures with a syringe. */
function amount(p: { amount: string; ml: number }): string {
  return chosen.volume === 'ml' ? `${decimals(p.ml, 2)} ml` : p.amount;
}
</script>

<template>
  <div v-if="store.coat && work" class="cups">
    <section class="sheet pour" aria-label="The cup">
      <header>
        <h2>{{ store.coat.name }}</h2>
        <span class="acts">
          <StatusSign :sign="setting.told.value?.spray.verdict ?? work.spray.verdict" />
          <ElButton text data-test="trouble" @click="troubled = true">Something wrong?</ElButton>
          <ElDropdown trigger="click">
            <ElButton text :icon="MoreFilled" aria-label="More for this cup" />
            <template #dropdown>
              <ElDropdownMenu>
                <ElDropdownItem @click="comparing = true"
                  >What other schools would set</ElDropdownItem
                >
                <ElDropdownItem data-test="print-card" @click="printing = true"
                  >Print a card for it</ElDropdownItem
                >
                <ElDropdownItem @click="bottling = true"
                  >A bottle of this mix, label</ElDropdownItem
                >
                <ElDropdownItem @click="own.keep(store.coat!.spray)">
                  Keep this as my way for this paint
                </ElDropdownItem>
                <ElDropdownItem v-if="own.way.value" @click="own.keep(null)">
                  Forget my way
                </ElDropdownItem>
              </ElDropdownMenu>
            </template>
          </ElDropdown>
        </span>
      </header>
      <p class="small about">
        <TradeWord :word="stepWords(store.coat)" /> · {{ store.plan!.airbrush.name }} · {{ copies }}
      </p>
      <CautionList v-if="work.cautions.length" :cautions="work.cautions" brief />
      <div class="filled">
        <CupSection :poured="work.cup.poured" :loads="work.cup.loads" />
        <dl class="poured number" aria-label="Pour in this order">
          <div v-for="(p, n) in work.cup.poured" :key="p.what">
            <dd>{{ amount(p).split(' ')[0] }}</dd>
            <dt>
              {{ p.what }}
              <small>{{ pourWords(amount(p), n) }}</small>
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
      <p class="rounds number">
        <b>{{ work.rounds }}</b>
        <small>
          {{
            store.coat.spray.rest_s
              ? `${duration(store.coat.spray.rest_s)} between${store.coat.spray.blown ? ', blown' : ''}`
              : 'without rests'
          }}; {{ work.rounds_alike }} · {{ duration(work.hands_s) }} of hands · next coat after
          {{ duration(work.waits.recoat_s) }}
        </small>
      </p>
      <p v-if="work.overspray" class="beside" data-test="overspray">
        <StatusSign :sign="work.overspray.mask ? 'mind' : 'clean'" />
        <small>{{ work.overspray.words }}</small>
      </p>
      <TriedOnCard
        class="last"
        :known="setting.known.value"
        :taught="setting.taught.value"
        :counts="setting.counts.value"
        @log="log"
        @back="back"
      />
    </section>
    <section class="sheet setting" aria-label="Setting; the clean range is drawn in">
      <header>
        <h2>Window <small>thinning against pressure, at this trigger and distance</small></h2>
      </header>
      <p v-if="setting.problem.value" class="note stop" role="alert">{{ setting.problem.value }}</p>
      <p v-if="own.way.value && own.differs(store.coat.spray)" class="note way">
        You have a way of your own for this paint in this airbrush.
        <ElButton text @click="useWay">Use it</ElButton>
      </p>
      <WindowPanel
        :spray="spray"
        :told="setting.told.value"
        :window="setting.window.value"
        :swatch="setting.swatch.value"
        :known="setting.known.value"
        :across="across"
        :up="up"
        @sketch="setting.sketch"
        @change="change"
      />
      <ElCollapse>
        <ElCollapseItem title="Airbrush, thinner, cleaning" name="gear">
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
          <div class="pair">
            <NumberField
              label="Flow aid, parts to one of paint"
              :model-value="store.coat.spray.flow_aid_parts"
              :min="0"
              :max="2"
              :step="0.05"
              :digits="2"
              @update:model-value="setAdditive('Flow aid', $event)"
            />
            <NumberField
              label="Retarder, parts to one of paint"
              :model-value="store.coat.spray.retarder_parts"
              :min="DIALS.retarder_parts.low"
              :max="DIALS.retarder_parts.high"
              :step="DIALS.retarder_parts.step"
              :digits="2"
              @update:model-value="setAdditive('Retarder', $event)"
            />
          </div>
          <p class="small" data-test="cleaning">
            <b>Afterwards, {{ duration(work.cleaning.seconds) }}.</b> {{ work.cleaning.words }}
            <small>({{ work.cleaning.why }})</small>
          </p>
        </ElCollapseItem>
      </ElCollapse>
    </section>
    <TroubleDialog
      v-model="troubled"
      :asked="asked"
      :parts="parts"
      :plan="store.plan ?? undefined"
      :step="store.coat.id"
      @turn="(k, to) => change({ [k]: to })"
    />
    <PrintCard
      v-model="printing"
      :asked="asked"
      :parts="parts"
      :title="`${store.plan!.name}, ${store.coat.name}`"
      :where="{ plan: store.id!, step: store.coat.id }"
    >
      <p>{{ store.coat.name }}, as it is set here.</p>
    </PrintCard>
    <SchoolsDialog v-model="comparing" @use="useSchool" />
    <PremixDialog v-model="bottling" />
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
  height: 100%;
}
.sheet {
  display: grid;
  align-content: start;
  gap: 12px;
  overflow-y: auto;
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
  grid-template-columns: minmax(0, 0.72fr) minmax(0, 1fr);
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
.rounds {
  margin: 0;
}
.rounds small {
  display: block;
}
.beside {
  display: flex;
  gap: 10px;
  margin: -4px 0;
}
.acts {
  display: flex;
  align-items: center;
  gap: 2px;
}
.pour {
  grid-template-rows: repeat(6, auto) 1fr;
}
.last {
  align-self: end;
  width: 100%;
}
.way {
  display: flex;
  align-items: center;
  justify-content: space-between;
  margin: 0;
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
@media (max-width: 820px) {
  .cups {
    grid-template-columns: minmax(0, 1fr);
    height: auto;
  }
}
</style>
