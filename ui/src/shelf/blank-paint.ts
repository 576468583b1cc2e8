import type { PaintOnShelf } from '@/api/client';

export function blankPaint(): PaintOnShelf {
  return {
    id: 'new',
    maker: '',
    range: '',
    name: '',
    kind: 'airbrush_acrylic',
    masstone: '#7a8f5c',
    opacity: 'opaque',
    finish: 'matt',
    drop_ul: 50,
    strength: 1,
    fluorescent: 0,
    swatches: null,
    ml_left: null,
  };
}
