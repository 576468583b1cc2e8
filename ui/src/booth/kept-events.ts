import type { BoothEvent } from '@/api/client';

/**
 * Events this browser holds until the server has them: one entry each, so that two tabs never
 * write over each other's.
 */
const PREFIX = 'haze-booth';

function keyOf(day: string, id: string): string {
  return `${PREFIX}:${day}:${id}`;
}

export function keep(day: string, event: BoothEvent): void {
  localStorage.setItem(keyOf(day, event.id), JSON.stringify(event));
}

export function letGo(day: string, ids: Iterable<string>): void {
  for (const id of ids) localStorage.removeItem(keyOf(day, id));
}

export function kept(day: string): BoothEvent[] {
  const found: BoothEvent[] = [];
  for (let i = 0; i < localStorage.length; i += 1) {
    const key = localStorage.key(i) ?? '';
    if (!key.startsWith(`${PREFIX}:${day}:`)) continue;
    try {
      found.push(JSON.parse(localStorage.getItem(key) ?? '') as BoothEvent);
    } catch {
      localStorage.removeItem(key);
    }
  }
  return found;
}

/** The event another tab has just kept for a day; null when the change was something else. */
export function heard(day: string, change: StorageEvent): BoothEvent | null {
  if (!change.key?.startsWith(`${PREFIX}:${day}:`) || !change.newValue) return null;
  return JSON.parse(change.newValue) as BoothEvent;
}

/** The booth as it was last seen, for when the server does not answer. */
export function rememberView(plan: string, view: unknown): void {
  try {
    localStorage.setItem(`${PREFIX}-view:${plan}`, JSON.stringify(view));
  } catch {
    // without room for it the booth needs the server to open, and works without it afterwards
  }
}

export function rememberedView<T>(plan: string): T | null {
  const text = localStorage.getItem(`${PREFIX}-view:${plan}`);
  return text ? (JSON.parse(text) as T) : null;
}
