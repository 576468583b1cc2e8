<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { computed, nextTick, onBeforeUnmount, ref, shallowRef, watch } from 'vue';

import { sentence } from '@/api/client';
import { decimals, stepWords } from '@/displays/format';
import WorkBar from '@/displays/WorkBar.vue';
import { takeColours, type Colours } from '@/instruments/piece/colours';
import type { PieceGeometry } from '@/instruments/piece/geometry';
import { PieceScene } from '@/instruments/piece/piece-scene';
import { useGestures } from '@/instruments/piece/use-gestures';
import { TURN_KEYS, type View } from '@/instruments/piece/view';
import { usePlan } from '@/stores/plan';

import { composed, download } from './sheet';

/** The piece after every step, side by side: to look through, to turn together, to save. */
const props = defineProps<{ geometry: PieceGeometry; from: View }>();
const open = defineModel<boolean>({ required: true });
const store = usePlan();

const TILE = { width: 236, height: 268 };

interface Tile {
  after: number;
  name: string;
  words: string;
  colours: Colours | null;
}
const tiles = ref<Tile[]>([]);
const canvases = ref<HTMLCanvasElement[]>([]);
const got = ref(0);
const problem = ref('');
const busy = computed(() => got.value < tiles.value.length);
const scene = shallowRef<PieceScene | null>(null);
let run = new AbortController();
let frame = 0;

const sharp = Math.min(window.devicePixelRatio || 1, 2);

/** The steps that leave paint; masks and rests leave nothing to look at. */
function steps(): Tile[] {
  const coats = store.plan?.coats ?? [];
  const shown = coats.flatMap((coat, i): Tile[] => {
    if (coat.off || !coat.paint) return [];
    const um = store.layers.get(coat.id)?.dry_um;
    const film = um ? ` · ${decimals(um, um < 10 ? 1 : 0)} µm` : '';
    return [{ after: i + 1, name: coat.name, words: `${stepWords(coat)}${film}`, colours: null }];
  });
  return [{ after: 0, name: 'Bare piece', words: '', colours: null }, ...shown];
}

async function fill(signal: AbortSignal): Promise<void> {
  const plan = store.plan;
  if (!plan) return;
  for (const [i, tile] of tiles.value.entries()) {
    const { after } = tile;
    const body = JSON.stringify({ plan, after, look: store.look, fine: true });
    tile.colours = await takeColours(body, signal);
    if (signal.aborted) return;
    got.value = i + 1;
    paint(i);
  }
}

function paint(i: number): void {
  const colours = tiles.value[i]?.colours;
  const canvas = canvases.value[i];
  if (!scene.value || !colours || !canvas) return;
  scene.value.setColours(colours.bytes, colours.layout, store.look === 'as_painted');
  scene.value.drawOn(canvas.getContext('2d')!);
}
function paintAll(): void {
  if (frame) return;
  frame = requestAnimationFrame(() => {
    frame = 0;
    tiles.value.forEach((_, i) => paint(i));
  });
}

watch(
  open,
  async (now) => {
    close();
    if (!now) return;
    const { signal } = (run = new AbortController());
    got.value = 0;
    problem.value = '';
    tiles.value = steps();
    await nextTick();
    if (signal.aborted) return;
    try {
      const made = (scene.value = new PieceScene(document.createElement('canvas'), 1));
      made.onGrained = made.onView = paintAll;
      made.setGeometry(props.geometry, { furnished: false });
      made.resize(TILE.width * sharp, TILE.height * sharp);
      made.view = { ...props.from, zoom: 1, pan: [0, 0] };
      await fill(signal);
    } catch (error) {
      if (!signal.aborted) problem.value = sentence(error);
    }
  },
  { immediate: true },
);
function close(): void {
  run.abort();
  cancelAnimationFrame(frame);
  frame = 0;
  scene.value?.dispose();
  scene.value = null;
}
onBeforeUnmount(close);

const gestures = useGestures(scene);
/** Let go, they are drawn finely again. */
function settle(event: PointerEvent): void {
  gestures.pointerup(event);
  paintAll();
}
function turn(event: KeyboardEvent): void {
  const by = TURN_KEYS[event.key];
  if (!by) return;
  event.preventDefault();
  scene.value?.turn(...by);
}

async function save(): Promise<void> {
  const name = store.plan?.name ?? 'Plan';
  const told = tiles.value.map((t, i) => ({
    title: numbered(t),
    words: t.words,
    picture: canvases.value[i]!,
  }));
  download(await composed(name, told), `${name}, coat by coat.png`);
}
function numbered(tile: Tile): string {
  return tile.after ? `${tile.after}  ${tile.name}` : tile.name;
}
function show(tile: Tile): void {
  store.selectCoat(tile.after);
  open.value = false;
}
</script>

<template>
  <ElDialog v-model="open" title="Coat by coat" width="min(1240px, 96vw)" top="3vh" append-to-body>
    <p class="small">
      The piece after every step. Drag one or press the arrow keys to turn them all; press a name to
      go to its step.
    </p>
    <div
      class="tiles"
      role="group"
      tabindex="0"
      aria-label="The piece after every step; arrow keys turn them all"
      data-test="tiles"
      :data-done="!busy || undefined"
      @keydown="turn"
    >
      <figure v-for="(t, i) in tiles" :key="t.after">
        <canvas
          :ref="(el) => (canvases[i] = el as HTMLCanvasElement)"
          :width="TILE.width * sharp"
          :height="TILE.height * sharp"
          role="img"
          :aria-label="`The piece after ${t.name}`"
          v-on="{ ...gestures, pointerup: settle, pointercancel: settle }"
        />
        <figcaption>
          <ElButton text size="small" :title="t.name" @click="show(t)">{{ numbered(t) }}</ElButton>
          <span class="small number">{{ t.words }}</span>
        </figcaption>
      </figure>
    </div>
    <p v-if="problem" class="note" role="alert">{{ problem }}</p>
    <template #footer>
      <div class="foot">
        <WorkBar
          v-if="busy && !problem"
          :share="got / Math.max(tiles.length, 1)"
          doing="Painting the steps"
        />
        <span v-else class="small">{{ tiles.length }} pictures</span>
        <ElButton type="primary" :disabled="busy" data-test="save-strip" @click="save">
          Save as one picture
        </ElButton>
      </div>
    </template>
  </ElDialog>
</template>

<style scoped>
.tiles {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
  gap: 10px;
  max-height: 68vh;
  overflow: auto;
  padding: 3px;
}
figure {
  margin: 0;
  min-width: 0;
}
canvas {
  display: block;
  width: 100%;
  border-radius: 8px;
  background: var(--card);
  cursor: grab;
  touch-action: none;
}
figcaption {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: 6px;
  min-width: 0;
}
figcaption .el-button {
  min-width: 0;
  padding-inline: 4px;
  font-weight: 600;
}
figcaption .el-button :deep(> span) {
  overflow: hidden;
  text-overflow: ellipsis;
}
figcaption .small {
  white-space: nowrap;
}
.foot {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  gap: 16px;
  text-align: left;
}
</style>
