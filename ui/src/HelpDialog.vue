<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { computed } from 'vue';
import { useRoute, useRouter } from 'vue-router';

import { AT_THE_BOOTH, KEYS } from './keys';

const route = useRoute();
const atCoats = computed(() => route.name === 'plan' && (route.params.step || 'coats') === 'coats');
const open = defineModel<boolean>({ required: true });
const emit = defineEmits<{ tour: [] }>();
const router = useRouter();
function guide(): void {
  open.value = false;
  void router.push({ name: 'guide' });
}
</script>

<template>
  <ElDialog v-model="open" title="Help" width="560px" append-to-body>
    <p class="first">
      <ElButton type="primary" data-test="open-guide" @click="guide">Open the guide</ElButton>
      <span class="small">in the order of the work, with pictures</span>
    </p>
    <h3>Keys</h3>
    <dl>
      <template v-for="[key, text] in KEYS" :key="key">
        <dt class="mono">{{ key }}</dt>
        <dd>{{ text }}</dd>
      </template>
    </dl>
    <h3>At the booth</h3>
    <dl>
      <template v-for="[key, text] in AT_THE_BOOTH" :key="key">
        <dt class="mono">{{ key }}</dt>
        <dd>{{ text }}</dd>
      </template>
    </dl>
    <ElButton :disabled="!atCoats" @click="emit('tour')">Take the tour</ElButton>
    <small v-if="!atCoats"> under Coats of a plan</small>
    <p class="small">
      Numbers come from the model unless you typed them. Predicted colours and settings are a start:
      try each cup on card first.
    </p>
    <p class="small">
      <a href="/licences.txt" target="_blank" data-test="licences">Licences</a> of Haze and of what
      it is made with
    </p>
  </ElDialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 130px 1fr;
  gap: 6px 12px;
  margin: 10px 0 20px;
}
dd {
  margin: 0;
}
p {
  margin-top: 12px;
}
.first {
  display: flex;
  align-items: center;
  gap: 12px;
  margin: 0 0 16px;
}
</style>
