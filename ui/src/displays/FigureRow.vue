<script setup lang="ts">
import { ElTooltip } from 'element-plus';

import TradeWord from './TradeWord.vue';

/** Figures that decide: large, the unit small, the word under them; where they come from on hover. */
export interface Figure {
  word: string;
  value: string;
  unit?: string;
  /** Where it comes from: the model, a measurement, what was typed; and how sure it is. */
  from?: string;
}
defineProps<{ figures: Figure[] }>();
</script>

<template>
  <dl class="figures">
    <div v-for="f in figures" :key="f.word">
      <dt><TradeWord :word="f.word" /></dt>
      <dd>
        <ElTooltip
          :content="f.from ?? 'from the model'"
          placement="top"
          :show-after="300"
          :trigger="['hover', 'focus']"
        >
          <span tabindex="0"
            >{{ f.value }}<small v-if="f.unit">{{ f.unit }}</small></span
          >
        </ElTooltip>
      </dd>
    </div>
  </dl>
</template>

<style scoped>
.figures {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  margin: 0;
}
.figures > div {
  position: relative;
  display: flex;
  flex: 1 1 72px;
  flex-direction: column-reverse;
  justify-content: flex-end;
}
dt {
  font-size: var(--f14);
  color: var(--ink-2);
}
dd {
  margin: 0;
  font-size: 1.3rem;
  font-weight: 680;
  line-height: 1.2;
  white-space: nowrap;
  font-variant-numeric: tabular-nums;
}
dd small {
  margin-left: 2px;
  font-weight: 600;
  color: var(--ink);
}
/* under a finger the whole figure says where it comes from */
dd span::after {
  content: '';
  position: absolute;
  inset: 0;
}
dt :deep(.word) {
  position: relative;
  z-index: 1;
}
span:focus-visible {
  border-radius: 3px;
}
</style>
