<script setup lang="ts">
import NumberField from './NumberField.vue';

/** Azimuth, elevation and a half angle, as every light, station and sector has them. */
defineProps<{
  azimuth: number;
  elevation: number;
  width: number;
  widthLabel: string;
  widthMax?: number;
}>();
const emit = defineEmits<{ set: [field: 'azimuth' | 'elevation' | 'width', value: number] }>();
</script>

<template>
  <NumberField
    label="Azimuth"
    unit="°"
    :min="-360"
    :max="360"
    :step="5"
    :digits="1"
    :model-value="azimuth"
    @update:model-value="emit('set', 'azimuth', $event)"
  />
  <NumberField
    label="Elevation"
    unit="°"
    :min="-90"
    :max="90"
    :step="5"
    :digits="1"
    :model-value="elevation"
    @update:model-value="emit('set', 'elevation', $event)"
  />
  <NumberField
    :label="widthLabel"
    unit="°"
    :min="2"
    :max="widthMax ?? 90"
    :step="2"
    :digits="1"
    :model-value="width"
    @update:model-value="emit('set', 'width', $event)"
  />
</template>
