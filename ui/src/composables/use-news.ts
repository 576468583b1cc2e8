import { onScopeDispose } from 'vue';

/** A plan has a new version; `by` is the page that made it. */
export interface PlanNews {
  plan: string;
  version: number;
  by: string;
}
/** A photo of a card came, went, or was agreed with; `by` is the page that did it. */
export interface CardNews {
  photo: string;
  by: string;
}
/** News by what it is of. */
interface Kinds {
  plan: PlanNews;
  photo: CardNews;
}
/** News, or that listening began again: what came before may have been missed. */
type Told = PlanNews | CardNews | 'again';

const NAME = 'haze-news';
const AGAIN_MS = 15_000;

/**
 * Hear at once what other pages change. The pages of one browser share one open request: one of
 * them listens and passes on what it hears, and when it closes the next takes over.
 */
export function useNews<K extends keyof Kinds>(
  kind: K,
  heard: (news: Kinds[K]) => void,
  again: () => void,
): void {
  const channel = new BroadcastChannel(NAME);
  const left = new AbortController();
  let source: EventSource | null = null;
  let timer = 0;

  function hear(told: Told): void {
    if (told === 'again') again();
    else if (kind in told) heard(told as Kinds[K]);
  }
  function pass(told: Told): void {
    channel.postMessage(told);
    hear(told);
  }
  function listen(): void {
    source = new EventSource('/api/news');
    source.onopen = () => pass('again');
    source.onmessage = (event: MessageEvent<string>) => pass(JSON.parse(event.data) as Told);
    source.onerror = () => {
      // the browser tries again by itself, unless it was refused
      if (source?.readyState === EventSource.CLOSED) timer = window.setTimeout(listen, AGAIN_MS);
    };
  }
  channel.onmessage = (event: MessageEvent<Told>) => hear(event.data);

  // locks exist on safe addresses only; without them each page listens for itself
  if (navigator.locks) {
    const gone = new Promise<void>((resolve) =>
      left.signal.addEventListener('abort', () => resolve()),
    );
    navigator.locks
      .request(NAME, { signal: left.signal }, () => {
        listen();
        return gone;
      })
      .catch(() => undefined);
  } else listen();

  onScopeDispose(() => {
    left.abort();
    window.clearTimeout(timer);
    source?.close();
    channel.close();
  });
}
