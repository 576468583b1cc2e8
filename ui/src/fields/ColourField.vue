<script setup lang="ts">
import { ElColorPicker, ElInput } from 'element-plus';
import { ref, useId, watch } from 'vue';

/** A colour typed as #rrggbb or picked; what is not a colour is told and not taken. */
const props = defineProps<{ label: string; modelValue: string; offered?: string[] }>();
const emit = defineEmits<{ 'update:modelValue': [value: string] }>();
const id = useId();
const text = ref(props.modelValue);
const wrong = ref('');
watch(
  () => props.modelValue,
  (now) => {
    text.value = now;
    wrong.value = '';
  },
);
function accept(): void {
  const typed = text.value.trim().toLowerCase();
  const full = typed.startsWith('#') ? typed : `#${typed}`;
  if (!/^#[0-9a-f]{6}$/.test(full)) {
    wrong.value = `${props.label} takes # and six digits 0 to 9, a to f, such as #7a8f5c.`;
    return;
  }
  wrong.value = '';
  text.value = full;
  if (full !== props.modelValue) emit('update:modelValue', full);
}
function pick(value: string | null): void {
  if (value) emit('update:modelValue', value.toLowerCase());
}
</script>

<template>
  <div class="colour">
    <label class="small" :for="id">{{ label }}</label>
    <span class="row">
      <ElColorPicker
        :model-value="modelValue"
        :aria-label="`${label}, picked`"
        :predefine="offered"
        @update:model-value="pick"
      />
      <ElInput
        :id="id"
        v-model="text"
        class="mono"
        :class="{ wrong }"
        maxlength="9"
        :aria-invalid="!!wrong"
        @change="accept"
        @keydown.enter.prevent="accept"
      />
    </span>
    <p v-if="wrong" class="small" role="alert">{{ wrong }}</p>
  </div>
</template>

<style scoped>
.colour {
  display: grid;
  gap: 2px;
  min-width: 0;
}
.row {
  display: flex;
  gap: 4px;
}
</style>
