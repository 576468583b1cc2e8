<script setup lang="ts">
import { ElInput, type InputInstance } from 'element-plus';
import { ref, useId } from 'vue';

/** A line of text with its label above it, or its label as a name only. */
withDefaults(
  defineProps<{
    label: string;
    modelValue: string;
    hideLabel?: boolean;
    unit?: string;
    placeholder?: string;
    most?: number;
    required?: boolean;
    figures?: boolean;
  }>(),
  {
    hideLabel: false,
    unit: '',
    placeholder: undefined,
    most: 120,
    required: false,
    figures: false,
  },
);
const emit = defineEmits<{ 'update:modelValue': [text: string] }>();
const id = useId();
const box = ref<InputInstance>();
defineExpose({ focus: () => box.value?.focus() });
</script>

<template>
  <div class="text">
    <label v-if="!hideLabel" :for="id" class="small">{{ label }}</label>
    <ElInput
      :id="id"
      ref="box"
      :model-value="modelValue"
      :aria-label="hideLabel ? label : undefined"
      :placeholder="placeholder"
      :maxlength="most"
      :required="required"
      :inputmode="figures ? 'decimal' : undefined"
      autocomplete="off"
      @update:model-value="emit('update:modelValue', $event)"
    >
      <template v-if="unit" #suffix>{{ unit }}</template>
    </ElInput>
  </div>
</template>

<style scoped>
.text {
  display: grid;
  gap: 2px;
  min-width: 0;
}
</style>
