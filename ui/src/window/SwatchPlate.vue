<script setup lang="ts">
import BlobPicture from '@/displays/BlobPicture.vue';

import type { Swatch } from './swatch';

/** What this point would leave on card: one pass, a line, a burst, drawn before a drop is sprayed. */
defineProps<{ swatch: Swatch }>();
</script>

<template>
  <figure class="swatch">
    <figcaption>
      <b>It would look like this</b>
      <small>
        one pass · line at 15 mm · dot of 0.7 s{{ swatch.dark ? ' · on a dark card' : '' }}
      </small>
    </figcaption>
    <BlobPicture
      :picture="swatch.picture"
      data-test="swatch"
      alt="Simulated card at this setting: one pass, a line at 15 mm, a dot of 0.7 s"
    />
  </figure>
</template>

<style scoped>
.swatch {
  display: grid;
  gap: 6px;
  margin: 0;
}
figcaption {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  justify-content: space-between;
  gap: 2px 10px;
}
img {
  display: block;
  width: 100%;
  max-width: 430px;
  border-radius: 6px;
}
</style>
