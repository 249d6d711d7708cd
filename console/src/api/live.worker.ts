/// <reference lib="webworker" />
import type { Heard } from './live';

/**
 * One for all tabs of a browser: it holds the only connection for live changes, since HTTP/1.1
 * gives a browser six connections to a host and a seventh tab would wait for ever. It ends by
 * itself, and the connection with it, when the last tab has closed.
 */
const tabs = new Set<MessagePort>();
let source: EventSource | undefined;
let open = false;

function tell(heard: Heard) {
  tabs.forEach((tab) => tab.postMessage(heard));
}

function connect() {
  if (source && source.readyState !== EventSource.CLOSED) {
    return;
  }
  source = new EventSource('/api/v1/changes');
  source.onopen = () => {
    open = true;
    tell({ kind: 'open' });
  };
  source.onerror = () => {
    open = false;
    tell({ kind: 'lost' });
  };
  source.addEventListener('changes', (event) =>
    tell({ kind: 'changes', topics: JSON.parse((event as MessageEvent<string>).data).topics }),
  );
}

(self as unknown as SharedWorkerGlobalScope).onconnect = (event) => {
  const tab = event.ports[0] as MessagePort;
  tab.onmessage = (said: MessageEvent<'hear' | 'leave'>) => {
    if (said.data === 'leave') {
      tabs.delete(tab);
      if (tabs.size === 0) {
        source?.close();
        source = undefined;
        open = false;
      }
      return;
    }
    tabs.add(tab);
    connect();
    if (open) {
      tab.postMessage({ kind: 'open' });
    }
  };
};
