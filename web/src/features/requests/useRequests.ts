/** Work requests: one by its number, what is done with it, photos and files. */
import { useQuery, useQueryClient } from "@tanstack/react-query";

import { http, need, sendFiles, type Shapes } from "../../api/client";
import { noteUsed } from "../orders/used";
import type { Cells } from "../orders/useOrders";

export type Request = Shapes["RequestDocument"];
export type Urgency = Request["urgency"];
export const URGENCIES = ["now", "this week", "when it fits"];

export function useRequest(number: string | null) {
  return useQuery({
    queryKey: ["requests", number],
    queryFn: () => need(http.GET("/api/requests/{number}", { params: { path: { number: number! } } })),
    enabled: number !== null,
  });
}

const at = (number: string) => ({ params: { path: { number } } });

export function useRequestWrites() {
  const client = useQueryClient();
  const after = () => {
    void client.invalidateQueries({ queryKey: ["requests"] });
    void client.invalidateQueries({ queryKey: ["list", "requests"] });
  };
  /** Whatever came of it, all that is shown is as it is now. */
  const then = async <T>(work: Promise<T>): Promise<T> => {
    try {
      return await work;
    } finally {
      after();
    }
  };
  return {
    report: (form: Shapes["RequestForm"], files: File[]) =>
      then(
        need(http.POST("/api/requests", { body: form })).then(async ({ number }) => {
          noteUsed(form.asset ?? "");
          for (const f of files) await attachTo(number, f);
          return number;
        }),
      ),
    attach: (number: string, file: File) => then(attachTo(number, file)),
    say: (r: Request, text: string) =>
      then(
        need(
          http.POST("/api/requests/{number}/words", {
            ...at(r.number),
            body: { text, revision: r.revision },
          }),
        ),
      ),
    askBack: (r: Request, text: string) =>
      then(
        need(
          http.POST("/api/requests/{number}/question", {
            ...at(r.number),
            body: { text, revision: r.revision },
          }),
        ),
      ),
    decline: (r: Request, text: string) =>
      then(
        need(
          http.POST("/api/requests/{number}/declining", {
            ...at(r.number),
            body: { text, revision: r.revision },
          }),
        ),
      ),
    openAgain: (r: Request) =>
      then(
        need(
          http.POST("/api/requests/{number}/opening", { ...at(r.number), body: { revision: r.revision } }),
        ),
      ),
    join: (r: Request, order: string) =>
      then(
        need(
          http.POST("/api/requests/{number}/joining", {
            ...at(r.number),
            body: { order, revision: r.revision },
          }),
        ),
      ),
    makeOrder: (r: Request, order: Cells, tasks: Cells[]) =>
      then(
        need(
          http.POST("/api/requests/{number}/order", {
            ...at(r.number),
            body: { order, tasks, revision: r.revision },
          }),
        ),
      ),
  };
}

const attachTo = (number: string, file: File) =>
  sendFiles<Shapes["AttachedFile"][]>(`/api/requests/${number}/files`, "file", [file]);
