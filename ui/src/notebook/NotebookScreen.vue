<script setup lang="ts">
import { ElButton, ElInput, ElRadioButton, ElRadioGroup, ElSkeleton } from 'element-plus';
import { useDebounceFn } from '@vueuse/core';
import { computed, onMounted, onUnmounted, ref, shallowRef, watch } from 'vue';
import { useRouter } from 'vue-router';

import { api, sentence, take, type KnownList, type Notebook, type SessionLine } from '@/api/client';
import { useLatest } from '@/composables/use-latest';
import TrashDialog, { type PutAway } from '@/displays/TrashDialog.vue';
import UnreadableRows from '@/displays/UnreadableRows.vue';
import ChoiceField from '@/fields/ChoiceField.vue';

import KnownPanel from './KnownPanel.vue';
import SessionPanel from './SessionPanel.vue';
import SessionRows from './SessionRows.vue';

/** What was done, what it taught, and what is known of each paint and airbrush. */
const props = defineProps<{ what?: string; id?: string }>();
const router = useRouter();
const FIND_AFTER_MS = 150;

const book = shallowRef<Notebook | null>(null);
const known = shallowRef<KnownList | null>(null);
const problem = ref('');
const find = ref('');
const only = ref<Only>('all');
const showTrash = ref(false);

type Only = 'all' | 'booth' | 'cards' | 'trouble' | 'liked';
const LIKED = 4;
const ONLY: { id: Only; label: string; fits: (s: SessionLine) => boolean }[] = [
  { id: 'all', label: 'all sessions', fits: () => true },
  { id: 'booth', label: 'at the booth', fits: (s) => s.kind === 'booth' },
  { id: 'cards', label: 'trial cards', fits: (s) => s.kind === 'cards' },
  { id: 'trouble', label: 'with trouble', fits: (s) => s.troubles > 0 },
  { id: 'liked', label: 'rated 4 or 5', fits: (s) => (s.rating ?? 0) >= LIKED },
];
const shown = computed(() => {
  const fits = ONLY.find((o) => o.id === only.value)!.fits;
  return book.value?.sessions.filter(fits) ?? [];
});
const side = computed(() =>
  props.what === 'paint' || props.what === 'airbrush' ? 'known' : 'done',
);
/** The chosen session: the one of the address, else the last. */
const chosen = computed(() =>
  props.what === 'session' && props.id ? props.id : (shown.value[0]?.id ?? null),
);
const trashed = computed<PutAway[]>(() => [
  ...(book.value?.trashed ?? []).map((s) => ({ id: s.id, name: s.name, more: s.date })),
  ...(book.value?.trashed_photos ?? []).map((p) => ({
    id: p.id,
    name: p.note || 'Photo',
    more: p.name,
    picture: `/api/photos/${p.id}.jpg?small=true`,
  })),
]);

/** One search at a time, the newest words last. */
const searches = useLatest<string>(
  async (words) => {
    book.value = await take(api.GET('/api/notebook', { params: { query: { find: words } } }));
  },
  (error) => (problem.value = sentence(error)),
);
onUnmounted(searches.stop);
async function load(): Promise<void> {
  searches.push(find.value);
  try {
    known.value = await take(api.GET('/api/notebook/known'));
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(load);
watch(
  find,
  useDebounceFn((words: string) => searches.push(words), FIND_AFTER_MS),
);

function choose(id: string): void {
  void router.replace({ name: 'notebook', params: { what: 'session', id } });
}
function turn(to: unknown): void {
  const first = known.value?.known[0];
  void router.replace({
    name: 'notebook',
    params: to === 'known' && first ? { what: first.what, id: first.id } : {},
  });
}
async function attempt(work: () => Promise<unknown>): Promise<void> {
  problem.value = '';
  try {
    await work();
    await load();
  } catch (error) {
    problem.value = sentence(error);
  }
}
function back(id: string): Promise<void> {
  const body = { trashed: false };
  return attempt(() =>
    book.value?.trashed.some((s) => s.id === id)
      ? take(
          api.POST('/api/sessions/{session_id}/trash', {
            params: { path: { session_id: id } },
            body,
          }),
        )
      : take(
          api.POST('/api/photos/{photo_id}/trash', { params: { path: { photo_id: id } }, body }),
        ),
  );
}
const emptyTrash = (): Promise<void> => attempt(() => take(api.DELETE('/api/notebook/trash')));
function gone(): void {
  void router.replace({ name: 'notebook', params: {} });
  void load();
}
</script>

<template>
  <div class="notebook">
    <section class="sheet list" aria-label="Notebook">
      <header>
        <h1>Notebook</h1>
        <ElRadioGroup :model-value="side" aria-label="What to look at" @update:model-value="turn">
          <ElRadioButton value="done">Sessions</ElRadioButton>
          <ElRadioButton value="known" :disabled="!known?.known.length" data-test="known"
            >What Haze knows</ElRadioButton
          >
        </ElRadioGroup>
        <span class="push" />
        <ElButton v-if="trashed.length" text data-test="trash" @click="showTrash = true"
          >Trash ({{ trashed.length }})</ElButton
        >
      </header>
      <p v-if="problem" class="note" role="alert">{{ problem }}</p>
      <template v-if="side === 'done'">
        <div v-if="book && (book.sessions.length || find)" class="narrow">
          <ElInput
            v-model="find"
            placeholder="Find: paint, piece, trouble, word"
            aria-label="Find a paint, a piece, a trouble or a word"
            maxlength="200"
            clearable
            data-test="find"
          />
          <ChoiceField v-model="only" label="Show" hide-label :choices="ONLY" data-test="only" />
        </div>
        <UnreadableRows :records="book?.unreadable ?? []" @deleted="load" />
        <SessionRows v-if="shown.length" :sessions="shown" :chosen="chosen" @choose="choose" />
        <p v-else-if="book && (find || only !== 'all')" class="none" role="status">
          Nothing fits. <ElButton text @click="((find = ''), (only = 'all'))">Show all</ElButton>
        </p>
        <div v-else-if="book && !book.unreadable.length" class="empty" data-test="empty">
          <h2>Nothing done yet</h2>
          <p>
            What you do at the booth and every card you try comes here by itself: planned beside
            done, what it taught, and the plan as it was.
          </p>
          <RouterLink to="/">To the plans</RouterLink>
        </div>
        <ElSkeleton v-else-if="!problem" :rows="6" animated aria-label="Opening the notebook" />
      </template>
      <ul v-else class="names" aria-label="Paints and airbrushes">
        <li v-for="k in known?.known" :key="`${k.what} ${k.id}`">
          <RouterLink
            :to="{ name: 'notebook', params: { what: k.what, id: k.id } }"
            :class="{ here: k.id === id && k.what === what }"
            replace
            ><b>{{ k.name }}</b> <small>{{ k.what }}</small>
            <span class="number">{{ k.trials === 1 ? 'one trial' : `${k.trials} trials` }}</span>
          </RouterLink>
        </li>
      </ul>
    </section>
    <SessionPanel
      v-if="side === 'done' && chosen"
      :id="chosen"
      :key="chosen"
      class="sheet"
      @changed="load"
      @gone="gone"
    />
    <KnownPanel
      v-else-if="side === 'known' && id"
      :id="id"
      :key="`${what} ${id}`"
      class="sheet"
      :what="what === 'paint' ? 'paint' : 'airbrush'"
      @changed="load"
    />
    <div v-else class="sheet blank" />
    <TrashDialog
      v-model="showTrash"
      title="Trash of the notebook"
      :things="trashed"
      warning="Sessions and photos in the trash are deleted permanently. What their trials taught stays."
      @back="back"
      @empty="emptyTrash"
    />
  </div>
</template>

<style scoped>
.notebook {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 420px;
  gap: 10px;
  height: 100%;
  padding: 12px;
}
.list {
  display: grid;
  grid-template-rows: auto;
  align-content: start;
  gap: 12px;
  overflow-y: auto;
}
header,
.narrow {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 12px;
}
h1 {
  font-size: 1.75rem;
}
.push {
  flex: 1;
}
.narrow :deep(.el-input) {
  flex: 1;
  min-width: 180px;
}
.narrow :deep(.choice) {
  width: 170px;
}
.empty {
  display: grid;
  gap: 12px;
  max-width: 480px;
  margin-top: 8vh;
}
.names {
  margin: 0;
  padding: 0;
  list-style: none;
}
.names a {
  display: flex;
  align-items: baseline;
  gap: 8px;
  min-height: 44px;
  padding: 10px;
  border-bottom: 1px solid var(--hair);
  color: inherit;
  text-decoration: none;
}
.names a:hover,
.names a.here {
  background: var(--well);
}
.names .number {
  margin-left: auto;
}
@media (min-width: 1700px) {
  .notebook {
    grid-template-columns: minmax(0, 5fr) minmax(0, 7fr);
  }
}
@media (max-width: 1100px) {
  .notebook {
    grid-template-columns: minmax(0, 1fr) 350px;
  }
}
@media (max-width: 820px) {
  .notebook {
    grid-template-columns: minmax(0, 1fr);
    height: auto;
  }
}
</style>
