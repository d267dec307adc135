/** Preventive plans: one by its number, what is done with them, and what they mean for coming weeks. */
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useDeferredValue } from "react";

import { http, need, type Shapes } from "../../api/client";
import type { Question } from "../../api/lists";
import type { Cells } from "../orders/useOrders";
import type { Start } from "../orders/workForm";
import { useRegister } from "./useMeters";

export type Preventive = Shapes["PreventiveDocument"];

const at = (number: string) => ({ params: { path: { number } } });

export const preventiveNow = (number: string) => need(http.GET("/api/preventive/plans/{number}", at(number)));

/** A plan as the form of a record has it. */
export const formOf = (plan: Preventive): Start => ({ order: plan.plan, tasks: [], revision: plan.revision });

/** A new plan after the pattern of one. */
export const anotherOf = (plan: Preventive): Start & { like: string } => ({
  order: { ...plan.plan, number: "", assets: "", state: "" },
  tasks: [],
  revision: null,
  like: plan.plan.number!,
});

export function usePreventive(number: string | null) {
  return useQuery({
    queryKey: ["preventive", number],
    queryFn: () => preventiveNow(number!),
    enabled: number !== null,
  });
}

/** What would fall due next by what the form says now; what can not be read yet draws nothing. */
export function useAhead(plan: Cells, started: string) {
  const settled = useDeferredValue(JSON.stringify({ plan, started: started || null }));
  return useQuery({
    queryKey: ["preventive", "ahead", settled],
    queryFn: () =>
      need(
        http.POST("/api/preventive/plans/ahead", {
          body: JSON.parse(settled) as { plan: Cells; started: string | null },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: 60_000,
  });
}

/** An occurrence, with what it shares with others of its service. */
export type ForecastLine = Omit<Shapes["Falls"], "service" | "work"> &
  Shapes["ForecastService"] &
  Shapes["ForecastWork"];

const LATER = { order: null, request: null, state: "to come", can_raise: false };

/** A forecast with one line an occurrence, by day. */
export function withLines({ services, works, falls, later, ...rest }: Shapes["Forecast"]) {
  const lines = falls.map(({ service, work, ...one }): ForecastLine => ({
    ...services[service]!,
    ...works[work]!,
    ...one,
  }));
  for (const { service, work, days } of later) {
    const shared = { ...services[service]!, ...works[work]!, ...LATER };
    for (const day of days) lines.push({ ...shared, day });
  }
  lines.sort((a, b) => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0));
  return { ...rest, lines };
}

/** What falls due; of a person what that person could take part in. */
export function useForecast(
  range: { first: string; days: number } | null,
  areas: string[],
  person: string | null,
  /** Of the hours that there are, so much may be preventive work. */
  share: number,
) {
  return useQuery({
    queryKey: ["preventive", "forecast", range, areas, person, share],
    queryFn: () =>
      need(
        http.GET("/api/preventive/forecast", {
          params: { query: { ...range!, areas, person: person ?? undefined, share } },
        }),
      ),
    enabled: range !== null,
    select: withLines,
    placeholderData: keepPreviousData,
  });
}

export function usePreventiveWrites() {
  const client = useQueryClient();
  /** Whatever came of it, all that is shown is as it is now. */
  const then = async <T>(work: Promise<T>): Promise<T> => {
    try {
      return await work;
    } finally {
      void client.invalidateQueries({ queryKey: ["preventive"] });
      void client.invalidateQueries({ queryKey: ["list", "services"] });
      void client.invalidateQueries({ queryKey: ["list", "falls due"] });
    }
  };
  return {
    save: (plan: Cells, started: string, revision: number | null, like: string | null) =>
      then(
        need(
          http.POST("/api/preventive/plans", { body: { plan, started: started || null, revision, like } }),
        ),
      ).then((made) => made.number),
    move: (plan: Preventive, to: string) =>
      then(
        need(
          http.POST("/api/preventive/plans/{number}/state", {
            ...at(plan.plan.number!),
            body: { to, revision: plan.revision },
          }),
        ),
      ),
    hold: (number: string, asset: string, held: boolean) =>
      then(
        need(http.POST("/api/preventive/plans/{number}/holding", { ...at(number), body: { asset, held } })),
      ),
    /** Of the services that a question to their list finds, or of all. */
    raiseDue: (shown: Question | null) =>
      then(need(http.POST("/api/preventive/raising", { body: { shown } }))),
    raisePicked: (picked: Shapes["PickedService"][]) =>
      then(need(http.POST("/api/preventive/raising/picked", { body: { picked } }))),
    actOnMany: (body: Shapes["ManyServices"]) => then(need(http.POST("/api/preventive/services", { body }))),
    shift: (shifts: Shapes["ServiceShift"][]) =>
      then(need(http.POST("/api/preventive/shifts", { body: { shifts } }))),
  };
}

/** The numbers of the WOs that are raised of services. */
export const ordersOf = (picked: Shapes["PickedService"][]) => () =>
  need(http.POST("/api/preventive/services/orders", { body: { picked } }));

/** The units that meters count, and the series of shutdowns that there are. */
export const useMeterUnits = () => useValues("meters", "unit");
export const useSeries = () => useValues("shutdowns", "series");

function useValues(name: "meters" | "shutdowns", column: string): string[] {
  const found = useRegister(name).data;
  return [...new Set(found?.rows.map((r) => r.cells[column]!).filter(Boolean))];
}
