<script setup lang="ts">
import { ElButton, ElCheckbox } from 'element-plus';
import { computed, onMounted, ref, watch } from 'vue';
import { useRoute } from 'vue-router';

import {
  api,
  sentence,
  take,
  type Chip,
  type PaintOnShelf,
  type ShelfScreenData,
} from '@/api/client';
import { PAINT_KINDS } from '@/craft.generated';
import { useKeys } from '@/composables/use-keys';
import { decimals } from '@/displays/format';
import TrashDialog from '@/displays/TrashDialog.vue';
import { useSettings } from '@/stores/settings';
import { useShelf } from '@/stores/shelf';

import BulkEdit from './BulkEdit.vue';
import GearList from './GearList.vue';
import MixDialog from '@/colour/MixDialog.vue';
import PaintEditor from './PaintEditor.vue';
import ShelfFiles from './ShelfFiles.vue';
import PasteList from './PasteList.vue';
import { blankPaint, useUsual } from './blank-paint';
import ChoiceField from '@/fields/ChoiceField.vue';
import UnreadableRows from '@/displays/UnreadableRows.vue';
import TextField from '@/fields/TextField.vue';
import { asChoices } from '@/fields/choices';

/** The shelf as a wall of chips, each painted over black and over white. */
const route = useRoute();
const shelf = useShelf();
const data = ref<ShelfScreenData | null>(null);
const problem = ref('');
const find = ref('');
const EVERY = '*';
const kind = ref<string>(EVERY);
const maker = ref<string>(EVERY);
const low = ref(false);
const guesses = ref(false);
const chosen = ref<Set<string>>(new Set());
const choosing = ref(false);
const editing = ref(false);
const usual = useUsual();
const edited = ref<PaintOnShelf>(blankPaint(usual.value));
const bulk = ref(false);
const files = ref(false);
const pasting = ref(false);
const gear = ref(false);
const trash = ref(false);
const mixing = ref(false);
const LOW_ML = 4;

async function load(): Promise<void> {
  try {
    data.value = await take(api.GET('/api/shelf/screen'));
    await shelf.reload();
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(async () => {
  await load();
  const wanted = route.query.add;
  if (wanted === 'paint') add();
  if (wanted === 'airbrush') gear.value = true;
});

const makers = computed(() =>
  [...new Set(data.value?.chips.map((c) => c.paint.maker ?? '') ?? [])].filter(Boolean).sort(),
);
const shown = computed<Chip[]>(() => {
  const words = find.value.toLowerCase().split(/\s+/).filter(Boolean);
  return (data.value?.chips ?? []).filter((c) => {
    const p = c.paint;
    const text = `${p.name} ${p.maker} ${p.range} ${p.masstone}`.toLowerCase();
    return (
      words.every((w) => text.includes(w)) &&
      (kind.value === EVERY || p.kind === kind.value) &&
      (maker.value === EVERY || p.maker === maker.value) &&
      (!guesses.value || c.paint.colour_from === 'guessed') &&
      (!low.value || (p.ml_left !== null && p.ml_left !== undefined && p.ml_left < LOW_ML))
    );
  });
});
const guessed = computed(
  () => data.value?.chips.filter((c) => c.paint.colour_from === 'guessed').length ?? 0,
);
watch(guessed, (count) => {
  if (!count) guesses.value = false;
});
const words = computed(() => {
  const all = data.value?.chips.length ?? 0;
  return shown.value.length === all ? `${all} paints` : `${shown.value.length} of ${all} paints`;
});

function detail(paint: PaintOnShelf): string {
  const left = paint.ml_left ?? null;
  return [paint.maker, left === null ? '' : `${decimals(left, 0)} ml`].filter(Boolean).join(' · ');
}
function click(chip: Chip): void {
  if (choosing.value) {
    const next = new Set(chosen.value);
    if (!next.delete(chip.paint.id)) next.add(chip.paint.id);
    chosen.value = next;
    return;
  }
  edited.value = chip.paint;
  editing.value = true;
}
function add(): void {
  edited.value = blankPaint(usual.value);
  editing.value = true;
}
async function attempt(work: () => Promise<ShelfScreenData>): Promise<void> {
  problem.value = '';
  try {
    data.value = await work();
    chosen.value = new Set();
    await shelf.reload();
  } catch (error) {
    problem.value = sentence(error);
  }
}
function away(ids: string[], trashed: boolean): Promise<void> {
  return attempt(() => take(api.POST('/api/shelf/trash', { body: { ids, trashed } })));
}
const put = computed(() =>
  (data.value?.trashed ?? []).map((p) => ({
    id: p.id,
    name: p.name,
    more: p.maker,
    chip: p.masstone,
  })),
);
function emptyTrash(): Promise<void> {
  return attempt(() => take(api.DELETE('/api/shelf/trash')));
}
function addExample(): Promise<void> {
  return attempt(() => take(api.POST('/api/shelf/example')));
}
const undo = (): Promise<void> => attempt(() => take(api.POST('/api/shelf/undo')));
const redo = (): Promise<void> => attempt(() => take(api.POST('/api/shelf/redo')));
const settings = useSettings();
useKeys(
  {
    'Ctrl+Z': () => void (data.value?.undo && undo()),
    'Ctrl+Shift+Z': () => void (data.value?.redo && redo()),
  },
  () => settings.singleKeys,
);
</script>

<template>
  <div class="shelf">
    <header>
      <h1>Shelf</h1>
      <ElButton :type="data?.chips.length ? 'primary' : 'default'" @click="add">
        Add a paint
      </ElButton>
      <ElButton data-test="paste-list" @click="pasting = true"> Paste a list </ElButton>
      <ElButton data-test="shelf-mix" @click="mixing = true"> Match a colour </ElButton>
      <ElButton data-test="files" @click="files = true"> Import / export </ElButton>
      <ElButton data-test="gear" @click="gear = true"> Equipment </ElButton>
      <ElButton v-if="data?.trashed.length" @click="trash = true">
        Trash ({{ data.trashed.length }})
      </ElButton>
      <span class="spring" />
      <ElButton
        :disabled="!data?.undo"
        :title="data?.undo ? `Undo: ${data.undo}` : undefined"
        @click="undo"
      >
        Undo
      </ElButton>
      <ElButton
        :disabled="!data?.redo"
        :title="data?.redo ? `Redo: ${data.redo}` : undefined"
        @click="redo"
      >
        Redo
      </ElButton>
    </header>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
    <UnreadableRows :records="data?.unreadable ?? []" @deleted="load" />
    <div class="sieve">
      <TextField
        v-model="find"
        class="find"
        label="Find"
        hide-label
        placeholder="Find by name, maker or #colour"
      />
      <ChoiceField
        v-model="kind"
        class="pick"
        label="Kind"
        hide-label
        :choices="[{ id: EVERY, label: 'every kind' }, ...asChoices(PAINT_KINDS)]"
      />
      <ChoiceField
        v-model="maker"
        class="pick"
        label="Maker"
        hide-label
        :choices="[
          { id: EVERY, label: 'every maker' },
          ...makers.map((m) => ({ id: m, label: m })),
        ]"
      />
      <ElCheckbox v-model="low">nearly empty</ElCheckbox>
      <ElCheckbox v-if="guessed" v-model="guesses">colour guessed ({{ guessed }})</ElCheckbox>
      <span class="small number" role="status">{{ words }}</span>
      <span class="spring" />
      <ElButton
        :aria-pressed="choosing"
        @click="
          choosing = !choosing;
          chosen = new Set();
        "
      >
        {{ choosing ? 'Done' : 'Select' }}
      </ElButton>
      <template v-if="choosing">
        <ElButton @click="chosen = new Set(shown.map((c) => c.paint.id))"> All shown </ElButton>
        <ElButton :disabled="!chosen.size" data-test="bulk" @click="bulk = true">
          Change {{ chosen.size }}
        </ElButton>
        <ElButton :disabled="!chosen.size" @click="away([...chosen], true)">
          Put {{ chosen.size }} away
        </ElButton>
      </template>
    </div>
    <ul class="wall" data-test="wall">
      <li v-for="c in shown" :key="c.paint.id">
        <ElButton
          text
          class="chip"
          :title="c.paint.name"
          :aria-pressed="choosing ? chosen.has(c.paint.id) : undefined"
          :class="{ chosen: chosen.has(c.paint.id) }"
          @click="click(c)"
        >
          <span class="over">
            <i class="dark"><b :style="{ background: c.over_dark }" /></i>
            <i class="light"><b :style="{ background: c.over_light }" /></i>
          </span>
          <span class="name">{{ c.paint.name }}</span>
          <small>{{ detail(c.paint) }}</small>
          <small v-if="c.paint.colour_from === 'guessed'" class="guessed">colour guessed</small>
        </ElButton>
      </li>
    </ul>
    <section v-if="data && !data.chips.length" class="first" data-test="first-shelf">
      <h2>No paints yet</h2>
      <p>
        Mixes, coats and schemes are worked out from the paints you own. Paste the list of them,
        import a file or add them one by one; or look around with made-up ones, and replace them
        later.
      </p>
      <div>
        <ElButton type="primary" @click="pasting = true">Paste a list</ElButton>
        <ElButton @click="files = true">Import a file</ElButton>
        <ElButton data-test="example" @click="addExample">Start with an example shelf</ElButton>
      </div>
    </section>
    <p v-else-if="data && !shown.length" class="note">
      No paint fits. Take a word or a choice away.
    </p>
    <PaintEditor
      v-model="editing"
      :paint="edited"
      @saved="load"
      @another="add"
      @away="(id) => away([id], true)"
    />
    <BulkEdit v-model="bulk" :ids="[...chosen]" @done="load" />
    <PasteList v-model="pasting" @done="load" />
    <ShelfFiles v-model="files" @done="load" />
    <GearList v-if="data" v-model="gear" :data="data" @done="(d) => (data = d)" />
    <MixDialog v-model="mixing" start="#7a8f5c" :for-coat="false" />
    <TrashDialog
      v-model="trash"
      title="Trash"
      :things="put"
      warning="Paints in the trash are deleted permanently, and earlier changes of the shelf can not be undone after it."
      @back="(id) => away([id], false)"
      @empty="emptyTrash"
    />
  </div>
</template>

<style scoped>
.first {
  display: grid;
  gap: 12px;
  max-width: 620px;
  padding: 24px 28px;
  border-radius: var(--round);
  background: var(--sheet);
}
.first div {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
.shelf {
  height: 100%;
  overflow-y: auto;
  padding: 24px 28px;
}
header,
.sieve {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  margin-bottom: 14px;
}
h1 {
  margin-right: 16px;
}
.pick {
  width: 170px;
}
.find {
  width: 270px;
}
.spring {
  flex: 1;
}
.wall {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(124px, 1fr));
  gap: 10px 10px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.chip.el-button {
  width: 100%;
  height: auto;
  padding: 0 0 6px;
  border-radius: 8px;
  overflow: hidden;
  background: var(--sheet);
  color: var(--ink);
  font-weight: 400;
  text-align: left;
}
.chip :deep(> span) {
  display: grid;
  width: 100%;
}
.chip small {
  padding: 0 8px;
}
.guessed {
  font-style: italic;
}
.over {
  display: grid;
  grid-template-columns: 1fr 1fr;
  height: 58px;
}
.over i {
  padding: 0 0 12px;
}
.over .dark {
  background: #17181a;
}
.over .light {
  background: #f3f2ec;
  box-shadow: inset 0 -1px 0 var(--hair);
}
.over b {
  display: block;
  height: 100%;
}
.name {
  padding: 5px 8px 0;
  font-weight: 560;
  line-height: 1.2;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.chip.el-button.chosen {
  outline: 3px solid var(--black);
  outline-offset: 2px;
}
.chip:hover .name {
  text-decoration: underline;
}
</style>
