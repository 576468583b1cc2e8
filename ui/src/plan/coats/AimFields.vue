<script setup lang="ts">
import { computed } from 'vue';

import type { Aim } from '@/api/client';
import { AIMS } from '@/craft.generated';
import NumberField from '@/fields/NumberField.vue';
import { usePlan } from '@/stores/plan';

/** Where an aimed coat goes, and how far it fades. */
const store = usePlan();
const aim = computed(() => store.coat?.aim ?? null);
const glows = computed(() => (store.plan?.lights ?? []).filter((l) => l.kind === 'glow'));
const parts = computed(() => store.workings?.parts.map((v) => v.part) ?? []);

const MARGIN: Partial<Record<Aim['field'], string>> = {
  panels: 'Full from the border',
  part: 'Fades beyond it over',
};

function change(fields: Partial<Aim>): void {
  void store.changeCoat(`Changed the aim of ${store.coat?.name}`, (coat) => {
    if (coat.aim) Object.assign(coat.aim, fields);
  });
}
function setField(field: Aim['field']): void {
  if (field === 'ramp' && !(aim.value?.start && aim.value.end)) return drawRamp();
  change({
    field,
    light: field === 'glow' ? (glows.value[0]?.id ?? null) : (aim.value?.light ?? null),
    part: field === 'part' ? (aim.value?.part ?? parts.value[0]?.id ?? null) : aim.value?.part,
  });
}
/** Two clicks: where the ramp begins, and where it is full. */
function drawRamp(): void {
  store.picking = {
    words: 'Click where the ramp begins (nothing lands there).',
    done: (start) => {
      store.picking = {
        words: 'Now click where the coat is full.',
        done: (end) => change({ field: 'ramp', start, end }),
      };
    },
  };
}
</script>

<template>
  <section v-if="aim" class="aim" aria-label="Aim">
    <label class="wide">
      <span class="small">Aimed</span>
      <select
        :value="aim.field"
        data-test="aim-field"
        @change="setField(($event.target as HTMLSelectElement).value as Aim['field'])"
      >
        <option
          v-for="(words, field) in AIMS"
          :key="field"
          :value="field"
          :disabled="field === 'glow' && !glows.length"
        >
          {{ words }}
        </option>
      </select>
    </label>
    <label v-if="aim.field === 'glow'" class="wide">
      <span class="small">Glow</span>
      <select
        :value="aim.light"
        @change="change({ light: ($event.target as HTMLSelectElement).value })"
      >
        <option v-for="g in glows" :key="g.id" :value="g.id">{{ g.name }}</option>
      </select>
    </label>
    <label v-if="aim.field === 'part'" class="wide">
      <span class="small">Part</span>
      <select
        :value="aim.part"
        @change="change({ part: ($event.target as HTMLSelectElement).value })"
      >
        <option v-for="p in parts" :key="p.id" :value="p.id">{{ p.name }}</option>
      </select>
    </label>
    <button v-if="aim.field === 'ramp'" class="quiet-button wide" type="button" @click="drawRamp">
      Draw the ramp anew: two clicks
    </button>
    <NumberField
      label="Rounds"
      :min="1"
      :max="200"
      :model-value="aim.passes ?? 1"
      @update:model-value="change({ passes: Math.round($event) })"
    />
    <NumberField
      v-if="MARGIN[aim.field]"
      :label="MARGIN[aim.field]!"
      unit="mm"
      :min="0"
      :max="200"
      :digits="1"
      :model-value="aim.margin_mm ?? 2"
      @update:model-value="change({ margin_mm: $event })"
    />
    <label class="check wide">
      <input
        type="checkbox"
        :checked="aim.reversed"
        @change="change({ reversed: ($event.target as HTMLInputElement).checked })"
      />
      {{ aim.field === 'ramp' ? 'From the other end' : 'Everywhere but there' }}
    </label>
    <p v-if="store.coatWorkings?.panels" class="note wide" data-test="panel-fit">
      {{ store.coatWorkings.panels.words }}
    </p>
    <p class="small wide">
      The edge is as soft as the spot at {{ Math.round(store.coat!.spray.distance_mm) }} mm.
    </p>
  </section>
</template>

<style scoped>
.aim {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.wide {
  grid-column: 1 / -1;
}
label {
  display: grid;
  gap: 2px;
}
</style>
