import { useQueryClient, type QueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';

/** What a tab hears of the service. */
export type Heard = { kind: 'open' } | { kind: 'lost' } | { kind: 'changes'; topics: string[] };

const LISTS_EVERY = 3_000;

/** Asks anew for whatever the service says has changed; returns whether the service is heard. */
export function useLiveChanges(signedIn: boolean): boolean {
  const queries = useQueryClient();
  const [heard, setHeard] = useState(true);
  useEffect(() => {
    if (!signedIn) {
      return undefined;
    }
    const follow = follower(queries);
    return listen((news) => {
      setHeard(news.kind !== 'lost');
      if (news.kind === 'open') {
        queries.invalidateQueries();
      } else if (news.kind === 'changes') {
        follow(news.topics);
      }
    });
  }, [queries, signedIn]);
  return heard;
}

/** The query of a topic: `run 12` is about one run, `runs` about the list. */
export function keyOf(topic: string): unknown[] {
  const [name, id] = topic.split(' ');
  return id === undefined ? [name] : [name, Number(id)];
}

/** Makes queries stale by topic; a list at most once in a while, and once more after the last. */
export function follower(queries: Pick<QueryClient, 'invalidateQueries'>, every = LISTS_EVERY) {
  const told = new Map<string, number>();
  const later = new Set<string>();
  const tell = (topic: string) => {
    told.set(topic, Date.now());
    queries.invalidateQueries({ queryKey: keyOf(topic) });
  };
  return (topics: string[]) =>
    topics.forEach((topic) => {
      const wait = topic.includes(' ') ? 0 : (told.get(topic) ?? 0) + every - Date.now();
      if (wait <= 0) {
        tell(topic);
      } else if (!later.has(topic)) {
        later.add(topic);
        setTimeout(() => {
          later.delete(topic);
          tell(topic);
        }, wait);
      }
    });
}

/** Hears the service through what all tabs share, where the browser has that; returns the end. */
function listen(hear: (heard: Heard) => void): () => void {
  if (typeof SharedWorker === 'undefined') {
    return listenAlone(hear);
  }
  const worker = new SharedWorker(new URL('./live.worker.ts', import.meta.url), {
    type: 'module',
    name: 'purser-live',
  });
  const leave = () => worker.port.postMessage('leave');
  worker.port.onmessage = (event: MessageEvent<Heard>) => hear(event.data);
  worker.port.postMessage('hear');
  window.addEventListener('pagehide', leave);
  return () => {
    window.removeEventListener('pagehide', leave);
    leave();
    worker.port.close();
  };
}

function listenAlone(hear: (heard: Heard) => void): () => void {
  const source = new EventSource('/api/v1/changes');
  const leave = () => source.close();
  source.onopen = () => hear({ kind: 'open' });
  source.onerror = () => hear({ kind: 'lost' });
  source.addEventListener('changes', (event) =>
    hear({ kind: 'changes', topics: JSON.parse((event as MessageEvent<string>).data).topics }),
  );
  window.addEventListener('pagehide', leave);
  return () => {
    window.removeEventListener('pagehide', leave);
    leave();
  };
}

let ahead = 0;

/** The service's clock is the one that counts: this browser's may be off. */
export function clockOf(now: string | undefined) {
  const difference = now ? Date.parse(now) - Date.now() : 0;
  ahead = Math.abs(difference) > 5_000 ? difference : 0;
}

function present(): number {
  return Date.now() + ahead;
}

/** The present of the service, to the second, for now-lines and ages. */
export function useNow(everyMillis = 1_000): number {
  const [now, setNow] = useState(present);
  useEffect(() => {
    const timer = setInterval(() => setNow(present()), everyMillis);
    return () => clearInterval(timer);
  }, [everyMillis]);
  return now;
}
