import type { components } from './schema';

type Problem = components['schemas']['Problem'];

/** A refused request, with the sentence the server gave. */
export class Refused extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly code: string,
  ) {
    super(message);
  }
}

const UNREACHABLE = 'Haze does not answer. Is it still running? Nothing was changed.';

export function unreachable(): Refused {
  return new Refused(UNREACHABLE, 0, 'unreachable');
}

export function refusal(status: number, body: unknown): Refused {
  const problem = (body ?? {}) as Partial<Problem>;
  return new Refused(
    problem.detail ?? `Haze refused this (${status}). Nothing was changed.`,
    status,
    problem.code ?? 'error',
  );
}
