<script setup lang="ts">
import BlobPicture from './BlobPicture.vue';

/** A picture as large as its column allows; until it is there, what it waits for. */
withDefaults(defineProps<{ picture?: Blob | null; alt: string; waiting?: string }>(), {
  picture: null,
  waiting: 'Working it out …',
});
</script>

<template>
  <div class="picture">
    <BlobPicture v-if="picture" :picture="picture" :alt="alt" />
    <span v-else class="small">{{ waiting }}</span>
  </div>
</template>

<style scoped>
.picture {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  place-items: center;
  height: min(300px, 33vh);
  background: var(--card);
}
img {
  max-width: 100%;
  max-height: min(300px, 33vh);
}
span {
  padding: 0 16px;
  color: var(--on-card);
}
</style>
