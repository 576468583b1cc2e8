<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { ref, shallowRef } from 'vue';

import { Refused, sentence, takeBytes } from '@/api/client';
import BlobPicture from '@/displays/BlobPicture.vue';
import NumberField from '@/fields/NumberField.vue';
import FileButton from '@/fields/FileButton.vue';

/** A colour from a photo: first the grey beside it, then the swatch; the server does the sums. */
const emit = defineEmits<{ picked: [hex: string] }>();
const open = ref(false);
const file = shallowRef<File | null>(null);
const grey = ref<{ x: number; y: number } | null>(null);
const place = ref<{ x: number; y: number } | null>(null);
const greyLightness = ref(50);
const result = ref<{ hex: string; warning: string | null; spread: number } | null>(null);
const problem = ref('');
let turn = 0;
const cursor = ref({ x: 0.5, y: 0.5 });

function take(chosen: File): void {
  file.value = chosen;
  grey.value = place.value = result.value = null;
  problem.value = '';
  open.value = true;
}
function click(event: MouseEvent): void {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
  mark((event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height);
}
function mark(x: number, y: number): void {
  if (!grey.value) grey.value = { x, y };
  else {
    place.value = { x, y };
    void look();
  }
}
const STEP = 0.02;
function nudge(event: KeyboardEvent): void {
  const move: Record<string, [number, number]> = {
    ArrowLeft: [-STEP, 0],
    ArrowRight: [STEP, 0],
    ArrowUp: [0, -STEP],
    ArrowDown: [0, STEP],
  };
  const by = move[event.key];
  if (by) {
    cursor.value = {
      x: Math.min(1, Math.max(0, cursor.value.x + by[0])),
      y: Math.min(1, Math.max(0, cursor.value.y + by[1])),
    };
  } else if (event.key === 'Enter') mark(cursor.value.x, cursor.value.y);
  else return;
  event.preventDefault();
}
async function look(): Promise<void> {
  if (!file.value || !grey.value || !place.value) return;
  const asked = (turn += 1);
  problem.value = '';
  const query = new URLSearchParams({
    grey_x: String(grey.value.x),
    grey_y: String(grey.value.y),
    x: String(place.value.x),
    y: String(place.value.y),
    grey_lightness: String(greyLightness.value),
  });
  try {
    const bytes = await takeBytes(`/api/shelf/photo?${query}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: file.value,
    });
    if (asked === turn) result.value = JSON.parse(new TextDecoder().decode(bytes));
  } catch (error) {
    if (asked !== turn) return;
    result.value = null;
    problem.value = error instanceof Refused ? error.message : sentence(error);
  }
}
function use(): void {
  if (result.value) emit('picked', result.value.hex);
  open.value = false;
}
</script>

<template>
  <FileButton
    label="From a photo …"
    accept="image/png,image/jpeg,image/webp"
    data-test="photo"
    @chosen="take"
  />
  <ElDialog v-model="open" title="A colour from a photo" width="760px" top="4vh" append-to-body>
    <div class="pick">
      <p>
        <b v-if="!grey">Click the grey card or paper in the photo.</b>
        <b v-else-if="!place">Now click the swatch.</b>
        <span v-else>Click another place of the swatch, or begin again.</span>
        <small> Arrow keys and Enter do the same.</small>
      </p>
      <div
        class="photo"
        tabindex="0"
        role="application"
        aria-label="The photo"
        @click="click"
        @keydown="nudge"
      >
        <BlobPicture v-if="file" :picture="file" alt="The photo that was chosen" />
        <i class="cursor" :style="{ left: `${cursor.x * 100}%`, top: `${cursor.y * 100}%` }" />
        <i v-if="grey" class="mark" :style="{ left: `${grey.x * 100}%`, top: `${grey.y * 100}%` }"
          >grey</i
        >
        <i
          v-if="place"
          class="mark"
          :style="{ left: `${place.x * 100}%`, top: `${place.y * 100}%` }"
          >swatch</i
        >
      </div>
      <div class="row">
        <NumberField
          label="The grey is"
          unit="L*"
          :min="10"
          :max="98"
          :model-value="greyLightness"
          @update:model-value="
            (v) => {
              greyLightness = v;
              void look();
            }
          "
        />
        <span v-if="result" class="got">
          <i :style="{ background: result.hex }" /><span class="mono">{{ result.hex }}</span>
        </span>
        <ElButton @click="grey = place = result = null"> Begin again </ElButton>
        <ElButton type="primary" :disabled="!result" @click="use"> Take this colour </ElButton>
      </div>
      <p v-if="result?.warning" class="note">{{ result.warning }}</p>
      <p v-if="problem" class="note" role="alert">{{ problem }}</p>
    </div>
  </ElDialog>
</template>

<style scoped>
.pick {
  display: grid;
  gap: 12px;
}
.photo {
  position: relative;
  justify-self: center;
  cursor: crosshair;
  background: var(--card);
}
.photo img {
  display: block;
  max-width: 100%;
  max-height: 52vh;
}
.mark,
.cursor {
  position: absolute;
  width: 18px;
  height: 18px;
  margin: -9px 0 0 -9px;
  border: 2px solid #fff;
  border-radius: 50%;
  outline: 2px solid #111;
  color: #fff;
  font: var(--f14) var(--sans);
  text-indent: 20px;
  white-space: nowrap;
  text-shadow: 0 0 3px #000;
  pointer-events: none;
}
.cursor {
  display: none;
  border-style: dashed;
}
.photo:focus-visible .cursor {
  display: block;
}
.row {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 10px;
}
.got {
  display: flex;
  align-items: center;
  gap: 8px;
  min-height: 44px;
}
.got i {
  width: 44px;
  height: 44px;
  border: 1px solid var(--edge);
}
</style>
