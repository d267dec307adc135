/**
 * What is looked at stands in the address: a change of step, a reload or a link sent to somebody brings it
 * back. Written a moment after the last change, so that typing and arrows stay quick.
 */
import { useCallback, useState } from "react";

const SOON = 200;
/** What belongs to the days of one week and means nothing in another. */
const OF_A_WEEK = [
  "tank",
  "person",
  "seat",
  "whole",
  "zoom",
  "day",
  "spot",
  "open",
  "job",
  "jobin",
  "from",
  "revision",
  "page",
];

const waiting = new Map<string, string | null>();
let timer: ReturnType<typeof setTimeout> | undefined;

/** Put what waits into the address at once. */
export function writeAddress(): void {
  clearTimeout(timer);
  if (!waiting.size) return;
  const query = new URLSearchParams(location.search);
  for (const [name, text] of waiting) {
    if (text) query.set(name, text);
    else query.delete(name);
  }
  waiting.clear();
  const text = query.toString();
  history.replaceState(history.state, "", location.pathname + (text ? `?${text}` : ""));
}

/** The address's part after the question mark, to go on with on another step. */
export function sameView(): string {
  writeAddress();
  return location.search;
}

/** The same for another week: without what belongs to days of this one, and with what is given. */
export function sameViewOfAnotherWeek(more: Record<string, string> = {}): string {
  writeAddress();
  const query = new URLSearchParams(location.search);
  for (const name of OF_A_WEEK) query.delete(name);
  for (const [name, text] of Object.entries(more)) query.set(name, text);
  const text = query.toString();
  return text ? `?${text}` : "";
}

function remember(name: string, text: string | null): void {
  waiting.set(name, text);
  clearTimeout(timer);
  timer = setTimeout(writeAddress, SOON);
}

function read(name: string): string | null {
  return waiting.has(name) ? waiting.get(name)! : new URLSearchParams(location.search).get(name);
}

/** State that stands in the address under a name; the fallback is not written. */
export function useKept(name: string, fallback = ""): [string, (value: string) => void] {
  const [value, setValue] = useState(() => read(name) ?? fallback);
  const set = useCallback(
    (next: string) => {
      setValue(next);
      remember(name, next === fallback ? null : next);
    },
    [name, fallback],
  );
  return [value, set];
}
