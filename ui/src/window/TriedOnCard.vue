<script setup lang="ts">
import { ElButton, ElPopover } from 'element-plus';
import { computed } from 'vue';

import type { Known, Taught, TrialLook } from '@/api/client';
import { length, share, when } from '@/displays/format';

/** One press says what a card looked like; what it taught stands under it, with its way back. */
const props = defineProps<{ known: Known | null; taught: Taught | null; counts: boolean }>();
const emit = defineEmits<{ log: [look: TrialLook]; back: [trial: string, back: boolean] }>();

const LOOKS: { id: TrialLook; label: string }[] = [
  { id: 'clean', label: 'clean' },
  { id: 'spiders', label: 'spiders' },
  { id: 'specks', label: 'specks' },
  { id: 'dust', label: 'dust' },
  { id: 'nothing', label: 'nothing' },
  { id: 'pooled', label: 'pooled' },
];
const words = computed(() => {
  const t = props.taught;
  if (!t) return null;
  const clean = `Clean here: ${share(t.before.clean)} before, ${share(t.after.clean)} now`;
  const sure = t.sure_before === t.sure_after ? t.sure_after : `${t.sure_before} → ${t.sure_after}`;
  return { clean, sure };
});
</script>

<template>
  <section class="tried" aria-label="Tested on card">
    <h3>
      Tested on card?
      <small>one press teaches this paint in this airbrush</small>
    </h3>
    <div class="looks">
      <ElButton
        v-for="l in LOOKS"
        :key="l.id"
        :data-test="`look-${l.id}`"
        @click="emit('log', l.id)"
      >
        {{ l.label }}
      </ElButton>
    </div>
    <p v-if="words" class="taught" role="status" data-test="taught">
      <span>
        {{ words.clean }}; <small>{{ words.sure }}</small>
        <b v-if="taught!.odd"> It does not fit the other trials: was it this setting?</b>
      </span>
      <ElButton text size="small" @click="emit('back', taught!.trial, counts)">
        {{ counts ? 'Undo' : 'Count again' }}
      </ElButton>
    </p>
    <ElPopover v-if="known?.trials.length" trigger="click" placement="top" :width="340">
      <template #reference>
        <ElButton text size="small" data-test="trials">
          {{ known.trials.length }} {{ known.trials.length === 1 ? 'trial' : 'trials' }} so far
        </ElButton>
      </template>
      <ul class="trials">
        <li v-for="t in [...known.trials].reverse()" :key="t.id">
          <span>
            <b>{{ t.look.replace('_', ' ') }}</b>
            <small>
              {{ t.setting.thinner_parts }} : 1, {{ t.setting.pressure_psi }} psi,
              {{ length(t.setting.distance_mm) }} · {{ when(t.at) }}
              <template v-if="t.odd">· does not fit the others</template>
            </small>
          </span>
          <ElButton text size="small" @click="emit('back', t.id, true)">Undo</ElButton>
        </li>
      </ul>
    </ElPopover>
  </section>
</template>

<style scoped>
.tried {
  display: grid;
  gap: 8px;
  justify-items: start;
}
.looks {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px;
  width: 100%;
}
.looks .el-button {
  min-height: max(42px, var(--control));
  font-size: var(--f15);
  font-weight: 600;
}
.taught,
.trials li {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 10px;
  width: 100%;
  margin: 0;
}
.trials {
  display: grid;
  gap: 6px;
  max-height: 320px;
  margin: 0;
  padding: 0;
  overflow-y: auto;
  list-style: none;
}
.trials small {
  display: block;
}
</style>
