<script setup lang="ts">
import { ElButton } from 'element-plus';
import { computed, ref, shallowRef, watch } from 'vue';

import { api, take, type AmountsOut } from '@/api/client';

import StatusSign from '@/displays/StatusSign.vue';
import { cupWords, stepWords } from '@/displays/format';
import { usePlan } from '@/stores/plan';

import AmountsDialog from './AmountsDialog.vue';

/** The cups of the plan in spraying order, each with its drops and what the model says of it. */
const store = usePlan();
const cups = computed(() =>
  (store.plan?.coats ?? []).flatMap((coat, i) => {
    if (coat.kind !== 'spray' || coat.off) return [];
    const work = store.workings?.coats.find((c) => c.id === coat.id) ?? null;
    const drops = work ? cupWords(work.cup.poured) : '…';
    return [{ coat, after: i + 1, work, words: drops }];
  }),
);
const amounts = shallowRef<AmountsOut | null>(null);
const telling = ref(false);
watch(
  () => store.workings,
  async (now) => {
    const plan = store.plan;
    if (!now || !plan) return;
    const found = await take(api.POST('/api/amounts', { body: { plan, others: [] } })).catch(
      () => null,
    );
    if (plan === store.plan) amounts.value = found;
  },
  { immediate: true },
);
const runsOut = computed(() => amounts.value?.runs_out.slice(0, 2) ?? []);
</script>

<template>
  <nav class="list" aria-label="Cups in spraying order">
    <h2>Cups <small>in spraying order, drops</small></h2>
    <ElButton
      v-for="{ coat, after, work, words } in cups"
      :key="coat.id"
      text
      class="cup"
      :class="{ chosen: after === store.after }"
      :aria-current="after === store.after ? 'true' : undefined"
      :data-test="`cup-${after}`"
      @click="store.selectCoat(after)"
    >
      <i :style="{ background: coat.paint.masstone }" />
      <span class="words">
        <b>{{ coat.name }}</b>
        <small>{{ stepWords(coat) }} · {{ words }}</small>
      </span>
      <StatusSign v-if="work" :sign="work.spray.verdict" />
    </ElButton>
    <p v-if="!cups.length" class="note">No sprayed step yet; add one under Coats.</p>
    <section v-if="runsOut.length" class="note out" aria-label="Runs out" data-test="runs-out">
      <b>Runs out</b>
      <p v-for="words in runsOut" :key="words" class="small">{{ words }}</p>
    </section>
    <ElButton v-if="cups.length" text data-test="amounts" @click="telling = true">
      Amounts and shopping
    </ElButton>
    <AmountsDialog v-model="telling" />
  </nav>
</template>

<style scoped>
.list {
  display: grid;
  align-content: start;
  gap: 4px;
  padding: 14px;
}
.out {
  margin: 8px 0 0;
  border-left-color: var(--sign-mind);
}
.out p {
  margin: 0;
}
h2 {
  padding: 0 2px 6px;
}
.cup.el-button {
  width: 100%;
  height: auto;
  min-height: 50px;
  padding: 6px 8px;
  border-radius: 8px;
  text-align: left;
}
.cup :deep(> span) {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  align-items: center;
  gap: 8px;
  width: 100%;
}
i {
  width: 30px;
  height: 30px;
  border: 1px solid var(--outline);
  border-radius: 7px;
}
.words {
  display: grid;
  line-height: 1.25;
}
.words b {
  overflow: hidden;
  text-overflow: ellipsis;
}
.words small {
  font-size: var(--f12);
  font-weight: 400;
}
@media (max-width: 1100px) {
  .cup :deep(> span) {
    grid-template-columns: auto minmax(0, 1fr);
  }
  .cup :deep(.sign) {
    grid-column: 2;
  }
}
.chosen.el-button,
.chosen.el-button:hover {
  background: var(--black);
  color: var(--on-black);
}
.chosen :deep(*) {
  color: inherit;
}
</style>
