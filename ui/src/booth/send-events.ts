import { api, Refused, sentence, take, type BoothEvent } from '@/api/client';

import type { RefusedEvent } from './kept-events';

const MOST = 200;
/** Refusals that are not about an event: who asks, or the disk. They are tried again as they are. */
const NOT_ITS_OWN = ['unreachable', 'not_paired', 'host', 'origin', 'too_many_streams'];

export interface Sent {
  /** What the server has now, of these and of others. */
  arrived: BoothEvent[];
  /** Identities of those it has taken. */
  taken: string[];
  refused: RefusedEvent[];
  /** Why some were not sent; null when all were. */
  error: unknown;
}

/**
 * Send events; what the server refuses is found one by one, so that one it will never take keeps
 * none of the others waiting.
 */
export async function sendEvents(day: string, events: BoothEvent[], since: number): Promise<Sent> {
  const sent: Sent = { arrived: [], taken: [], refused: [], error: null };
  const batch = events.slice(0, MOST);
  const error = await tried(day, batch, since, sent);
  if (error === null || batch.length === 0 || !isAboutOne(error)) return { ...sent, error };
  for (const event of batch) {
    const own = batch.length === 1 ? error : await tried(day, [event], since, sent);
    if (own === null) continue;
    if (isAboutOne(own) && isFinal(own)) sent.refused.push({ event, why: sentence(own) });
    else sent.error = own;
  }
  return sent;
}

/** Send some at once, all of them or none; null when they have arrived. */
async function tried(
  day: string,
  events: BoothEvent[],
  since: number,
  sent: Sent,
): Promise<unknown> {
  try {
    const answer = await take(
      api.POST('/api/days/{day_id}/events', {
        params: { path: { day_id: day } },
        body: { events, since },
      }),
    );
    sent.arrived.push(...(answer.events as BoothEvent[]));
    sent.taken.push(...events.map((e) => e.id));
    return null;
  } catch (error) {
    return error;
  }
}

function isAboutOne(error: unknown): boolean {
  return (
    error instanceof Refused &&
    !NOT_ITS_OWN.includes(error.code) &&
    error.status !== 503 &&
    error.status !== 507
  );
}

/** Whether trying again can not help: a fault of the server may pass, a refusal does not. */
function isFinal(error: unknown): boolean {
  return error instanceof Refused && error.status >= 400 && error.status < 500;
}
