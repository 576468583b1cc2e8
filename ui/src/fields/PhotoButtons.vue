<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core';

import FileButton from './FileButton.vue';

/** A photo of the painter's: a file, and on a tablet or phone its camera at once. */
defineProps<{ label: string; name: string }>();
const emit = defineEmits<{ chosen: [file: File] }>();
const PHOTOS = 'image/jpeg,image/png,image/webp';
const touched = useMediaQuery('(pointer: coarse)');
</script>

<template>
  <FileButton
    v-if="touched"
    :accept="PHOTOS"
    label="Photograph"
    camera
    :data-test="`${name}-camera`"
    @chosen="(file: File) => emit('chosen', file)"
  />
  <FileButton
    :accept="PHOTOS"
    :label="label"
    :data-test="name"
    @chosen="(file: File) => emit('chosen', file)"
  />
</template>
