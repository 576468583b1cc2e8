<script setup lang="ts">
import type { BoothStep } from '@/api/client';
import HoldSketch from '@/plan/coats/HoldSketch.vue';

/** How the piece is held: sketches from above and from the side, and what spray reaches so. */
defineProps<{ step: BoothStep; picture: string | null }>();
</script>

<template>
  <figure class="hold">
    <div v-if="picture" class="seen">
      <img
        :src="picture"
        alt="The piece as the airbrush sees it; light where spray lands"
        data-test="hold-picture"
      />
      <figcaption>light: spray lands there</figcaption>
    </div>
    <HoldSketch
      v-if="step.hold"
      class="sketch"
      bare
      :azimuth="step.hold.azimuth_deg"
      :elevation="step.hold.elevation_deg"
      :words="step.hold.words"
    />
  </figure>
</template>

<style scoped>
.hold {
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
  gap: 8px;
  height: 100%;
  min-height: 0;
  margin: 0;
}
.seen {
  position: relative;
  min-height: 0;
}
img {
  width: 100%;
  height: 100%;
  min-height: 0;
  object-fit: contain;
  border-radius: var(--round);
  background: #838383;
}
.sketch {
  height: clamp(120px, 24vh, 196px);
}
@media (max-width: 900px) {
  .sketch {
    display: none;
  }
}
figcaption {
  position: absolute;
  left: 16px;
  bottom: 12px;
  font-size: 28px;
  line-height: 1.1;
  color: var(--on-card);
}
</style>
