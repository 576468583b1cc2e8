import { computed, shallowRef, watch, type ComputedRef, type Ref } from 'vue';
import { useThrottleFn } from '@vueuse/core';

import { api, take, type BoothStep, type DriftOut } from '@/api/client';
import { useDevices } from '@/stores/devices';

const ASKED_EVERY_MS = 1500;

/** Whether gauge and room are what the step's setting was made for, and what to change if not. */
export function useDrift(step: () => BoothStep | null): {
  told: Readonly<Ref<DriftOut | null>>;
  gauge: ComputedRef<number | null>;
  sagging: ComputedRef<boolean>;
} {
  const devices = useDevices();
  const told = shallowRef<DriftOut | null>(null);

  const ask = useThrottleFn(
    async () => {
      const one = step();
      if (!one?.through || !one.spray || !devices.now?.simulated) {
        told.value = null;
        return;
      }
      const found = await take(api.POST('/api/booth/drift', { body: one.through })).catch(
        () => null,
      );
      if (step()?.id === one.id) told.value = found;
    },
    ASKED_EVERY_MS,
    true,
  );
  watch([() => step()?.id, () => devices.now], () => void ask(), { immediate: true });

  const compressor = computed(() => devices.now?.compressor ?? null);
  return {
    told,
    gauge: computed(() => compressor.value?.line_psi ?? null),
    sagging: computed(() => compressor.value?.sags ?? false),
  };
}
