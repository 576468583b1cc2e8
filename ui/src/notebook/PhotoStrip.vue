<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus';
import { ref, watch } from 'vue';

import { api, sendPhoto, take, type PhotoView } from '@/api/client';
import { useAttempt } from '@/composables/use-attempt';
import PhotoButtons from '@/fields/PhotoButtons.vue';
import TextField from '@/fields/TextField.vue';

/** Photos of a session: added by hand, looked at large, with a word to each. */
const props = defineProps<{ session: string; photos: PhotoView[] }>();
const emit = defineEmits<{ changed: [] }>();
const shown = ref<PhotoView | null>(null);
const open = ref(false);
const note = ref('');

watch(shown, (now) => (note.value = now?.note ?? ''));
function show(photo: PhotoView): void {
  shown.value = photo;
  open.value = true;
}
const { problem, busy, attempt } = useAttempt();
function change(work: () => Promise<unknown>): Promise<void> {
  return attempt(async () => {
    await work();
    emit('changed');
  });
}
const add = (file: File): Promise<void> => change(() => sendPhoto(props.session, file));
async function keepNote(): Promise<void> {
  const photo = shown.value;
  if (!photo || note.value === photo.note) return;
  await change(() =>
    take(
      api.PUT('/api/photos/{photo_id}', {
        params: { path: { photo_id: photo.id } },
        body: { note: note.value },
      }),
    ),
  );
}
async function away(): Promise<void> {
  const photo = shown.value;
  open.value = false;
  if (!photo) return;
  await change(() =>
    take(
      api.POST('/api/photos/{photo_id}/trash', {
        params: { path: { photo_id: photo.id } },
        body: { trashed: true },
      }),
    ),
  );
}
</script>

<template>
  <section class="photos" aria-label="Photos">
    <header>
      <h3>Photos</h3>
      <PhotoButtons :label="busy ? 'Adding it …' : 'Add a photo'" name="add-photo" @chosen="add" />
    </header>
    <p v-if="problem" class="note stop" role="alert">{{ problem }}</p>
    <ul v-if="photos.length">
      <li v-for="(p, n) in photos" :key="p.id">
        <ElButton text class="photo" data-test="photo" @click="show(p)">
          <img :src="`/api/photos/${p.id}.jpg?small=true`" :alt="p.note || `Photo ${n + 1}`" />
        </ElButton>
      </li>
    </ul>
    <ElDialog
      v-model="open"
      title="Photo"
      width="min(900px, 94vw)"
      append-to-body
      @close="keepNote"
    >
      <template v-if="shown">
        <img class="large" :src="`/api/photos/${shown.id}.jpg`" :alt="shown.note || 'Photo'" />
        <div class="about">
          <TextField v-model="note" label="What it shows" :most="500" />
          <ElButton data-test="photo-away" @click="away">Delete</ElButton>
        </div>
      </template>
    </ElDialog>
  </section>
</template>

<style scoped>
.photos {
  display: grid;
  gap: 6px;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
ul {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  margin: 0;
  padding: 0;
  list-style: none;
}
.photo.el-button {
  width: 88px;
  height: 66px;
  padding: 0;
}
.photo img {
  display: block;
  width: 88px;
  height: 66px;
  object-fit: cover;
  border-radius: 6px;
}
.large {
  display: block;
  max-width: 100%;
  max-height: 64vh;
  margin: 0 auto 12px;
  border-radius: 6px;
}
.about {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 12px;
  align-items: end;
}
</style>
