/**
 * Whether Nundine can be reached, for everybody who asks: told by the stream of events, which gives a sign of
 * life more than once a second.
 */
import { useSyncExternalStore } from "react";

import { there } from "./site";

/**
 * Milliseconds without a sign of life after which Nundine is asked whether it is there, and for its answer:
 * three seconds together.
 */
export const SILENCE = 1000;
const PATIENCE = 1100;
/** Milliseconds between two tries to have it back. */
export const AGAIN = 1000;

let lost = false;
const listeners = new Set<() => void>();

export const connection = {
  lost: () => lost,
  set(now: boolean) {
    if (now === lost) return;
    lost = now;
    for (const tell of listeners) tell();
  },
};

function subscribe(tell: () => void) {
  listeners.add(tell);
  return () => void listeners.delete(tell);
}

export function useLost(): boolean {
  return useSyncExternalStore(subscribe, connection.lost);
}

export type Handlers = Record<string, (event: MessageEvent<string>) => void>;

/**
 * Listen to a week, or to signs of life alone. `back` is called when the connection was lost and is there
 * again, `ended` when the session is over. Gives the function that ends it.
 */
export function listen(
  week: string | null,
  handlers: Handlers,
  back: () => void,
  ended: () => void,
): () => void {
  let source: EventSource | null = null;
  let heard = Date.now();
  let last = "";
  let over = false;
  let asking = false;
  let timer: ReturnType<typeof setTimeout> | undefined;

  const hear = (event: Event) => {
    heard = Date.now();
    if (event instanceof MessageEvent && event.lastEventId) last = event.lastEventId;
  };
  const alive = () => {
    if (!connection.lost()) return;
    connection.set(false);
    back();
  };
  const open = () => {
    const query = new URLSearchParams({
      ...(week ? { week } : {}),
      ...(week && last ? { after: last } : {}),
    });
    heard = Date.now();
    source = new EventSource(there(`/api/events?${query}`));
    source.onerror = lose;
    // only what came from the database counts: a server without it can change nothing
    source.addEventListener("beat", (event) => {
      hear(event);
      alive();
    });
    source.addEventListener("hello", hear);
    source.addEventListener("ended", () => {
      stop();
      ended();
    });
    for (const [kind, handle] of Object.entries(handlers))
      source.addEventListener(kind, (event: MessageEvent<string>) => {
        hear(event);
        handle(event);
      });
  };
  const lose = () => {
    source?.close();
    source = null;
    if (over) return;
    connection.set(true);
    clearTimeout(timer);
    timer = setTimeout(() => void again(), AGAIN);
  };
  const again = async () => {
    const answer = await fetch(there("/api/session"), { signal: AbortSignal.timeout(PATIENCE) }).catch(
      () => null,
    );
    if (over) return;
    const nobody = answer?.ok && (await answer.json().catch(() => undefined)) === null;
    if (over) return;
    if (nobody) {
      stop();
      ended();
    } else if (answer?.ok) open();
    else lose();
  };
  // signs of life may be late where much is going on: only who gives no answer either is lost
  const doubt = async () => {
    asking = true;
    const answer = await fetch("/api/health", { signal: AbortSignal.timeout(PATIENCE) }).catch(() => null);
    asking = false;
    if (over || !source) return;
    if (answer?.ok) heard = Date.now();
    else lose();
  };
  const watch = setInterval(() => {
    if (source && !asking && Date.now() - heard > SILENCE) void doubt();
  }, 200);
  const stop = () => {
    over = true;
    clearInterval(watch);
    clearTimeout(timer);
    source?.close();
    connection.set(false);
  };
  open();
  return stop;
}
