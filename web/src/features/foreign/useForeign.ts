/** One export on its way in: opened, read again with each change of the mapping, compared, brought in. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { http, need, Problem, type Shapes } from "../../api/client";

export type Opened = Shapes["Opened"];
export type Mapping = Shapes["MappingShape"];
export type Decision = Shapes["DecisionShape"];

export const START: Decision = { new: true, changed: true, both: "ours", vanished: "leave", fields: [], without_bad_rows: false };

/** Send a file to be looked at. */
export async function open(file: File): Promise<Opened> {
  const body = new FormData();
  body.append("file", file);
  const answer = await fetch("/api/foreign", { method: "POST", body, headers: { "x-nundine": "1" } });
  const document = await answer.json();
  if (!answer.ok) throw new Problem(answer.status, document.code, document.title);
  return document as Opened;
}

export function usePreview(id: number, mapping: Mapping) {
  return useQuery({
    queryKey: ["foreign", id, "preview", mapping],
    queryFn: () => need(http.POST("/api/foreign/{id_}/preview", { params: { path: { id_: id } }, body: { mapping } })),
    placeholderData: (before) => before,
    retry: false,
  });
}

export function useDifference(id: number, mapping: Mapping, leaveOut: boolean) {
  return useQuery({
    queryKey: ["foreign", id, "difference", mapping, leaveOut],
    queryFn: () => need(http.POST("/api/foreign/{id_}/difference", { params: { path: { id_: id } }, body: { mapping, decision: { ...START, without_bad_rows: leaveOut } } })),
    retry: false,
  });
}

/** Bringing in: asked for, watched, stopped. */
export function useBringing(id: number) {
  const client = useQueryClient();
  const [asked, setAsked] = useState(false);
  const [wrong, setWrong] = useState<string | null>(null);
  const now = useQuery({
    queryKey: ["foreign", id, "standing"],
    queryFn: async () => {
      const got = await need(http.GET("/api/foreign/{id_}", { params: { path: { id_: id } } }));
      if (got.state === "done") void client.invalidateQueries({ queryKey: ["week"] });
      return got;
    },
    enabled: asked,
    refetchInterval: (query) => (query.state.data && ["waiting", "working"].includes(query.state.data.state) ? 400 : false),
  });
  const path = { params: { path: { id_: id } } };
  const start = async (mapping: Mapping, decision: Decision) => {
    setWrong(null);
    try {
      client.setQueryData(["foreign", id, "standing"], await need(http.POST("/api/foreign/{id_}/bring-in", { ...path, body: { mapping, decision } })));
      setAsked(true);
    } catch (bad) {
      setWrong((bad as Error).message);
    }
  };
  return { start, stop: () => need(http.POST("/api/foreign/{id_}/stop", path)), now: asked ? now.data : undefined, wrong };
}
