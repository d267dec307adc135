/** Parts: one by its key, what there is of storerooms, and what is done with them. */
import { useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useMemo } from "react";

import { http, need, sendFiles, type Shapes } from "../../api/client";
import type { Cells } from "../orders/useOrders";

export type PartNow = Shapes["PartDocument"];
export type Line = Shapes["PostingForm"];
export type Kept = "parts" | "storerooms";

export const partNow = (key: string) => need(http.GET("/api/parts/one/{key}", { params: { path: { key } } }));

export function usePart(key: string | null) {
  return useQuery({ queryKey: ["parts", "one", key], queryFn: () => partNow(key!), enabled: key !== null });
}

export function useKeptStorerooms() {
  return useQuery({
    queryKey: ["parts", "storerooms"],
    queryFn: () =>
      need(http.GET("/api/setup/registers/{name}", { params: { path: { name: "storerooms" } } })),
  });
}

/** Groups and makers that stand on parts. */
export function useWordsUsed(): Shapes["WordsUsed"] {
  const found = useQuery({ queryKey: ["parts", "words"], queryFn: () => need(http.GET("/api/parts/words")) });
  return found.data ?? { groups: [], makers: [] };
}

export function useAreas(): { value: string; label: string }[] {
  const found = useQuery({
    queryKey: ["parts", "areas"],
    queryFn: () => need(http.GET("/api/setup/registers/{name}", { params: { path: { name: "areas" } } })),
    staleTime: 60_000,
  }).data;
  return (found?.rows ?? []).map((r) => ({ value: r.cells.area!, label: r.cells.name! }));
}

export function useStorerooms(): { value: string; label: string }[] {
  const rows = useKeptStorerooms().data?.rows ?? [];
  return rows.map((r) => ({ value: r.cells.storeroom!, label: r.cells.name! }));
}

export const A_LINE: Line = {
  kind: "receipt",
  part: "",
  storeroom: "",
  quantity: 1,
  shelf: "",
  lot: "",
  reason: "",
  to_shelf: "",
};

export function usePartWrites() {
  const client = useQueryClient();
  return useMemo(() => partWrites(client), [client]);
}

function partWrites(client: QueryClient) {
  /** Whatever came of it, all that is shown is as it is now. */
  const then = async <T>(work: Promise<T>): Promise<T> => {
    try {
      return await work;
    } finally {
      for (const key of [
        ["parts"],
        ["list", "parts"],
        ["list", "movements"],
        ["list", "parts lists"],
        ["list", "picking"],
        ["list", "kits"],
        ["buying"],
      ])
        void client.invalidateQueries({ queryKey: key });
      void client.invalidateQueries({ predicate: (q) => q.queryKey.includes("picking") }); // of any week
    }
  };
  return {
    keep: (name: Kept, cells: Cells, revision: number | null) =>
      then(
        need(
          http.POST("/api/parts/registers/{name}", { params: { path: { name } }, body: { cells, revision } }),
        ),
      ),
    takeAway: (name: Kept, key: string, revision: number) =>
      then(
        need(
          http.POST("/api/parts/registers/{name}/removal", {
            params: { path: { name } },
            body: { key, revision },
          }),
        ),
      ),
    post: (lines: Line[]) => then(need(http.POST("/api/parts/movements", { body: { lines } }))),
    handOut: (picked: Shapes["PickedNeed"][]) =>
      then(need(http.POST("/api/parts/picking", { body: { picked } }))),
    setAside: (orders: string[], place: string) =>
      then(need(http.POST("/api/parts/kits", { body: { orders, place } }))),
    handOutKits: (orders: string[]) =>
      then(need(http.POST("/api/parts/kits/handing-out", { body: { orders } }))),
    putBack: (orders: string[]) =>
      then(need(http.POST("/api/parts/kits/putting-back", { body: { orders } }))),
    tellUsed: (used: Shapes["UsedForm"][]) =>
      then(
        need(
          http.POST("/api/parts/used", {
            body: {
              used: used.map(({ order, task, part, quantity }) => ({ order, task, part, quantity })),
            },
          }),
        ),
      ),
    putOnList: (body: Shapes["AssetPartForm"]) => then(need(http.POST("/api/parts/lists", { body }))),
    takeOffList: (body: Shapes["AssetPartKey"]) =>
      then(need(http.POST("/api/parts/lists/removal", { body }))),
    attach: (key: string, file: File) =>
      then(
        sendFiles<Shapes["AttachedFile"][]>(`/api/parts/one/${encodeURIComponent(key)}/files`, "file", [
          file,
        ]),
      ),
  };
}
