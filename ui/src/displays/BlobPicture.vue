<script setup lang="ts">
import { useObjectUrl } from '@vueuse/core';
import { toRef } from 'vue';

/** A picture from the server or the painter, shown as long as it is here. */
const props = defineProps<{ picture: Blob; alt: string }>();
const address = useObjectUrl(toRef(props, 'picture'));
</script>

<template>
  <img v-if="address" :src="address" :alt="alt" />
</template>
