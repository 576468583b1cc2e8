<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog } from 'element-plus';
import { ref, shallowRef, watch } from 'vue';

import { api, sentence, take, type PremixOut } from '@/api/client';
import { decimals } from '@/displays/format';
import NumberField from '@/fields/NumberField.vue';
import { usePlan } from '@/stores/plan';

/** A bottle of this coat's mix: what goes in, and a label to print. */
const open = defineModel<boolean>({ required: true });
const store = usePlan();
const ml = ref(17);
const thinned = ref(false);
const found = shallowRef<PremixOut | null>(null);
const problem = ref('');

watch([open, ml, thinned], async ([now]) => {
  if (!now || !store.plan || !store.coat) return;
  const body = { plan: store.plan, step: store.coat.id, ml: ml.value, thinned: thinned.value };
  try {
    found.value = await take(api.POST('/api/premix', { body }));
    problem.value = '';
  } catch (error) {
    problem.value = sentence(error);
  }
});
function print(): void {
  document.documentElement.dataset.print = 'label';
  window.print();
  delete document.documentElement.dataset.print;
}
</script>

<template>
  <ElDialog v-model="open" title="A bottle of this mix" width="480px" append-to-body>
    <div class="premix" data-test="premix">
      <div class="row">
        <NumberField v-model="ml" label="Bottle" unit="ml" :min="1" :max="1000" :digits="1" />
        <ElCheckbox v-model="thinned">thinned, ready to spray</ElCheckbox>
      </div>
      <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
      <template v-if="found">
        <ol class="number">
          <li v-for="(r, n) in found.rows" :key="r.what">
            <b>{{ decimals(r.ml, 1) }} ml</b>
            <span
              >{{ r.what }} <small>{{ n === 0 ? 'first' : 'then' }}</small></span
            >
          </li>
        </ol>
        <article class="label" aria-label="Label" data-print="label">
          <i :style="{ background: store.coat?.paint.masstone }" />
          <div>
            <b>{{ found.name }}</b>
            <p v-for="w in found.words" :key="w">{{ w }}</p>
            <p>mixed on ____________</p>
          </div>
        </article>
        <ElButton data-test="print-label" @click="print">Print the label</ElButton>
      </template>
    </div>
  </ElDialog>
</template>

<style scoped>
.premix {
  display: grid;
  gap: 12px;
  justify-items: start;
}
.row {
  display: flex;
  align-items: end;
  gap: 16px;
}
ol {
  display: grid;
  gap: 4px;
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  gap: 14px;
}
li b {
  min-width: 64px;
  text-align: right;
}
.label {
  display: flex;
  gap: 10px;
  width: 70mm;
  padding: 3mm;
  border: 1px dashed var(--edge);
  border-radius: 4px;
  background: #fff;
  color: #000;
  font-size: 9pt;
  line-height: 1.3;
}
.label p {
  margin: 0;
}
.label i {
  flex: none;
  width: 9mm;
  border: 1px solid #000;
}
</style>
