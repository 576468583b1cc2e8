<script setup lang="ts">
import { ElButton, ElEmpty, ElInput } from 'element-plus';
import { computed, onMounted, ref } from 'vue';

import { api, sentence, take, type StandInView } from '@/api/client';

/** Pieces that ship with Haze, found by typing; for a painter without a mesh and for practice. */
defineProps<{ picked?: string }>();
const emit = defineEmits<{ chosen: [standIn: StandInView] }>();
const list = ref<StandInView[]>([]);
const problem = ref('');
const wanted = ref('');

onMounted(async () => {
  try {
    list.value = (await take(api.GET('/api/stand-ins'))).stand_ins;
  } catch (error) {
    problem.value = sentence(error);
  }
});
const found = computed(() => {
  const words = wanted.value.toLowerCase().split(/\s+/).filter(Boolean);
  return list.value.filter((s) => {
    const told = `${s.name} ${s.words} ${s.kind} ${s.parts.join(' ')}`.toLowerCase();
    return words.every((w) => told.includes(w));
  });
});
</script>

<template>
  <div class="stand-ins">
    <ElInput
      v-model="wanted"
      clearable
      aria-label="Find a piece"
      placeholder="Find: figure, beast, machine, ground, shield …"
      data-test="find-stand-in"
    />
    <div class="wall" role="group" aria-label="Pieces that come along">
      <ElButton
        v-for="s in found"
        :key="s.id"
        class="one"
        :class="{ picked: picked === s.id }"
        :aria-pressed="picked === undefined ? undefined : picked === s.id"
        :title="s.words"
        :data-test="`stand-in-${s.id}`"
        @click="emit('chosen', s)"
      >
        <img :src="`/api/stand-ins/${s.id}/picture.webp`" alt="" width="300" height="300" />
        <span>{{ s.name }}</span>
      </ElButton>
      <ElEmpty
        v-if="list.length && !found.length"
        :image-size="0"
        :description="`Nothing is called “${wanted}”. Try figure, beast, machine, ground or bust.`"
      />
    </div>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.stand-ins {
  display: grid;
  gap: 10px;
}
.wall {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(104px, 1fr));
  grid-auto-rows: max-content;
  gap: 6px;
  max-height: 330px;
  overflow: auto;
  padding: 3px;
}
.one.el-button {
  display: block;
  height: max-content;
  margin: 0;
  padding: 4px;
  white-space: normal;
  font-size: 13px;
  line-height: 1.2;
}
.one :deep(> span) {
  display: grid;
  gap: 4px;
}
.one img {
  display: block;
  width: 100%;
  height: auto;
  aspect-ratio: 1;
  border-radius: 6px;
  background: var(--card);
}
.one.picked {
  background: var(--ink);
  color: var(--sheet);
}
</style>
