<script setup lang="ts">
import { computed } from 'vue';

import type { Known, KnownSetting, SprayAt, WindowOut } from '@/api/client';
import { DIALS, RISKS, type Knob } from '@/craft.generated';
import ScaleBar from '@/instruments/cup/ScaleBar.vue';
import SprayWindow from '@/instruments/window/SprayWindow.vue';
import StatusSign from '@/displays/StatusSign.vue';
import { useSettings } from '@/stores/settings';

import type { Axis } from './axes';
import { knobWords } from './knobs';
import SwatchPlate from './SwatchPlate.vue';
import type { Swatch } from './swatch';
import WhatToChange from './WhatToChange.vue';

/** The window, the scales of all knobs, and in a sentence how it sprays and how sure that is. */
const props = defineProps<{
  spray: SprayAt;
  told: KnownSetting | null;
  window: WindowOut | null;
  known: Known | null;
  across: Axis;
  up: Axis;
  /** Scales stand beside the window, not under it. */
  withoutScales?: boolean;
  withoutWindow?: boolean;
  swatch?: Swatch | null;
}>();
const emit = defineEmits<{
  sketch: [knobs: Record<string, number>];
  change: [knobs: Record<string, number>];
}>();
const settings = useSettings();
const words = computed(() => knobWords(settings.values.pressure_unit ?? 'psi'));
const KNOBS: Knob[] = ['pressure_psi', 'thinner_parts', 'trigger', 'distance_mm', 'speed_mm_s'];

const at = computed(() => ({
  across: props.spray[props.across.knob],
  up: props.spray[props.up.knob],
}));
function knobsAt(place: { across: number; up: number }): Record<string, number> {
  return { [props.across.knob]: place.across, [props.up.knob]: place.up };
}
const verdict = computed(() => props.told?.spray.verdict ?? 'unknown');
const marks = computed(() =>
  (props.known?.trials ?? []).map((t) => ({
    id: t.id,
    across: t.setting[props.across.knob],
    up: t.setting[props.up.knob],
    look: t.look,
    odd: t.odd,
  })),
);
const next = computed(() => {
  const found = props.known?.next?.setting;
  const across = found?.[props.across.knob];
  const up = found?.[props.up.knob];
  return across === undefined || up === undefined ? null : { across, up };
});
const nextWords = computed(() => {
  const found = props.known?.next?.setting;
  if (!found) return '';
  const told = KNOBS.filter((k) => k in found && Math.abs(found[k]! - props.spray[k]) > 1e-6).map(
    (k) => `${k === 'trigger' ? 'trigger ' : ''}${words.value[k].shown(found[k]!).first}`,
  );
  return told.length ? told.slice(0, 3).join(', ') : 'just this one';
});
const limit = computed(() => {
  const name = props.told?.spray.limiting;
  return name ? RISKS[name] : '';
});
</script>

<template>
  <div class="panel">
    <SprayWindow
      v-if="!withoutWindow"
      :window="window"
      :across="across"
      :up="up"
      :at="at"
      :verdict="verdict"
      :marks="marks"
      :next="next"
      @sketch="emit('sketch', knobsAt($event))"
      @change="emit('change', knobsAt($event))"
    />
    <SwatchPlate v-if="swatch" :swatch="swatch" />
    <template v-if="!withoutScales">
      <p v-if="told" class="sentence" data-test="sure">
        <StatusSign :sign="verdict" />, {{ limit || told.sure }}.
        {{ told.spray.sure.charAt(0).toUpperCase() + told.spray.sure.slice(1)
        }}{{ limit ? `, ${told.sure}` : '' }}.
        <template v-if="told.first && !limit">{{ told.first }}</template>
        <small v-if="nextWords">The next trial that would teach most: {{ nextWords }}.</small>
      </p>
      <WhatToChange
        v-if="told?.spray.advice.length && verdict !== 'clean'"
        :advice="told.spray.advice"
        :sign="verdict === 'stop' ? 'stop' : 'mind'"
        @follow="emit('change', $event)"
      />
      <div class="scales">
        <ScaleBar
          v-for="knob in KNOBS"
          :key="knob"
          :label="words[knob].label"
          :value="spray[knob]"
          :min="DIALS[knob].low"
          :max="DIALS[knob].high"
          :step="DIALS[knob].step"
          :clean="told?.margins[knob] ?? null"
          :shown="words[knob].shown"
          :typed="words[knob].typed"
          @sketch="emit('sketch', { [knob]: $event })"
          @change="emit('change', { [knob]: $event })"
        />
      </div>
    </template>
  </div>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 12px;
  align-content: start;
}
.scales {
  display: grid;
  gap: 2px;
}
.sentence {
  margin: 0;
}
.sentence small {
  display: block;
}
</style>
