import type { PaintOnShelf } from '@/api/client';

export const KINDS: [PaintOnShelf['kind'], string][] = [
  ['airbrush_acrylic', 'airbrush acrylic'],
  ['brush_acrylic', 'brush acrylic'],
  ['primer', 'primer'],
  ['white', 'white'],
  ['transparent', 'transparent'],
  ['ink', 'ink'],
  ['metallic', 'metallic'],
  ['varnish', 'varnish'],
  ['lacquer', 'lacquer'],
  ['enamel_wash', 'enamel wash'],
];
export const OPACITIES: [PaintOnShelf['opacity'], string][] = [
  ['opaque', 'opaque'],
  ['semi_opaque', 'semi-opaque'],
  ['semi_transparent', 'semi-transparent'],
  ['transparent', 'transparent'],
];
export const FINISHES: [NonNullable<PaintOnShelf['finish']>, string][] = [
  ['ultra_matt', 'ultra matt'],
  ['matt', 'matt'],
  ['satin', 'satin'],
  ['gloss', 'gloss'],
];

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
