/** Job plans: one by its number, those that a form offers, what is done with them. */
import { useQuery, useQueryClient } from "@tanstack/react-query";

import { http, need, type Shapes } from "../../api/client";
import type { Cells } from "../orders/useOrders";
import type { Start } from "../orders/workForm";

export type Plan = Shapes["PlanDocument"];
export type PlanChoice = Shapes["PlanChoice"];

const at = (number: string) => ({ params: { path: { number } } });

export const planNow = (number: string) => need(http.GET("/api/plans/{number}", at(number)));
/** What a WO made of a plan says. */
export const copyOf = (number: string, site = "") =>
  need(http.GET("/api/plans/{number}/copy", { params: { path: { number }, query: { of_site: site } } }));

/** A plan as the form of a record with tasks has it. */
export const formOf = (plan: Plan): Start => ({
  order: plan.plan,
  tasks: plan.tasks,
  revision: plan.revision,
});

export function usePlan(number: string | null) {
  return useQuery({
    queryKey: ["plans", number],
    queryFn: () => planNow(number!),
    enabled: number !== null,
  });
}

/** Plans in force, those that apply to an asset first. */
export function usePlanChoices(asset: string): PlanChoice[] {
  return (
    useQuery({
      queryKey: ["plans", "choices", asset],
      queryFn: () => need(http.GET("/api/plans/choices", { params: { query: { asset } } })),
      staleTime: 60_000,
    }).data ?? []
  );
}

export function usePlanWrites() {
  const client = useQueryClient();
  /** Whatever came of it, all that is shown is as it is now. */
  const then = async <T>(work: Promise<T>): Promise<T> => {
    try {
      return await work;
    } finally {
      void client.invalidateQueries({ queryKey: ["plans"] });
      void client.invalidateQueries({ queryKey: ["list", "job plans"] });
    }
  };
  return {
    save: (plan: Cells, tasks: Cells[], revision: number | null) =>
      then(need(http.POST("/api/plans", { body: { plan, tasks, revision } }))).then((made) => made.number),
    move: (plan: Plan, to: string) =>
      then(
        need(
          http.POST("/api/plans/{number}/state", {
            ...at(plan.plan.number!),
            body: { to, revision: plan.revision },
          }),
        ),
      ),
    accept: (plan: Plan, tasks: string[]) =>
      then(
        need(
          http.POST("/api/plans/{number}/estimates", {
            ...at(plan.plan.number!),
            body: { tasks, revision: plan.revision },
          }),
        ),
      ),
    makeOf: (order: string, revision: number) =>
      then(need(http.POST("/api/orders/{number}/plan", { ...at(order), body: { revision } }))).then(
        (made) => made.number,
      ),
  };
}
