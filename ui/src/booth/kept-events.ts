import type { BoothEvent } from '@/api/client';

/**
 * Events this browser holds until the server has them: in memory first, then in the browser's
 * storage as far as it goes, one entry each, so that two tabs never write over each other's.
 */
const PREFIX = 'haze-booth';
const REFUSED = 'haze-booth-refused';
const memory = new Map<string, BoothEvent>();

/** An event the server refused, and why. */
export interface RefusedEvent {
  event: BoothEvent;
  why: string;
}

function keyOf(day: string, id: string): string {
  return `${PREFIX}:${day}:${id}`;
}

/** Keep a text in the browser; false when it has no room, or keeps nothing. */
function store(key: string, text: string): boolean {
  try {
    localStorage.setItem(key, text);
    return true;
  } catch {
    return false;
  }
}

function remove(key: string): void {
  try {
    localStorage.removeItem(key);
  } catch {
    // a browser that keeps nothing has nothing to let go of
  }
}

/** What the browser keeps under keys that begin so; what cannot be read is let go. */
function stored<T>(prefix: string): Map<string, T> {
  const found = new Map<string, T>();
  try {
    for (let i = 0; i < localStorage.length; i += 1) {
      const key = localStorage.key(i) ?? '';
      if (!key.startsWith(prefix)) continue;
      const one = parsed<T>(localStorage.getItem(key));
      if (one) found.set(key, one);
    }
  } catch {
    // a browser that keeps nothing
  }
  return found;
}

function parsed<T>(text: string | null): T | null {
  try {
    const found: unknown = JSON.parse(text ?? '');
    return found && typeof found === 'object' ? (found as T) : null;
  } catch {
    return null;
  }
}

/** Keep an event; false when it is in memory only, and a reload would lose it. */
export function keep(day: string, event: BoothEvent): boolean {
  memory.set(keyOf(day, event.id), event);
  return store(keyOf(day, event.id), JSON.stringify(event));
}

export function letGo(day: string, ids: Iterable<string>): void {
  for (const id of ids) {
    memory.delete(keyOf(day, id));
    remove(keyOf(day, id));
  }
}

/** All events of a day that are held, the first pressed first. */
export function kept(day: string): BoothEvent[] {
  const prefix = `${PREFIX}:${day}:`;
  const found = stored<BoothEvent>(prefix);
  for (const [key, event] of memory) if (key.startsWith(prefix)) found.set(key, event);
  return [...found.values()].sort((a, b) => a.at.localeCompare(b.at));
}

/** Put an event the server refuses out of the way of the others, with its reason. */
export function setAside(day: string, refused: RefusedEvent): void {
  letGo(day, [refused.event.id]);
  store(`${REFUSED}:${day}:${refused.event.id}`, JSON.stringify(refused));
}

/** What was set aside and not dismissed yet. */
export function asideOf(day: string): RefusedEvent[] {
  return [...stored<RefusedEvent>(`${REFUSED}:${day}:`).values()];
}

export function dismiss(day: string, ids: Iterable<string>): void {
  for (const id of ids) remove(`${REFUSED}:${day}:${id}`);
}

/** The event another tab has just kept for a day; null when the change was something else. */
export function heard(day: string, change: StorageEvent): BoothEvent | null {
  if (!change.key?.startsWith(`${PREFIX}:${day}:`)) return null;
  return parsed<BoothEvent>(change.newValue);
}

/** The booth as it was last seen, for when the server does not answer. */
export function rememberView(plan: string, view: unknown): void {
  // without room for it the booth needs the server to open, and works without it afterwards
  store(`${PREFIX}-view:${plan}`, JSON.stringify(view));
}

export function rememberedView<T>(plan: string): T | null {
  try {
    return parsed<T>(localStorage.getItem(`${PREFIX}-view:${plan}`));
  } catch {
    return null;
  }
}
