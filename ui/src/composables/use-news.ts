import { onScopeDispose } from 'vue';

/** A plan has a new version; `by` is the page that made it. */
export interface PlanNews {
  plan: string;
  version: number;
  by: string;
}
/** News, or that listening began anew: what came before may have been missed. */
type Told = PlanNews | 'anew';

const NAME = 'haze-news';
const AGAIN_MS = 15_000;

/**
 * Hear at once what other pages change. The pages of one browser share one open request: one of
 * them listens and passes on what it hears, and when it closes the next takes over.
 */
export function useNews(heard: (news: PlanNews) => void, anew: () => void): void {
  const channel = new BroadcastChannel(NAME);
  const left = new AbortController();
  let source: EventSource | null = null;
  let timer = 0;

  function hear(told: Told): void {
    if (told === 'anew') anew();
    else heard(told);
  }
  function pass(told: Told): void {
    channel.postMessage(told);
    hear(told);
  }
  function listen(): void {
    source = new EventSource('/api/news');
    source.onopen = () => pass('anew');
    source.onmessage = (event: MessageEvent<string>) => pass(JSON.parse(event.data) as PlanNews);
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
