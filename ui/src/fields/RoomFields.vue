<script setup lang="ts">
import NumberField from '@/fields/NumberField.vue';

/** Temperature and humidity of a room. */
defineProps<{ room: { temperature_c: number; humidity_pct: number } }>();
const emit = defineEmits<{ change: [change: { temperature_c?: number; humidity_pct?: number }] }>();
</script>

<template>
  <div class="pair">
    <NumberField
      label="Temperature"
      unit="°C"
      :min="0"
      :max="45"
      :digits="1"
      :model-value="room.temperature_c"
      @update:model-value="emit('change', { temperature_c: $event })"
    />
    <NumberField
      label="Humidity"
      unit="% RH"
      :min="1"
      :max="99"
      :step="5"
      :model-value="room.humidity_pct"
      @update:model-value="emit('change', { humidity_pct: $event })"
    />
  </div>
</template>
