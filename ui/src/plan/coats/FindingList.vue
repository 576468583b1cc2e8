<script setup lang="ts">
import { ElButton } from 'element-plus';
import { ref } from 'vue';

import { api, sentence, take, type Finding } from '@/api/client';
import StatusSign from '@/displays/StatusSign.vue';
import { usePlan } from '@/stores/plan';
import TextField from '@/fields/TextField.vue';

/** What the rules of order say of the selected step, each with its change or a note that quiets it. */
const store = usePlan();
const problem = ref('');
const quieting = ref<string | null>(null);
const note = ref('');

async function mend(finding: Finding): Promise<void> {
  const plan = store.plan;
  if (!plan) return;
  problem.value = '';
  try {
    const body = { plan, rule: finding.rule, step: finding.step };
    const mended = await take(api.POST('/api/findings/fix', { body }));
    const at = mended.coats.findIndex((c) => c.id === finding.step);
    await store.replace(finding.fix ?? 'Mended', mended);
    store.selectCoat(at + 1);
  } catch (error) {
    problem.value = sentence(error);
  }
}
function quiet(finding: Finding): void {
  void store.change(`Quieted: ${finding.rule.replaceAll('_', ' ')}`, (plan) => {
    plan.silenced = [
      ...(plan.silenced ?? []),
      { rule: finding.rule, step: finding.step, note: note.value.trim().slice(0, 400) },
    ];
  });
  quieting.value = null;
  note.value = '';
}
function loud(index: number): void {
  void store.change('Heard again', (plan) => {
    plan.silenced = (plan.silenced ?? []).filter((_, i) => i !== index);
  });
}
</script>

<template>
  <div class="findings" data-test="findings">
    <article v-for="f in store.stepFindings" :key="f.rule" class="note" :data-test="f.rule">
      <p><StatusSign :sign="f.sign === 'stop' ? 'stop' : 'mind'" /> {{ f.what }}</p>
      <div v-if="quieting !== f.rule" class="do">
        <ElButton v-if="f.fix" type="primary" @click="mend(f)">
          {{ f.fix }}
        </ElButton>
        <ElButton @click="quieting = f.rule">Quiet</ElButton>
      </div>
      <form v-else class="do" @submit.prevent="quiet(f)">
        <TextField
          v-model="note"
          label="Why this is as it should be"
          hide-label
          placeholder="Why it is fine"
          :most="400"
        />
        <ElButton native-type="submit">Dismiss</ElButton>
        <ElButton @click="quieting = null">Cancel</ElButton>
      </form>
    </article>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
    <template v-for="(s, i) in store.plan?.silenced ?? []" :key="i">
      <p v-if="s.step === store.step?.id" class="small quieted">
        Quieted: {{ s.rule.replaceAll('_', ' ')
        }}<template v-if="s.note">, “{{ s.note }}”</template>
        <ElButton text size="small" @click="loud(i)">Show again</ElButton>
      </p>
    </template>
  </div>
</template>

<style scoped>
.findings {
  display: grid;
  gap: 8px;
}
.findings:not(:has(*)) {
  display: none;
}
.note {
  display: grid;
  gap: 8px;
  font-size: var(--f14);
}
.do {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.do .text {
  flex: 1 1 140px;
}
</style>
