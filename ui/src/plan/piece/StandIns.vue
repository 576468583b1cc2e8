<script setup lang="ts">
import { ElButton, ElEmpty, ElInput, ElSegmented } from 'element-plus';
import { computed, onMounted, ref } from 'vue';

import { api, sentence, take, type StandIn, type StandInView } from '@/api/client';

/** Pieces that ship with Haze, for a painter without a mesh and for practice. */
const emit = defineEmits<{ chosen: [standIn: StandIn] }>();
const list = ref<StandInView[]>([]);
const problem = ref('');
const busy = ref(false);
const wanted = ref('');
const picked = ref<StandInView | null>(null);
const size = ref('');

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
const sizes = computed(() => picked.value?.sizes.map((s) => s.label) ?? []);
const tall = computed(() => picked.value?.sizes.find((s) => s.label === size.value)?.height_mm);
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
    emit(
      'chosen',
      await take(
        api.POST('/api/stand-ins/{identity}', {
          params: {
            path: { identity: picked.value.id },
            query: size.value ? { size: size.value } : {},
          },
        }),
      ),
    );
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}
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
        :class="{ picked: picked?.id === s.id }"
        :aria-pressed="picked?.id === s.id"
        :title="s.words"
        :data-test="`stand-in-${s.id}`"
        @click="pick(s)"
        @dblclick="choose"
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
        <span v-if="tall" class="small number">{{ tall }} mm tall</span>
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
