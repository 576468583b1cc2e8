<script setup lang="ts">
import { ElDialog, ElOption, ElSelect } from 'element-plus';
import { computed, ref } from 'vue';

import { api, sentence, take, type Coat } from '@/api/client';
import FilmColumn from '@/instruments/film/FilmColumn.vue';
import { usePlan } from '@/stores/plan';
import { useShelf } from '@/stores/shelf';

const props = defineProps<{ editing: boolean }>();
const store = usePlan();
const shelf = useShelf();
const adding = ref(false);
const busy = ref(false);
const problem = ref('');
const task = ref<Coat['task']>('light');
const paintId = ref('');

const TASKS: { id: Coat['task']; label: string }[] = [
  { id: 'prime', label: 'Ground: cover all round and below' },
  { id: 'cover', label: 'Cover from the light' },
  { id: 'light', label: 'Light: a lighter coat from the light' },
  { id: 'veil', label: 'Veil: a transparent colour' },
  { id: 'metal', label: 'Metal' },
  { id: 'varnish', label: 'Varnish all round' },
];
const paints = computed(() => shelf.shelf.paints);

async function add(): Promise<void> {
  const plan = store.plan;
  const paint = paints.value.find((p) => p.id === paintId.value);
  if (!plan || !paint) return;
  busy.value = true;
  problem.value = '';
  const solvent = { lacquer: 'lacquer_thinner', enamel_wash: 'spirit' } as Record<string, string>;
  const kind = solvent[paint.kind] ?? 'acrylic_thinner';
  const thinner = shelf.shelf.thinners.find((t) => t.kind === kind) ?? shelf.shelf.thinners[0]!;
  const under = plan.coats[store.after - 1];
  try {
    const coat = await take(
      api.POST('/api/coats/draft', {
        body: {
          plan,
          id: `c${Date.now().toString(36)}`,
          task: task.value,
          paint,
          thinner,
          over: under?.paint.masstone ?? plan.piece.surface,
        },
      }),
    );
    const at = store.after;
    await store.change(`Added ${coat.name}`, (draft) => draft.coats.splice(at, 0, coat));
    store.selectCoat(at + 1);
    adding.value = false;
  } catch (error) {
    problem.value = sentence(error);
  } finally {
    busy.value = false;
  }
}

async function move(from: number, to: number): Promise<void> {
  await store.change('Order changed', (draft) => {
    const [coat] = draft.coats.splice(from - 1, 1);
    if (coat) draft.coats.splice(to - 1, 0, coat);
  });
  store.selectCoat(to);
}

async function remove(): Promise<void> {
  const at = store.after - 1;
  await store.change(`Removed ${store.coat?.name}`, (draft) => draft.coats.splice(at, 1));
  store.selectCoat(Math.min(at + 1, store.plan?.coats.length ?? 0));
}
</script>

<template>
  <div v-if="store.plan" class="left">
    <header>
      <h2>Film</h2>
      <small>newest on top</small>
    </header>
    <p v-if="!store.plan.coats.length" class="note">
      No coats yet. Add the ground first: it covers everything.
    </p>
    <div class="spring" />
    <FilmColumn
      :coats="store.plan.coats"
      :workings="store.workings?.coats ?? null"
      :surface="store.plan.piece.surface"
      :after="store.after"
      @select="store.selectCoat"
      @move="move"
    />
    <footer v-if="props.editing">
      <button class="quiet-button strong" type="button" @click="adding = true">Add a coat</button>
      <div v-if="store.coat" class="order" role="group" :aria-label="`Order of ${store.coat.name}`">
        <button
          class="quiet-button"
          type="button"
          :disabled="store.after <= 1"
          @click="move(store.after, store.after - 1)"
        >
          Down
        </button>
        <button
          class="quiet-button"
          type="button"
          :disabled="store.after >= store.plan.coats.length"
          @click="move(store.after, store.after + 1)"
        >
          Up
        </button>
        <button class="quiet-button" type="button" @click="remove">Remove</button>
      </div>
    </footer>
    <ElDialog v-model="adding" title="Add a coat" width="460px" append-to-body>
      <div class="form">
        <label>
          <span class="small">What it is for</span>
          <ElSelect v-model="task" aria-label="What it is for">
            <ElOption v-for="t in TASKS" :key="t.id" :value="t.id" :label="t.label" />
          </ElSelect>
        </label>
        <label>
          <span class="small">Paint</span>
          <ElSelect v-model="paintId" filterable placeholder="Choose a paint" aria-label="Paint">
            <ElOption v-for="p in paints" :key="p.id" :value="p.id" :label="p.name">
              <span class="option"
                ><i :style="{ background: p.masstone }" />{{ p.name }}
                <small>{{ p.maker }}, {{ p.opacity.replace('_', '-') }}</small></span
              >
            </ElOption>
          </ElSelect>
        </label>
        <p v-if="problem" class="note" role="alert">{{ problem }}</p>
        <button class="quiet-button strong" type="button" :disabled="!paintId || busy" @click="add">
          {{ busy ? 'Finding a setting …' : `Add over ${store.coat?.name ?? 'the bare surface'}` }}
        </button>
      </div>
    </ElDialog>
  </div>
</template>

<style scoped>
.left {
  display: flex;
  flex-direction: column;
  min-height: 100%;
  padding: 14px 0 0 16px;
}
header {
  display: flex;
  align-items: baseline;
  gap: 8px;
}
.spring {
  flex: 1;
  min-height: 12px;
}
footer {
  position: sticky;
  bottom: 0;
  z-index: 3;
  display: grid;
  gap: 6px;
  padding: 12px 16px 12px 0;
  background: var(--surface);
}
.order {
  display: grid;
  grid-template-columns: 1fr 1fr 1.3fr;
  gap: 6px;
}
.order .quiet-button {
  padding: 0 4px;
}
.form {
  display: grid;
  gap: 16px;
}
.form label {
  display: grid;
  gap: 2px;
}
.option {
  display: flex;
  align-items: center;
  gap: 8px;
}
.option i {
  width: 20px;
  height: 20px;
  border: 1px solid var(--edge);
}
</style>
