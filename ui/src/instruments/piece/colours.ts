import { takeAnswer } from '@/api/client';
import type { Pattern } from '@/craft.generated';

/** What the bytes hold behind three of colour a vertex: metal, gloss, then each texture. */
export interface Layout {
  metal: boolean;
  gloss: boolean;
  textures: {
    pattern: Pattern;
    size: number;
    long: number;
    soft: number;
    metal: number;
  }[];
}

export interface Colours {
  bytes: Uint8Array;
  layout: Layout;
}

/** A look of a plan as bytes a vertex, and what they hold; `body` as JSON. */
export async function takeColours(body: string, signal?: AbortSignal): Promise<Colours> {
  const answer = await takeAnswer('/api/colours', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body,
    ...(signal && { signal }),
  });
  const layout = JSON.parse(answer.headers.get('X-Layout')!) as Layout;
  return { bytes: new Uint8Array(await answer.arrayBuffer()), layout };
}
