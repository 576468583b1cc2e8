/** A server that answers from the test: what was asked is kept, answers can be held back. */
import type { Coat, HandStep, JobView, Plan, PlanView } from '@/api/client';

export interface Asked {
  method: string;
  path: string;
  body: unknown;
  /** The page that asks, as it names itself. */
  page: string | null;
}
export type Answer = { status?: number; body: unknown } | 'unreachable';
type Handler = (asked: Asked) => Answer | Promise<Answer>;

let handler: Handler = () => 'unreachable';
let seen: Asked[] = [];

/** Answer every request by the handler; returns the list of what was asked, as it grows. */
export function serve(by: Handler): Asked[] {
  handler = by;
  seen = [];
  return seen;
}

/** Stands in for `fetch`; set up before the client is made, which keeps the one it finds. */
export async function answer(input: RequestInfo | URL, init?: RequestInit): Promise<Response> {
  const request = input instanceof Request ? input : new Request(input, init);
  const text = await request.text();
  const asked = {
    method: request.method,
    path: new URL(request.url).pathname,
    body: text ? (JSON.parse(text) as unknown) : null,
    page: request.headers.get('X-Page'),
  };
  seen.push(asked);
  const given = await handler(asked);
  if (given === 'unreachable') throw new TypeError('network down');
  return new Response(JSON.stringify(given.body), {
    status: given.status ?? 200,
    headers: { 'Content-Type': 'application/json' },
  });
}

/** A promise that the test settles when it wants. */
export function held<T>(): { promise: Promise<T>; give: (value: T) => void } {
  let give: (value: T) => void = () => undefined;
  const promise = new Promise<T>((resolve) => (give = resolve));
  return { promise, give };
}

export function coat(id: string, name: string, task: Coat['task'] = 'cover'): Coat {
  return {
    id,
    name,
    kind: 'spray',
    task,
    off: false,
    paint: {
      id: `p-${id}`,
      name,
      kind: 'airbrush_acrylic',
      masstone: '#4b5a35',
      opacity: 'opaque',
      finish: 'satin',
    },
    thinner: { id: 't', name: 'water', kind: 'water' },
    spray: {
      thinner_parts: 1,
      trigger: 0.3,
      pressure_psi: 20,
      distance_mm: 75,
      speed_mm_s: 150,
    },
    stations: [
      { id: `${id}-1`, azimuth_deg: 0, elevation_deg: 30, passes: 2 },
      { id: `${id}-2`, azimuth_deg: 90, elevation_deg: 10, passes: 1 },
    ],
  } as Coat;
}

export function hand(id: string, role: HandStep['role'], paint = true): HandStep {
  return {
    id,
    name: role,
    kind: 'hand',
    role,
    off: false,
    paint: paint ? coat(id, 'Bilge Wash').paint : null,
  } as HandStep;
}

export function plan(...coats: Plan['coats']): Plan {
  return {
    name: 'Wardens',
    piece: { mesh: '0', name: 'Warden', height_mm: 46, copies: 6, surface: '#8d8e8c' },
    lights: [{ id: 'key', kind: 'key', name: 'Dawn', azimuth_deg: 45, elevation_deg: 55 }],
    coats,
  } as unknown as Plan;
}

export function view(of: Plan, version = 1, id = 'one'): PlanView {
  return {
    id,
    version,
    plan: of,
    what: `revision ${version}`,
    can_undo: version > 1,
    can_redo: false,
  } as PlanView;
}

export function job(state: JobView['state'], progress = 0, error: string | null = null): JobView {
  return { id: 'j1', state, progress, doing: 'Trying', error } as JobView;
}

/** Stands in for the browser's `EventSource`: the test says what comes and when it breaks off. */
export class Events {
  static opened: string[] = [];
  private static all: Events[] = [];
  onmessage: ((event: { data: string }) => void) | null = null;
  onerror: (() => void) | null = null;
  onopen: (() => void) | null = null;
  static readonly CLOSED = 2;
  readyState = 1;

  constructor(address: string) {
    Events.opened.push(address);
    Events.all.push(this);
  }
  close(): void {
    Events.all = Events.all.filter((e) => e !== this);
  }

  static get open(): number {
    return Events.all.length;
  }
  static reset(): void {
    Events.opened = [];
    Events.all = [];
  }
  static tell(...views: JobView[]): void {
    for (const view of views) Events.say(view);
  }
  static say(what: unknown): void {
    for (const one of Events.all) one.onmessage?.({ data: JSON.stringify(what) });
  }
  static begin(): void {
    for (const one of Events.all) one.onopen?.();
  }
  /** Refused for good: the browser does not try again. */
  static refuse(): void {
    for (const one of [...Events.all]) {
      one.readyState = Events.CLOSED;
      one.onerror?.();
    }
  }
  static breakOff(): void {
    for (const one of Events.all) one.onerror?.();
  }
}
