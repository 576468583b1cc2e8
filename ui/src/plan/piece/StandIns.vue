<script setup lang="ts">
import { ElButton } from 'element-plus';
import { onMounted, ref } from 'vue';

import { api, sentence, take, type StandIn, type StandInView } from '@/api/client';

/** Pieces that ship with Haze, for a painter without a mesh and for practice. */
const emit = defineEmits<{ chosen: [standIn: StandIn] }>();
const list = ref<StandInView[]>([]);
const problem = ref('');
const busy = ref('');

onMounted(async () => {
  try {
    list.value = (await take(api.GET('/api/stand-ins'))).stand_ins;
  } catch (error) {
    problem.value = sentence(error);
  }
});

async function choose(id: string): Promise<void> {
  busy.value = id;
  problem.value = '';
  try {
    emit(
      'chosen',
      await take(api.POST('/api/stand-ins/{stand_in}', { params: { path: { stand_in: id } } })),
    );
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = '';
  }
}
</script>

<template>
  <div class="stand-ins">
    <ElButton
      v-for="s in list"
      :key="s.id"
      :disabled="busy !== ''"
      :data-test="`stand-in-${s.id}`"
      @click="choose(s.id)"
    >
      {{ s.name }} <small>{{ s.words }}</small>
    </ElButton>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.stand-ins {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
}
.stand-ins .el-button {
  height: auto;
  min-height: var(--control);
  padding: 5px 10px;
  justify-content: start;
  text-align: left;
  line-height: 1.2;
}
.note {
  grid-column: 1 / -1;
}
</style>
