import { useLocalStorage } from '@vueuse/core';
import type { Ref } from 'vue';

import type { PaintOnShelf } from '@/api/client';

export type Usual = Pick<PaintOnShelf, 'maker' | 'range' | 'kind' | 'drop_ul'>;

/** What the paint added last had in common with the next one, most likely. */
export function useUsual(): Ref<Usual> {
  return useLocalStorage<Usual>(
    'haze-usual-paint',
    { maker: '', range: '', kind: 'airbrush_acrylic', drop_ul: 50 },
    { mergeDefaults: true },
  );
}

export function blankPaint(usual: Usual): PaintOnShelf {
  return {
    id: 'new',
    ...usual,
    name: '',
    masstone: '#7a8f5c',
    opacity: 'opaque',
    finish: 'matt',
    strength: 1,
    fluorescent: 0,
    swatches: null,
    ml_left: null,
    colour_from: 'guessed',
  };
}

/** An id of something new on the shelf: its words, and the moment. */
export function freshId(...words: string[]): string {
  const stem = words
    .join('-')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-');
  return `${stem.slice(0, 40)}-${Date.now().toString(36)}`.replace(/^-+/, '');
}
