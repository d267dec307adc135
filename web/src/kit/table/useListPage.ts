/**
 * What a page that is one list keeps: which list, its columns, what is asked of it, what is chosen, what was
 * told of it.
 */
import { useCallback, useState } from "react";

import { useHead, type Sort, type Where } from "../../api/lists";
import { useChosen } from "./chosen";
import { useShown } from "./shown";

export interface Told {
  total: number;
  sums: Record<string, number>;
}

export function useListPage(where: Where, order: Sort[]) {
  const head = useHead(where);
  const state = useShown(head.data, order);
  const chosen = useChosen();
  const [told, setTold] = useState<Told | null>(null);
  const tell = useCallback((total: number, sums: Record<string, number>) => setTold({ total, sums }), []);
  return { where, head, state, chosen, told, tell };
}
