/** Work orders by hand. */
import { useQuery, useQueryClient } from "@tanstack/react-query";

import { http, need, type Shapes } from "../../api/client";
import { keys } from "../../api/queries";
import { noteUsed, usedFirst } from "./used";

export type Cells = Record<string, string>;

export function useChoices() {
  const found = useQuery({
    queryKey: ["orders", "choices"],
    queryFn: () => need(http.GET("/api/orders/choices")),
    staleTime: 60_000,
  }).data;
  return {
    tree: found?.assets ?? [],
    assets: usedFirst((found?.assets ?? []).map((a) => ({ value: a.key, label: `${a.name} · ${a.key}` }))),
    certificates: found?.certificates ?? [],
    /** Words that WOs use already. */
    used: {
      sub_kinds: found?.sub_kinds ?? [],
      departments: found?.departments ?? [],
      crews: found?.crews ?? [],
      contacts: found?.contacts ?? [],
      cost_accounts: found?.cost_accounts ?? [],
    },
    crafts: (found?.crafts ?? []).map((c) => ({ value: c.key, label: c.name })),
    /** What an hour of each craft costs, by its key. */
    rates: new Map((found?.crafts ?? []).map((c) => [c.key, c.rate])),
    currency: found?.currency ?? "",
    tools: found?.tools ?? [],
    permits: found?.permits ?? [],
    contracts: found?.contracts ?? [],
    people: found?.people ?? [],
  };
}

export function useOrder(number: string | null) {
  return useQuery({
    queryKey: ["orders", number],
    queryFn: () => need(http.GET("/api/orders/{number}", { params: { path: { number: number! } } })),
    enabled: number !== null,
    gcTime: 0,
    // A form that somebody fills in stays as it was opened; saving tells what others changed.
    staleTime: Infinity,
  });
}

export function useOrderWrites(week: string) {
  const client = useQueryClient();
  const after = () => {
    void client.invalidateQueries({ queryKey: keys.week(week) });
    void client.invalidateQueries({ queryKey: ["orders"] });
  };
  return {
    save: async (order: Cells, tasks: Cells[], revision: number | null) => {
      const made = await need(http.POST("/api/orders", { body: { order, tasks, revision } }));
      noteUsed(order.asset ?? "");
      after();
      return made.number;
    },
    /** The WO as it is now, whatever a form holds. */
    fresh: (number: string) => need(http.GET("/api/orders/{number}", { params: { path: { number } } })),
    move: async (number: string, to: string) => {
      await need(http.POST("/api/orders/{number}/state", { params: { path: { number } }, body: { to } }));
      after();
    },
    breakIn: async (form: Shapes["BreakInForm"]) => {
      const made = await need(
        http.POST("/api/weeks/{week}/break-ins", { params: { path: { week } }, body: form }),
      );
      noteUsed(form.asset);
      after();
      return made.number;
    },
  };
}
