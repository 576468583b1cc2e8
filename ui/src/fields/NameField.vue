<script setup lang="ts">
import { ElInput } from 'element-plus';
import { ref, watch } from 'vue';

/** A name that is kept when left or confirmed; what is being typed is never overwritten. */
const props = defineProps<{ modelValue: string; label: string }>();
const emit = defineEmits<{ 'update:modelValue': [name: string]; focus: []; blur: [] }>();
const MOST = 120;
const text = ref(props.modelValue);
const typing = ref(false);

watch(
  () => props.modelValue,
  (now) => {
    if (!typing.value) text.value = now;
  },
);
function accept(): void {
  const name = text.value.trim().slice(0, MOST);
  text.value = name || props.modelValue;
  if (name && name !== props.modelValue) emit('update:modelValue', name);
}
function leave(): void {
  typing.value = false;
  text.value = text.value.trim() || props.modelValue;
  emit('blur');
}
</script>

<template>
  <ElInput
    v-model="text"
    :maxlength="MOST"
    :aria-label="label"
    @focus="((typing = true), emit('focus'))"
    @change="accept"
    @blur="leave"
  />
</template>
