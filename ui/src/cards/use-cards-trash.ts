import { computed, shallowRef, type ComputedRef, type Ref } from 'vue';

import { api, take, type TrashedPhoto } from '@/api/client';
import { useAttempt } from '@/composables/use-attempt';
import { when } from '@/displays/format';
import type { PutAway } from '@/displays/TrashDialog.vue';

/** A photo as it stands on a screen. */
export type Shown = Pick<TrashedPhoto, 'of' | 'id'>;

export interface CardsTrash {
  things: ComputedRef<PutAway[]>;
  busy: Ref<boolean>;
  /** What went wrong the last time, in a sentence. */
  problem: Ref<string>;
  load: () => Promise<void>;
  /** Puts a photo into the trash. */
  away: (photo: Shown) => Promise<void>;
  back: (id: string) => Promise<void>;
  empty: () => Promise<void>;
}

const PICTURES: Record<Shown['of'], string> = {
  card: '/api/cards/photos/',
  piece: '/api/piece-photos/',
};

/** Photos of cards and pieces that were put away; `changed` is called when one went or came. */
export function useCardsTrash(changed: () => Promise<void>): CardsTrash {
  const photos = shallowRef<TrashedPhoto[]>([]);
  const { problem, busy, attempt } = useAttempt();
  const move = ({ of, id }: Shown, trashed: boolean): Promise<void> =>
    attempt(async () => {
      const found = await take(api.POST('/api/cards/trash', { body: { of, id, trashed } }));
      photos.value = found.photos;
      await changed();
    });
  return {
    things: computed(() =>
      photos.value.map((p) => ({
        id: p.id,
        name: p.name,
        more: when(p.at),
        picture: `${PICTURES[p.of]}${p.id}.jpg`,
      })),
    ),
    busy,
    problem,
    load: () =>
      attempt(async () => {
        photos.value = (await take(api.GET('/api/cards/trash'))).photos;
      }),
    away: (photo) => move(photo, true),
    back: async (id) => {
      const photo = photos.value.find((p) => p.id === id);
      if (photo) await move(photo, false);
    },
    empty: () =>
      attempt(async () => {
        await take(api.DELETE('/api/cards/trash'));
        photos.value = [];
      }),
  };
}
