import { Refused, takeAnswer, type MixPart, type TurnedBody } from '@/api/client';

/** What a setting would leave on card, as a picture. */
export interface Swatch {
  picture: Blob;
  dark: boolean;
}

/** The picture of what a setting would leave on card; null for a clear coat. */
export async function takeSwatch(body: TurnedBody, parts: MixPart[]): Promise<Swatch | null> {
  const sharp = Math.min(window.devicePixelRatio || 1, 2);
  try {
    const answer = await takeAnswer('/api/swatch', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ ...body, parts, sharp }),
    });
    return { picture: await answer.blob(), dark: answer.headers.get('X-Card') === 'dark' };
  } catch (error) {
    if (error instanceof Refused && error.code === 'clear_swatch') return null;
    throw error;
  }
}
