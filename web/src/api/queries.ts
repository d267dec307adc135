/** A hook for each question asked of the server; all keys come from one place. */
import {
  keepPreviousData,
  useQuery,
  useQueryClient,
  type QueryClient,
  type Query,
} from "@tanstack/react-query";

import { useCallback } from "react";

import { http, need, type Key, type Shapes } from "./client";

export const keys = {
  me: ["me"] as const,
  week: (week: string) => ["week", week] as const,
  part: (week: string, ...part: unknown[]) => ["week", week, ...part] as const,
};

type Asked = NonNullable<import("./schema").paths["/api/weeks/{week}/backlog"]["get"]["parameters"]["query"]>;
export type BacklogAsked = Asked;

export function useMe() {
  return useQuery({
    queryKey: keys.me,
    queryFn: () => need(http.GET("/api/session")),
    retry: false,
    staleTime: Infinity,
  });
}

const overviewOf = (week: string) => ({
  queryKey: keys.part(week, "overview"),
  queryFn: () => need(http.GET("/api/weeks/{week}", { params: { path: { week } } })),
});

export function useOverview(week: string, wanted = true) {
  return useQuery({ ...overviewOf(week), enabled: wanted, placeholderData: keepPreviousData });
}

/** Ask for the week of the address while the scripts of its page are still coming. */
export function askAhead(client: QueryClient, week: string) {
  void client.prefetchQuery({ ...overviewOf(week), retry: false });
}

export function useBacklog(week: string, asked: Asked, wanted = true) {
  return useQuery({
    enabled: wanted,
    queryKey: keys.part(week, "backlog", asked),
    queryFn: () => need(http.GET("/api/weeks/{week}/backlog", { params: { path: { week }, query: asked } })),
    placeholderData: keepPreviousData,
  });
}

/** What is behind the figures of how the week can be worked. */
export function useLooseEnds(week: string) {
  return useQuery({
    queryKey: keys.part(week, "loose ends"),
    queryFn: () => need(http.GET("/api/weeks/{week}/loose-ends", { params: { path: { week } } })),
    placeholderData: keepPreviousData,
  });
}

/** What other prices of loose ends would bring; looked at again while it is being worked out. */
export function useTidiness(week: string) {
  return useQuery({
    queryKey: keys.part(week, "tidiness"),
    queryFn: () => need(http.GET("/api/weeks/{week}/tidiness", { params: { path: { week } } })),
    enabled: week !== "",
    refetchInterval: (q) => (q.state.data?.state === "running" ? 1000 : false),
  });
}

/** Counts and weeks of backlog, of some areas or of all. */
export function useSummary(week: string, areas: string[] = []) {
  return useQuery({
    queryKey: keys.part(week, "summary", ...areas),
    queryFn: () =>
      need(http.GET("/api/weeks/{week}/backlog/summary", { params: { path: { week }, query: { areas } } })),
    placeholderData: keepPreviousData,
  });
}

export function useJob(week: string, number: string | null) {
  return useQuery({
    queryKey: keys.part(week, "job", number),
    queryFn: () =>
      need(http.GET("/api/weeks/{week}/jobs/{number}", { params: { path: { week, number: number! } } })),
    enabled: number !== null,
  });
}

export function useWhy(week: string, number: string, wanted: boolean) {
  return useQuery({
    queryKey: keys.part(week, "why", number),
    queryFn: () =>
      need(http.GET("/api/weeks/{week}/jobs/{number}/why", { params: { path: { week, number } } })),
    enabled: wanted,
  });
}

/** The board of tanks for some areas; the board of all comes with the week itself. */
export function useTanks(week: string, areas: string[], wanted = true) {
  return useQuery({
    queryKey: keys.part(week, "tanks", ...areas),
    queryFn: () =>
      need(http.GET("/api/weeks/{week}/tanks", { params: { path: { week }, query: { areas } } })),
    enabled: wanted && areas.length > 0,
    placeholderData: keepPreviousData,
  });
}

export function useTank(week: string, craft: string, day: string, areas: string[] = []) {
  return useQuery({
    queryKey: keys.part(week, "tank", craft, day, ...areas),
    queryFn: () =>
      need(
        http.GET("/api/weeks/{week}/tanks/{craft}/{day}", {
          params: { path: { week, craft, day }, query: { areas } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

/** Load against availability by crew, or by person. */
export function useLoad(week: string, by: "crews" | "people", areas: string[], wanted: boolean) {
  return useQuery({
    queryKey: keys.part(week, "load", by, ...areas),
    queryFn: () =>
      need(http.GET(`/api/weeks/{week}/load/${by}`, { params: { path: { week }, query: { areas } } })),
    enabled: wanted,
    placeholderData: keepPreviousData,
  });
}

export function useAgree(week: string, wanted = true) {
  return useQuery({
    enabled: wanted,
    queryKey: keys.part(week, "agree"),
    queryFn: () => need(http.GET("/api/weeks/{week}/agree", { params: { path: { week } } })),
  });
}

export function useCrew(week: string, wanted = true) {
  return useQuery({
    enabled: wanted,
    queryKey: keys.part(week, "crew"),
    queryFn: () => need(http.GET("/api/weeks/{week}/crew", { params: { path: { week } } })),
  });
}

export function useCandidates(week: string, key: Key, seat: number) {
  const [job, task, portion] = key;
  return useQuery({
    queryKey: keys.part(week, "seat", job, task, portion, seat),
    queryFn: () =>
      need(
        http.GET("/api/weeks/{week}/seats/{job}/{task}/{portion}/{seat}", {
          params: { path: { week, job, task, portion, seat } },
        }),
      ),
  });
}

export function useReview(week: string) {
  return useQuery({
    queryKey: keys.part(week, "review"),
    queryFn: () => need(http.GET("/api/weeks/{week}/review", { params: { path: { week } } })),
  });
}

export function useCompliance(week: string, areas: string[] = []) {
  return useQuery({
    queryKey: keys.part(week, "compliance", ...areas),
    queryFn: () =>
      need(http.GET("/api/weeks/{week}/review/compliance", { params: { path: { week }, query: { areas } } })),
    placeholderData: keepPreviousData,
  });
}

export function useRevisions(week: string) {
  return useQuery({
    queryKey: keys.part(week, "revisions"),
    queryFn: () => need(http.GET("/api/weeks/{week}/revisions", { params: { path: { week } } })),
  });
}

export function useAsks(week: string) {
  return useQuery({
    queryKey: keys.part(week, "asks"),
    queryFn: () => need(http.GET("/api/weeks/{week}/asks", { params: { path: { week } } })),
    refetchInterval: (query) => (query.state.data?.state === "running" ? 1500 : false),
  });
}

export function useParameters() {
  return useQuery({ queryKey: ["parameters"], queryFn: () => need(http.GET("/api/setup")) });
}

export function useAccounts(wanted: boolean) {
  return useQuery({
    queryKey: ["accounts"],
    queryFn: () => need(http.GET("/api/accounts")),
    enabled: wanted,
  });
}

export function useLog(week: string) {
  return useQuery({
    queryKey: keys.part(week, "log"),
    queryFn: () => need(http.GET("/api/weeks/{week}/log", { params: { path: { week } } })),
  });
}

/** The newest build; live progress is put into the same place by the week's events. */
export function useBuild(week: string) {
  return useQuery({
    queryKey: keys.part(week, "build"),
    queryFn: async () =>
      (await need(http.GET("/api/weeks/{week}/builds/latest", { params: { path: { week } } }))) as
        Shapes["BuildShape"] | null,
    refetchInterval: (query) =>
      query.state.data && ["waiting", "running"].includes(query.state.data.state) ? 1000 : false,
  });
}

/** Ask again for all of a week but its overview, which each edit brings along. */
export function useRefresh() {
  const client = useQueryClient();
  return useCallback(
    async (week: string, all = false) => {
      const wanted = (q: Query) => all || (q.queryKey[2] !== "overview" && q.queryKey[2] !== "build");
      const queryKey = keys.week(week);
      // a first answer that is still on its way may be of before the change, and would be taken for good
      await client.cancelQueries({ queryKey, predicate: (q) => wanted(q) && q.state.data === undefined });
      await client.invalidateQueries({ queryKey, predicate: wanted });
    },
    [client],
  );
}
