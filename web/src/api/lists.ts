/** Lists: their columns and views, their rows in pages, groups, keys, and files of them. */
import {
  keepPreviousData,
  useQueries,
  useQuery,
  useQueryClient,
  type UseQueryResult,
} from "@tanstack/react-query";
import { useCallback, useMemo } from "react";

import { http, need, type Shapes } from "./client";
import { keys } from "./queries";

export type Column = Shapes["ListColumn"];
export type Head = Shapes["ListHead"];
export type ListRow = Shapes["ListRow"];
export type View = Shapes["ViewRow"];
export type Filter = { column: string; how: Shapes["FilterForm"]["how"]; values: string[] };
export type Sort = { column: string; down: boolean };
export interface Question {
  filters: Filter[];
  find: string;
  sort: Sort[];
  group: string | null;
}

/** Rows that are asked for at once. */
const PAGE = 100;
/** Rows out of sight whose page is asked for already, so that it is there before they come into it. */
const AHEAD = PAGE / 2;
const MOST = 500;

/** What a list is looked at from; lists of a week are asked again when it changes. */
export interface Where {
  list: string;
  week?: string;
  /** What the list is of where that is not the week alone: a revision, a run. */
  of?: string;
}

function keyOf({ list, week, of = "" }: Where, ...part: unknown[]) {
  return week ? keys.part(week, "list", list, of, ...part) : (["list", list, of, ...part] as const);
}

const address = ({ list, week, of }: Where, q: Question) => ({
  params: { path: { name: list }, query: { week, of, q: JSON.stringify(q) } },
});

export function useHead(where: Where) {
  return useQuery({
    queryKey: ["list", where.list, "head", where.of ?? ""],
    queryFn: () =>
      need(
        http.GET("/api/lists/{name}", {
          params: { path: { name: where.list }, query: { week: where.week, of: where.of } },
        }),
      ),
    staleTime: 60_000,
    placeholderData: keepPreviousData,
  });
}

const NOTHING = {};

export interface Rows {
  total: number;
  sums: Record<string, number>;
  rowAt: (n: number) => ListRow | undefined;
  error: Error | null;
  pending: boolean;
  /** What is shown is still the answer to the question before. */
  old: boolean;
}

/** The first and the last page of the rows in sight, of so many, and of those that come into it soon. */
export function pagesAround(top: number, bottom: number, total: number): [number, number] {
  const page = (n: number) => Math.floor(Math.min(Math.max(0, n), Math.max(0, total - 1)) / PAGE);
  return [page(top - AHEAD), page(bottom + AHEAD)];
}

/** The rows of these pages. */
export function useRows(where: Where, q: Question, firstPage = 0, lastPage = 0): Rows {
  const pages = useMemo(
    () => Array.from({ length: lastPage - firstPage + 1 }, (_, n) => firstPage + n),
    [firstPage, lastPage],
  );
  const first = useQuery({ ...pageOf(where, q, 0), placeholderData: keepPreviousData });
  const others = useQueries({
    queries: pages.filter((p) => p > 0).map((p) => pageOf(where, q, p)),
  }) as UseQueryResult<Shapes["Rows"]>[];
  const held = new Map<number, ListRow[]>();
  if (first.data) held.set(0, first.data.rows);
  for (const one of others) if (one.data) held.set(one.data.first / PAGE, one.data.rows);
  return {
    total: first.data?.counted?.total ?? 0,
    sums: first.data?.counted?.sums ?? NOTHING,
    rowAt: (n) => held.get(Math.floor(n / PAGE))?.[n % PAGE],
    error: first.error,
    pending: first.isPending,
    old: first.isPlaceholderData,
  };
}

function pageOf(where: Where, q: Question, page: number) {
  const { params } = address(where, q);
  return {
    queryKey: keyOf(where, "rows", q, page),
    queryFn: () =>
      need(
        http.GET("/api/lists/{name}/rows", {
          params: { ...params, query: { ...params.query, first: page * PAGE, size: PAGE } },
        }),
      ),
  };
}

export function useGroups(where: Where, q: Question) {
  return useQuery({
    queryKey: keyOf(where, "groups", q),
    queryFn: () => need(http.GET("/api/lists/{name}/groups", address(where, q))),
    enabled: q.group !== null,
    placeholderData: keepPreviousData,
  });
}

/** All rows that a question shows, in their order, asked for in large pages. */
export async function allRows(where: Where, q: Question, total: number): Promise<ListRow[]> {
  const { params } = address(where, q);
  const pages = Array.from({ length: Math.ceil(total / MOST) }, (_, n) =>
    need(
      http.GET("/api/lists/{name}/rows", {
        params: { ...params, query: { ...params.query, first: n * MOST, size: MOST } },
      }),
    ),
  );
  return (await Promise.all(pages)).flatMap((p) => p.rows);
}

/** Keys of everything that a question shows, to act on it. */
export function allKeys(where: Where, q: Question): Promise<string[]> {
  return need(http.GET("/api/lists/{name}/keys", address(where, q)));
}

export function makeFile(where: Where, q: Question, columns: string[], format: "csv" | "xlsx" | "pdf") {
  return need(
    http.POST("/api/lists/{name}/files", {
      params: { path: { name: where.list } },
      body: { week: where.week, of: where.of ?? "", question: q, columns, format },
    }),
  );
}

export type Hit = Shapes["Hit"];

/** Records by a word of their number or name. */
export function useFound(week: string, text: string, wanted: boolean) {
  return useQuery({
    queryKey: ["list", "found", week, text],
    queryFn: () => need(http.GET("/api/lists/found", { params: { query: { text, week } } })),
    enabled: wanted && text.trim().length > 1,
    placeholderData: keepPreviousData,
  });
}

/** Counts of the views that stand in the rail. */
export function usePinned(week: string | undefined) {
  return useQuery({
    queryKey: week ? keys.part(week, "pinned") : ["pinned"],
    queryFn: () => need(http.GET("/api/lists", { params: { query: { week } } })),
    placeholderData: keepPreviousData,
  });
}

type Kept = Omit<Shapes["ViewForm"], "revision">;

/** Making, changing, pinning and deleting views of a list; each gives the views as they are then. */
export function useViewEdits(list: string) {
  const client = useQueryClient();
  const told = useCallback(
    async (views: Promise<View[]>) => {
      const now = await views;
      client.setQueriesData<Head>(
        { queryKey: ["list", list, "head"] }, // of whatever it is
        (head) => head && { ...head, views: now },
      );
      void client.invalidateQueries({ predicate: (q) => q.queryKey.includes("pinned") });
      return now;
    },
    [client, list],
  );
  return useMemo(() => {
    const path = (key: string) => ({ path: { name: list, key } });
    return {
      make: (body: Kept) =>
        told(need(http.POST("/api/lists/{name}/views", { params: { path: { name: list } }, body }))),
      change: (view: View, body: Kept) =>
        told(
          need(
            http.PUT("/api/lists/{name}/views/{key}", {
              params: path(view.key),
              body: { ...body, revision: view.revision },
            }),
          ),
        ),
      pin: (view: View, on: boolean) =>
        told(need(http.PUT("/api/lists/{name}/views/{key}/pin", { params: path(view.key), body: { on } }))),
      remove: (view: View) =>
        told(need(http.DELETE("/api/lists/{name}/views/{key}", { params: path(view.key) }))),
    };
  }, [list, told]);
}
