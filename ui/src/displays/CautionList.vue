<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed, ref } from 'vue';

import type { Caution } from '@/api/client';

import StatusSign from './StatusSign.vue';

/** Cautions in full; `brief` keeps what is to mind to one line until it is opened. */
const props = defineProps<{ cautions: Caution[]; brief?: boolean }>();
const opened = ref(false);
const whole = computed(() =>
  props.brief && !opened.value ? props.cautions.filter((c) => c.sign === 'stop') : props.cautions,
);
const reminders = computed(() => {
  const left = props.cautions.filter((c) => !whole.value.includes(c));
  return left.map((c) => c.short).join(' · ');
});
</script>

<template>
  <ul class="cautions" aria-label="Cautions">
    <li v-for="c in whole" :key="c.id" :class="c.sign">
      <StatusSign :sign="c.sign" />
      <span>{{ c.text }}</span>
    </li>
    <li v-if="reminders">
      <StatusSign sign="mind" />
      <span>
        {{ reminders }}
        <ElButton text size="small" class="full" @click="opened = true">in full</ElButton>
      </span>
    </li>
  </ul>
</template>

<style scoped>
.cautions {
  display: grid;
  gap: 3px;
  margin: 0;
  padding: 8px 12px;
  border-left: 4px solid var(--sign-mind);
  border-radius: 4px 8px 8px 4px;
  background: var(--well);
  list-style: none;
}
.full.el-button {
  padding: 0 4px;
}
@media (pointer: fine) {
  .full.el-button {
    min-height: 24px;
  }
}
li {
  display: grid;
  grid-template-columns: 58px 1fr;
  gap: 8px;
  align-items: start;
  font-size: var(--f14);
  line-height: 1.35;
}
</style>
