import { useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";

import { useLive } from "./useLive";

/** Asks what has one of these words in its key anew when others change a record; a constant list. */
export function useListening(words: readonly string[]): void {
  const client = useQueryClient();
  useLive(
    null,
    useMemo(
      () => ({
        records: () =>
          void client.invalidateQueries({ predicate: (q) => words.some((w) => q.queryKey.includes(w)) }),
      }),
      [client, words],
    ),
  );
}
