<script setup lang="ts">
import { PAINT_KINDS } from '@/craft.generated';
import { decimals } from '@/displays/format';
import ChoiceField from '@/fields/ChoiceField.vue';
import { useShelf } from '@/stores/shelf';

import type { BenchChoice } from './use-bench-choice';

/** Which paint, through which airbrush, thinned with what. */
defineProps<{ chosen: BenchChoice }>();
const shelf = useShelf();
</script>

<template>
  <ChoiceField
    label="Paint"
    :model-value="chosen.paint.value?.id ?? ''"
    typed
    :choices="
      shelf.shelf.paints.map((p) => ({
        id: p.id,
        label: p.name,
        chip: p.masstone,
        more: PAINT_KINDS[p.kind],
      }))
    "
    @update:model-value="chosen.choosePaint"
  />
  <ChoiceField
    label="Airbrush"
    :model-value="chosen.airbrush.value?.id ?? ''"
    :choices="
      shelf.shelf.airbrushes.map((a) => ({
        id: a.id,
        label: a.name,
        more: `${decimals(a.needle_mm, 2)} mm needle`,
      }))
    "
    @update:model-value="chosen.chooseAirbrush"
  />
  <ChoiceField
    label="Thinner"
    :model-value="chosen.thinner.value?.id ?? ''"
    :choices="chosen.thinners.value.map((t) => ({ id: t.id, label: t.name }))"
    @update:model-value="chosen.chooseThinner"
  />
</template>
