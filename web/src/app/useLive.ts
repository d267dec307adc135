/**
 * The stream of events of a screen: a week's, or signs of life alone. After a break all that is shown is
 * asked for anew.
 */
import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

import { keys } from "../api/queries";
import { listen, type Handlers } from "../api/connection";

/** `handlers` must stay the same from drawing to drawing. */
export function useLive(week: string | null, handlers: Handlers, wanted = true): void {
  const client = useQueryClient();
  useEffect(
    () =>
      !wanted
        ? undefined
        : listen(
            week,
            handlers,
            () => void client.invalidateQueries(),
            () => void client.invalidateQueries({ queryKey: keys.me }),
          ),
    [client, handlers, wanted, week],
  );
}
