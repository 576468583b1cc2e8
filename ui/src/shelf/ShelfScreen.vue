<script setup lang="ts">
import { ElDialog } from 'element-plus';
import { computed, onMounted, ref } from 'vue';

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
import { useSettings } from '@/stores/settings';
import { useShelf } from '@/stores/shelf';

import BulkEdit from './BulkEdit.vue';
import GearList from './GearList.vue';
import MixDialog from '@/colour/MixDialog.vue';
import PaintEditor from './PaintEditor.vue';
import ShelfFiles from './ShelfFiles.vue';
import { blankPaint } from './blank-paint';

/** The shelf as a wall of chips, each painted over black and over white. */
const shelf = useShelf();
const data = ref<ShelfScreenData | null>(null);
const problem = ref('');
const find = ref('');
const kind = ref('');
const maker = ref('');
const low = ref(false);
const chosen = ref<Set<string>>(new Set());
const choosing = ref(false);
const editing = ref(false);
const edited = ref<PaintOnShelf>(blankPaint());
const bulk = ref(false);
const files = ref(false);
const gear = ref(false);
const trash = ref(false);
const mixing = ref(false);
const LOW_ML = 4;

async function load(): Promise<void> {
  try {
    data.value = await take(api.GET('/api/shelf/screen'));
    void shelf.reload();
  } catch (error) {
    problem.value = sentence(error);
  }
}
onMounted(load);

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
      (!kind.value || p.kind === kind.value) &&
      (!maker.value || p.maker === maker.value) &&
      (!low.value || (p.ml_left !== null && p.ml_left !== undefined && p.ml_left < LOW_ML))
    );
  });
});
const words = computed(() => {
  const all = data.value?.chips.length ?? 0;
  return shown.value.length === all ? `${all} paints` : `${shown.value.length} of ${all} paints`;
});

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
  edited.value = blankPaint();
  editing.value = true;
}
async function attempt(work: () => Promise<ShelfScreenData>): Promise<void> {
  problem.value = '';
  try {
    data.value = await work();
    chosen.value = new Set();
    void shelf.reload();
  } catch (error) {
    problem.value = sentence(error);
  }
}
function away(ids: string[], trashed: boolean): Promise<void> {
  return attempt(() => take(api.POST('/api/shelf/trash', { body: { ids, trashed } })));
}
function emptyTrash(): Promise<void> {
  trash.value = false;
  return attempt(() => take(api.DELETE('/api/shelf/trash')));
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
      <button class="quiet-button strong" type="button" @click="add">Add a paint</button>
      <button class="quiet-button" type="button" data-test="shelf-mix" @click="mixing = true">
        Mix toward a colour
      </button>
      <button class="quiet-button" type="button" data-test="files" @click="files = true">
        Files in and out
      </button>
      <button class="quiet-button" type="button" data-test="gear" @click="gear = true">
        Gear and thinners
      </button>
      <button v-if="data?.trashed.length" class="quiet-button" type="button" @click="trash = true">
        Trash ({{ data.trashed.length }})
      </button>
      <span class="spring" />
      <button
        class="quiet-button"
        type="button"
        :disabled="!data?.undo"
        :title="data?.undo ? `Undo: ${data.undo}` : undefined"
        @click="undo"
      >
        Undo
      </button>
      <button
        class="quiet-button"
        type="button"
        :disabled="!data?.redo"
        :title="data?.redo ? `Redo: ${data.redo}` : undefined"
        @click="redo"
      >
        Redo
      </button>
    </header>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
    <div class="sieve">
      <input
        v-model="find"
        class="text find"
        type="search"
        placeholder="Find by name, maker or #colour"
        aria-label="Find"
      />
      <select v-model="kind" aria-label="Kind">
        <option value="">every kind</option>
        <option v-for="(label, id) in PAINT_KINDS" :key="id" :value="id">{{ label }}</option>
      </select>
      <select v-model="maker" aria-label="Maker">
        <option value="">every maker</option>
        <option v-for="m in makers" :key="m" :value="m">{{ m }}</option>
      </select>
      <label class="check"><input v-model="low" type="checkbox" /> nearly empty</label>
      <span class="small number" role="status">{{ words }}</span>
      <span class="spring" />
      <button
        class="quiet-button"
        type="button"
        :aria-pressed="choosing"
        @click="
          choosing = !choosing;
          chosen = new Set();
        "
      >
        {{ choosing ? 'Stop choosing' : 'Choose several' }}
      </button>
      <template v-if="choosing">
        <button
          class="quiet-button"
          type="button"
          @click="chosen = new Set(shown.map((c) => c.paint.id))"
        >
          All shown
        </button>
        <button
          class="quiet-button"
          type="button"
          :disabled="!chosen.size"
          data-test="bulk"
          @click="bulk = true"
        >
          Change {{ chosen.size }}
        </button>
        <button
          class="quiet-button"
          type="button"
          :disabled="!chosen.size"
          @click="away([...chosen], true)"
        >
          Put {{ chosen.size }} away
        </button>
      </template>
    </div>
    <ul class="wall" data-test="wall">
      <li v-for="c in shown" :key="c.paint.id">
        <button
          type="button"
          class="chip"
          :aria-pressed="choosing ? chosen.has(c.paint.id) : undefined"
          :class="{ chosen: chosen.has(c.paint.id) }"
          @click="click(c)"
        >
          <span class="over">
            <i class="dark"><b :style="{ background: c.over_dark }" /></i>
            <i class="light"><b :style="{ background: c.over_light }" /></i>
          </span>
          <span class="name">{{ c.paint.name }}</span>
          <small
            >{{ c.paint.maker
            }}<template v-if="c.paint.ml_left !== null && c.paint.ml_left !== undefined">
              · {{ decimals(c.paint.ml_left, 0) }} ml</template
            ></small
          >
        </button>
      </li>
    </ul>
    <p v-if="data && !data.chips.length" class="note">
      The shelf is empty. Add a paint, or bring a list in under “Files in and out”.
    </p>
    <p v-else-if="data && !shown.length" class="note">
      No paint fits. Take a word or a choice away.
    </p>
    <PaintEditor v-model="editing" :paint="edited" @saved="load" @away="(id) => away([id], true)" />
    <BulkEdit v-model="bulk" :ids="[...chosen]" @done="load" />
    <ShelfFiles v-model="files" @done="load" />
    <GearList v-if="data" v-model="gear" :data="data" @done="(d) => (data = d)" />
    <MixDialog v-model="mixing" start="#7a8f5c" :for-coat="false" />
    <ElDialog v-model="trash" title="Trash" width="520px" append-to-body>
      <ul class="trash">
        <li v-for="p in data?.trashed ?? []" :key="p.id">
          <i :style="{ background: p.masstone }" /> {{ p.name }} <small>{{ p.maker }}</small>
          <button class="quiet-button" type="button" @click="away([p.id], false)">Take back</button>
        </li>
      </ul>
      <button class="quiet-button" type="button" @click="emptyTrash">
        Empty the trash for good
      </button>
    </ElDialog>
  </div>
</template>

<style scoped>
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
.chip {
  display: grid;
  width: 100%;
  padding: 0 0 4px;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
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
  box-shadow: inset 0 -1px 0 var(--line);
}
.over b {
  display: block;
  height: 100%;
}
.name {
  padding-top: 3px;
  font-weight: 560;
  line-height: 1.2;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.chip.chosen {
  outline: 3px solid var(--strong);
  outline-offset: 2px;
}
.chip:hover .name {
  text-decoration: underline;
}
.trash {
  display: grid;
  gap: 6px;
  margin: 0 0 16px;
  padding: 0;
  list-style: none;
}
.trash li {
  display: flex;
  align-items: center;
  gap: 8px;
}
.trash i {
  width: 22px;
  height: 22px;
  border: 1px solid var(--edge);
}
.trash .quiet-button {
  margin-left: auto;
}
</style>
