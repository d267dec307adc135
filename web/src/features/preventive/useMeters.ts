/** Meters and shutdowns: what there is, one by its key, and what is done with them. */
import { useQuery, useQueryClient } from "@tanstack/react-query";

import { http, need, type Shapes } from "../../api/client";
import type { Cells } from "../orders/useOrders";

export type Kept = "meters" | "shutdowns";
const at = (key: string) => ({ params: { path: { key } } });

/** The small list that planners keep. */
export function useRegister(name: Kept) {
  return useQuery({
    queryKey: ["preventive", "register", name],
    queryFn: () => need(http.GET("/api/setup/registers/{name}", { params: { path: { name } } })),
  });
}

export function useMeter(key: string | null) {
  return useQuery({
    queryKey: ["preventive", "meter", key],
    queryFn: () => need(http.GET("/api/preventive/meters/{key}", at(key!))),
    enabled: key !== null,
  });
}

export function useShutdowns() {
  return useQuery({
    queryKey: ["preventive", "shutdowns"],
    queryFn: () => need(http.GET("/api/preventive/shutdowns")),
  });
}

export function useShutdown(key: string | null) {
  return useQuery({
    queryKey: ["preventive", "shutdown", key],
    queryFn: () => need(http.GET("/api/preventive/shutdowns/{key}", at(key!))),
    enabled: key !== null,
  });
}

export function useMeterWrites() {
  const client = useQueryClient();
  /** Whatever came of it, all that is shown is as it is now. */
  const then = async <T>(work: Promise<T>): Promise<T> => {
    try {
      return await work;
    } finally {
      for (const key of [["preventive"], ["list", "meters"], ["list", "services"], ["orders"]])
        void client.invalidateQueries({ queryKey: key });
    }
  };
  return {
    keep: (name: Kept, cells: Cells, revision: number | null) =>
      then(
        need(
          http.POST("/api/preventive/registers/{name}", {
            params: { path: { name } },
            body: { cells, revision },
          }),
        ),
      ),
    takeAway: (name: Kept, key: string, revision: number) =>
      then(
        need(
          http.POST("/api/preventive/registers/{name}/removal", {
            params: { path: { name } },
            body: { key, revision },
          }),
        ),
      ),
    read: (readings: Shapes["ReadingForm"][]) =>
      then(need(http.POST("/api/preventive/readings", { body: { readings } }))),
    takeBack: (meter: string, day: string) =>
      then(need(http.POST("/api/preventive/readings/taking-back", { body: { meter, day } }))),
    move: (key: string, body: Shapes["ShutdownMove"]) =>
      body.trial
        ? need(http.POST("/api/preventive/shutdowns/{key}/moving", { ...at(key), body }))
        : then(need(http.POST("/api/preventive/shutdowns/{key}/moving", { ...at(key), body }))),
    raiseWith: (key: string) => then(need(http.POST("/api/preventive/shutdowns/{key}/raising", at(key)))),
  };
}
