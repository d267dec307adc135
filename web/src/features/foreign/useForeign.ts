/** One export on its way in: opened, read again with each change of the mapping, compared, brought in. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { http, need, sendFiles, type Shapes } from "../../api/client";

export type Mapping = Shapes["MappingShape"];
export type Opened = Omit<Shapes["Opened"], "mapping"> & { mapping: Mapping };
export type Decision = Shapes["DecisionShape"];

export const START: Decision = {
  new: true,
  changed: true,
  both: "ours",
  vanished: "leave",
  fields: [],
  without_bad_rows: false,
};

/** Send a file to be looked at. */
export const open = (file: File) => sendFiles<Opened>("/api/foreign", "file", [file]);

/** A file that came in before, read as it was then. */
export const openAgain = async (file: number) =>
  (await need(http.GET("/api/foreign/{id_}/again", { params: { path: { id_: file } } }))) as Opened;

export function usePreview(id: number, mapping: Mapping) {
  return useQuery({
    queryKey: ["foreign", id, "preview", mapping],
    queryFn: () =>
      need(http.POST("/api/foreign/{id_}/preview", { params: { path: { id_: id } }, body: { mapping } })),
    placeholderData: (before) => before,
    retry: false,
  });
}

export function useDifference(id: number, mapping: Mapping, leaveOut: boolean) {
  return useQuery({
    queryKey: ["foreign", id, "difference", mapping, leaveOut],
    queryFn: () =>
      need(
        http.POST("/api/foreign/{id_}/difference", {
          params: { path: { id_: id } },
          body: { mapping, decision: { ...START, without_bad_rows: leaveOut } },
        }),
      ),
    retry: false,
  });
}

/** Bringing in: asked for, watched, stopped. */
export function useBringing(id: number) {
  const client = useQueryClient();
  const [asked, setAsked] = useState(false);
  const [refused, setRefused] = useState<string | null>(null);
  const path = { params: { path: { id_: id } } };
  const now = useQuery({
    queryKey: ["foreign", id, "standing"],
    queryFn: () => need(http.GET("/api/foreign/{id_}", path)),
    enabled: asked,
    refetchInterval: (query) =>
      query.state.data && ["waiting", "working"].includes(query.state.data.state) ? 400 : false,
  });
  const done = now.data?.state === "done";
  useEffect(() => {
    if (done) void client.invalidateQueries({ queryKey: ["week"] });
  }, [client, done]);
  const told = async (work: () => Promise<Shapes["FileStanding"]>) => {
    setRefused(null);
    try {
      client.setQueryData(["foreign", id, "standing"], await work());
      setAsked(true);
    } catch (bad) {
      setRefused((bad as Error).message);
    }
  };
  return {
    start: (mapping: Mapping, decision: Decision) =>
      told(() => need(http.POST("/api/foreign/{id_}/bring-in", { ...path, body: { mapping, decision } }))),
    stop: () => told(() => need(http.POST("/api/foreign/{id_}/stop", path))),
    now: asked ? now.data : undefined,
    wrong: refused ?? now.error?.message ?? null,
  };
}
