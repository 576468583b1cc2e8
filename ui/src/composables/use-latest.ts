/** Runs a task for the newest input only: one at a time, what came between is skipped. */
export interface Latest<T> {
  push(input: T): void;
  /** Whether something newer than what runs is still to come. */
  waits(): boolean;
  stop(): void;
}

export function useLatest<T>(
  task: (input: T) => Promise<void>,
  failed: (error: unknown) => void,
): Latest<T> {
  let waiting: { input: T } | null = null;
  let busy = false;
  let stopped = false;

  async function run(): Promise<void> {
    busy = true;
    while (waiting && !stopped) {
      const { input } = waiting;
      waiting = null;
      try {
        await task(input);
      } catch (error) {
        failed(error);
      }
    }
    busy = false;
  }

  return {
    push(input: T): void {
      waiting = { input };
      if (!busy) void run();
    },
    waits: () => waiting !== null,
    stop(): void {
      stopped = true;
      waiting = null;
    },
  };
}
