<script setup lang="ts">
import { ElUpload, type UploadFile } from 'element-plus';
import { onMounted, ref } from 'vue';

/** Takes one file of the painter's; what is done with it is the caller's. */
const props = defineProps<{ accept: string; label: string; camera?: boolean }>();
const emit = defineEmits<{ chosen: [file: File] }>();
const button = ref<InstanceType<typeof ElUpload>>();
onMounted(() => {
  // a tablet opens the camera that looks away from the face
  const input = (button.value?.$el as HTMLElement).querySelector('input');
  if (props.camera) input?.setAttribute('capture', 'environment');
});
function take(file: UploadFile): void {
  if (file.raw) emit('chosen', file.raw);
}
</script>

<template>
  <ElUpload
    ref="button"
    action=""
    :accept="accept"
    :auto-upload="false"
    :show-file-list="false"
    :on-change="take"
  >
    <span class="el-button">{{ label }}</span>
  </ElUpload>
</template>
