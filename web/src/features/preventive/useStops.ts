/** Preventive work around a week and around a WO. */
import { useQuery, useQueryClient } from "@tanstack/react-query";

import { http, need, type Shapes } from "../../api/client";

/** What falls due until a day and is not raised. */
export function useComing(until: string, areas: string[]) {
  return useQuery({
    queryKey: ["preventive", "coming", until, areas],
    queryFn: () => need(http.GET("/api/preventive/coming", { params: { query: { until, areas } } })),
  });
}

/** Hours by craft that fall due from a day to another and are not raised. */
export function useHoursToCome(first: string, last: string, areas: string[]) {
  return useQuery({
    queryKey: ["preventive", "hours", first, last, areas],
    queryFn: () => need(http.GET("/api/preventive/hours", { params: { query: { first, last, areas } } })),
    staleTime: 60_000,
  });
}

/** What a WO is of preventive work, and what else falls due on its asset. */
export function useOneStop(number: string) {
  return useQuery({
    queryKey: ["preventive", "stop", number],
    queryFn: () => need(http.GET("/api/preventive/orders/{number}", { params: { path: { number } } })),
  });
}

export function usePutOff() {
  const client = useQueryClient();
  return async (body: Shapes["PutOff"]) => {
    await need(http.POST("/api/preventive/putting-off", { body }));
    for (const key of [["preventive"], ["list"], ["week"]]) void client.invalidateQueries({ queryKey: key });
  };
}
