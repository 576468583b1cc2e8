import { computed, type ComputedRef } from 'vue';

import type { KeyLight } from '@/api/client';
import type { SkyLight, SkySector } from '@/instruments/sky/SkyDisc.vue';
import { usePlan } from '@/stores/plan';

export interface Sky {
  suns: ComputedRef<SkyLight[]>;
  blocked: ComputedRef<SkySector[]>;
}

/** The open plan's key lights and blocked sectors, as the sky draws them. */
export function useSky(): Sky {
  const store = usePlan();
  const suns = computed(() =>
    (store.plan?.lights ?? [])
      .filter((l): l is KeyLight => l.kind === 'key')
      .map((l) => ({
        id: l.id!,
        azimuth: l.azimuth_deg!,
        elevation: l.elevation_deg!,
        softness: l.softness_deg!,
        colour: l.colour!,
        label: l.name!,
      })),
  );
  const blocked = computed(() =>
    (store.plan?.piece.blocked ?? []).map((s) => ({
      id: s.id,
      azimuth: s.azimuth_deg!,
      elevation: s.elevation_deg!,
      halfAngle: s.half_angle_deg!,
      label: s.name,
    })),
  );
  return { suns, blocked };
}
