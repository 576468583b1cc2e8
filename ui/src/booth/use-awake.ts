import { useWakeLock } from '@vueuse/core';
import { onBeforeUnmount, onMounted } from 'vue';

/** The screen stays lit at the booth, where the browser can keep it so. */
export function useAwake(): void {
  const lock = useWakeLock();
  onMounted(() => {
    if (lock.isSupported.value) void lock.request('screen').catch(() => undefined);
  });
  onBeforeUnmount(() => {
    if (lock.isSupported.value) void lock.release().catch(() => undefined);
  });
}
