import { useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";

import { useLive } from "../../app/useLive";

/** Asks these lists, and all that is known of parts, anew when others change a record. */
export function useListening(lists: string[]): void {
  const client = useQueryClient();
  useLive(
    null,
    useMemo(
      () => ({
        records: () => {
          void client.invalidateQueries({
            predicate: (q) => lists.some((name) => q.queryKey.includes(name)),
          });
          void client.invalidateQueries({ queryKey: ["parts"] });
        },
      }),
      [client, lists],
    ),
  );
}
