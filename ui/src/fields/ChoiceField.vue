<script setup lang="ts" generic="T extends string | number">
import { ElOption, ElOptionGroup, ElSelect } from 'element-plus';
import { computed, ref } from 'vue';

/** One of several, by its words; with a paint chip, a line of more words, in groups. */
export interface Choice<V extends string | number> {
  id: V;
  label: string;
  chip?: string;
  more?: string;
  group?: string;
  disabled?: boolean;
}
const props = withDefaults(
  defineProps<{
    label: string;
    modelValue: T | '';
    choices: Choice<T>[];
    hideLabel?: boolean;
    placeholder?: string;
    /** Words can be typed to find; from ten choices on. */
    typed?: boolean;
    disabled?: boolean;
  }>(),
  { hideLabel: false, placeholder: '', typed: undefined, disabled: false },
);
const emit = defineEmits<{ 'update:modelValue': [value: T] }>();
const MANY = 10;
const searched = computed(() => props.typed ?? props.choices.length >= MANY);
const chosen = computed(() => props.choices.find((c) => c.id === props.modelValue));
/** The others are drawn when a hand or the keyboard comes near: most fields are only read. */
const near = ref(false);
const groups = computed(() => {
  const found = new Map<string, Choice<T>[]>();
  const drawn = near.value ? props.choices : chosen.value ? [chosen.value] : [];
  for (const c of drawn) found.set(c.group ?? '', [...(found.get(c.group ?? '') ?? []), c]);
  return [...found];
});
</script>

<template>
  <div class="choice" @pointerenter="near = true" @focusin="near = true">
    <span v-if="!hideLabel" class="small" aria-hidden="true">{{ label }}</span>
    <ElSelect
      :model-value="modelValue === '' ? undefined : modelValue"
      :aria-label="label"
      :filterable="searched"
      :placeholder="placeholder || ' '"
      :disabled="disabled"
      fit-input-width
      @update:model-value="(v: T) => emit('update:modelValue', v)"
    >
      <template v-if="chosen?.chip" #prefix>
        <i class="chip" :style="{ background: chosen.chip }" />
      </template>
      <component
        :is="name ? ElOptionGroup : 'div'"
        v-for="[name, members] in groups"
        :key="name"
        :label="name"
      >
        <ElOption
          v-for="c in members"
          :key="c.id"
          :value="c.id"
          :label="c.label"
          :disabled="c.disabled"
        >
          <span class="option">
            <i v-if="c.chip" class="chip" :style="{ background: c.chip }" />
            <span
              >{{ c.label }}<small v-if="c.more"> {{ c.more }}</small></span
            >
          </span>
        </ElOption>
      </component>
    </ElSelect>
  </div>
</template>

<style scoped>
.choice {
  display: grid;
  gap: 2px;
  min-width: 0;
}
.option {
  display: flex;
  align-items: center;
  gap: 8px;
}
.chip {
  flex: none;
  width: 18px;
  height: 18px;
  border: 1px solid var(--outline);
  border-radius: 4px;
}
</style>
