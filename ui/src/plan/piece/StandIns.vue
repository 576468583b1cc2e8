<script setup lang="ts">
import { ElButton, ElSegmented } from 'element-plus';
import { computed, ref } from 'vue';

import { api, sentence, take, type StandIn, type StandInView } from '@/api/client';

import StandInWall from './StandInWall.vue';

/** A piece that ships with Haze, in one of its usual sizes. */
const emit = defineEmits<{ chosen: [standIn: StandIn] }>();
const problem = ref('');
const busy = ref(false);
const picked = ref<StandInView | null>(null);
const size = ref('');
const sizes = computed(() => picked.value?.sizes.map((s) => s.label) ?? []);
const usual = computed(() => picked.value?.sizes.find((s) => s.label === size.value));
const partsTold = computed(() => {
  const parts = picked.value?.parts ?? [];
  return parts.length > 1 ? `In parts: ${parts.join(', ')}.` : '';
});

function pick(standIn: StandInView): void {
  picked.value = standIn;
  size.value = standIn.usual;
}
async function choose(): Promise<void> {
  if (!picked.value) return;
  busy.value = true;
  problem.value = '';
  try {
    const params = {
      path: { identity: picked.value.id },
      query: size.value ? { size: size.value } : {},
    };
    emit('chosen', await take(api.POST('/api/stand-ins/{identity}', { params })));
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <div class="stand-ins">
    <StandInWall :picked="picked?.id ?? ''" @chosen="pick" />
    <div v-if="picked" class="about">
      <p>
        <b>{{ picked.name }}</b>, {{ picked.words }}. {{ partsTold }}
      </p>
      <div class="row">
        <ElSegmented
          v-if="sizes.length"
          v-model="size"
          :options="sizes"
          aria-label="Usual size"
          data-test="stand-in-size"
        />
        <span v-if="usual" class="small">{{ usual.words }}</span>
        <ElButton type="primary" :disabled="busy" data-test="take-stand-in" @click="choose">
          Use this
        </ElButton>
      </div>
    </div>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.stand-ins {
  display: grid;
  gap: 10px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
  margin-top: 8px;
}
.row .el-button {
  margin-left: auto;
}
</style>
