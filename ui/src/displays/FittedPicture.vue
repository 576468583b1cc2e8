<script setup lang="ts">
/** Holds a picture as large as there is room for; what lies over it is placed in shares of it. */
defineProps<{ ratio: number }>();
</script>

<template>
  <div class="plate">
    <div class="fit" :style="{ aspectRatio: ratio, '--ratio': ratio }"><slot /></div>
  </div>
</template>

<style scoped>
.plate {
  display: grid;
  place-items: center;
  min-height: 0;
  overflow: hidden;
  border-radius: 8px;
  background: var(--stand);
  container-type: size;
}
.fit {
  position: relative;
  width: min(100cqw, calc(100cqh * var(--ratio)));
}
.fit :deep(img),
.fit :deep(svg) {
  display: block;
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
</style>
