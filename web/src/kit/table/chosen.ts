/** Rows that are chosen, over pages: one by one, in ranges, or all that a question shows. */
import { useCallback, useMemo, useState } from "react";

export interface Chosen {
  keys: ReadonlySet<string>;
  has: (key: string) => boolean;
  toggle: (key: string) => void;
  add: (keys: Iterable<string>) => void;
  clear: () => void;
}

export function useChosen(): Chosen {
  const [keys, setKeys] = useState<ReadonlySet<string>>(new Set());
  const toggle = useCallback((key: string) => {
    setKeys((before) => {
      const now = new Set(before);
      if (!now.delete(key)) now.add(key);
      return now;
    });
  }, []);
  const add = useCallback((more: Iterable<string>) => setKeys((before) => new Set([...before, ...more])), []);
  const clear = useCallback(() => setKeys((before) => (before.size ? new Set() : before)), []);
  return useMemo(
    () => ({ keys, has: (key: string) => keys.has(key), toggle, add, clear }),
    [keys, toggle, add, clear],
  );
}
