<script setup lang="ts">
import { ElButton, ElDropdown, ElDropdownItem, ElDropdownMenu } from 'element-plus';
import { computed } from 'vue';

import type { CardRead, TrialLook, WouldTeach } from '@/api/client';
import { share } from '@/displays/format';

import { HERE, LOOKS } from './measures';

/** The two likeliest looks with what speaks for them; the painter presses one. */
const props = defineProps<{
  found: CardRead;
  agreed: TrialLook | null;
  busy: boolean;
  would: WouldTeach[];
}>();
const emit = defineEmits<{ agree: [look: TrialLook]; point: [look: TrialLook | null] }>();
const two = computed(() => props.found.looks.slice(0, 2));
function teaches(look: TrialLook): string {
  const one = props.would.find((w) => w.look === look);
  if (!one || props.agreed) return '';
  return `Would teach: ${HERE[look]} here ${share(one.before)} → ${share(one.after)}`;
}
const others = computed(() => {
  const shown = two.value.map((l) => l.look);
  return (Object.keys(LOOKS) as TrialLook[]).filter((l) => !shown.includes(l));
});
</script>

<template>
  <section aria-labelledby="which">
    <h2 id="which">Which is it?</h2>
    <p class="small">Haze teaches itself only what you agree with.</p>
    <ElButton
      v-for="(l, n) in two"
      :key="l.look"
      class="look"
      :type="(agreed ?? two[0]?.look) === l.look ? 'primary' : 'default'"
      :disabled="busy || agreed !== null"
      :data-test="`agree-${n + 1}`"
      @click="emit('agree', l.look)"
      @mouseenter="emit('point', l.look)"
      @mouseleave="emit('point', null)"
    >
      <span class="words">
        <b>{{ LOOKS[l.look] }}</b>
        <span>{{ l.sure }}: {{ l.why }}</span>
        <span v-if="teaches(l.look)" :data-test="`would-${n + 1}`">{{ teaches(l.look) }}</span>
      </span>
    </ElButton>
    <ElDropdown trigger="click" @command="(l: TrialLook) => emit('agree', l)">
      <ElButton text :disabled="busy || agreed !== null" data-test="something-else">
        Something else
      </ElButton>
      <template #dropdown>
        <ElDropdownMenu>
          <ElDropdownItem v-for="l in others" :key="l" :command="l">{{ LOOKS[l] }}</ElDropdownItem>
        </ElDropdownMenu>
      </template>
    </ElDropdown>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
}
h2,
p {
  margin: 0;
}
.look {
  justify-content: start;
  width: 100%;
  height: auto;
  min-height: 58px;
  margin: 0;
  padding: 9px 14px;
  white-space: normal;
}
.words {
  display: grid;
  gap: 3px;
  text-align: left;
}
.words b {
  font-size: var(--f18);
}
.words span {
  font-size: var(--f12);
  font-weight: 450;
  line-height: 1.3;
}
</style>
