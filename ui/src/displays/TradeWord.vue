<script setup lang="ts">
import { ElTooltip } from 'element-plus';
import { computed } from 'vue';

import { TRADE_WORDS } from '@/craft.generated';
import { useSettings } from '@/stores/settings';

/** A word of the trade; what it means stands at it when the reader asked for that. */
const props = defineProps<{ word: string }>();
const settings = useSettings();
const meaning = computed(() =>
  settings.values.trade_words === 'explained' ? TRADE_WORDS[props.word] : undefined,
);
</script>

<template>
  <ElTooltip
    v-if="meaning"
    :content="meaning"
    placement="top"
    :show-after="200"
    :trigger="['hover', 'focus']"
  >
    <span class="word" tabindex="0" data-test="trade-word">{{ word }}</span>
  </ElTooltip>
  <template v-else>{{ word }}</template>
</template>

<style scoped>
.word {
  text-decoration: underline dotted;
  text-underline-offset: 3px;
  cursor: help;
}
</style>
