/** Requests to buy and orders: one by its number, and what is done with them. */
import { useQuery, useQueryClient } from "@tanstack/react-query";

import { http, need, type Shapes } from "../../api/client";

export type BuyRequest = Shapes["BuyRequestDocument"];
export type Purchase = Shapes["PurchaseDocument"];
export type Wanted = Shapes["WantedForm"];
export const HEARD = ["buying", "to buy", "buy lines", "purchase lines", "parts", "picking", "movements"];

export function useBuyRequest(number: string | null) {
  return useQuery({
    queryKey: ["buying", "requests", number],
    queryFn: () => need(http.GET("/api/buying/requests/{number}", { params: { path: { number: number! } } })),
    enabled: Boolean(number),
  });
}

export function usePurchase(number: string | null) {
  return useQuery({
    queryKey: ["buying", "purchases", number],
    queryFn: () =>
      need(http.GET("/api/buying/purchases/{number}", { params: { path: { number: number! } } })),
    enabled: Boolean(number),
  });
}

/** What to pick, what came in and what is short today. */
export function useStorekeeperDay() {
  return useQuery({ queryKey: ["buying", "day"], queryFn: () => need(http.GET("/api/buying/day")) });
}

/** Orders that are being written, into which lines may go. */
export function useWritten(): Shapes["WrittenPurchase"][] {
  return (
    useQuery({ queryKey: ["buying", "written"], queryFn: () => need(http.GET("/api/buying/written")) })
      .data ?? []
  );
}

export function useSuppliers(): string[] {
  return (
    useQuery({ queryKey: ["buying", "suppliers"], queryFn: () => need(http.GET("/api/buying/suppliers")) })
      .data ?? []
  );
}

export function useBuyingWrites() {
  const client = useQueryClient();
  /** Whatever came of it, all that is shown is as it is now. */
  const then = async <T>(work: Promise<T>): Promise<T> => {
    try {
      return await work;
    } finally {
      void client.invalidateQueries({ predicate: (q) => HEARD.some((w) => q.queryKey.includes(w)) });
    }
  };
  const request = (number: string) => ({ params: { path: { number } } });
  return {
    ask: (lines: Wanted[], remark = "") =>
      then(need(http.POST("/api/buying/requests", { body: { lines, remark } }))),
    askForLacking: (parts: string[]) =>
      then(need(http.POST("/api/buying/requests/lacking", { body: { parts } }))),
    changeRequest: (number: string, body: Shapes["AskingAgain"]) =>
      then(need(http.PUT("/api/buying/requests/{number}", { ...request(number), body }))),
    moveRequest: (number: string, body: Shapes["RequestMove"]) =>
      then(need(http.POST("/api/buying/requests/{number}/state", { ...request(number), body }))),
    settle: (number: string, body: Shapes["Settling"]) =>
      then(need(http.POST("/api/buying/requests/{number}/settled", { ...request(number), body }))),
    order: (body: Shapes["Ordering"]) => then(need(http.POST("/api/buying/purchases/picked", { body }))),
    write: (body: Shapes["PurchaseForm"]) => then(need(http.POST("/api/buying/purchases", { body }))),
    changePurchase: (number: string, body: Shapes["PurchaseFormAgain"]) =>
      then(need(http.PUT("/api/buying/purchases/{number}", { ...request(number), body }))),
    movePurchase: (number: string, body: Shapes["PurchaseMove"]) =>
      then(need(http.POST("/api/buying/purchases/{number}/state", { ...request(number), body }))),
    promise: (number: string, body: Shapes["Promise"]) =>
      then(need(http.POST("/api/buying/purchases/{number}/promise", { ...request(number), body }))),
    takeOff: (number: string, body: Shapes["LineOff"]) =>
      then(need(http.POST("/api/buying/purchases/{number}/removal", { ...request(number), body }))),
    receive: (number: string, body: Shapes["Receiving"]) =>
      then(need(http.POST("/api/buying/purchases/{number}/received", { ...request(number), body }))),
    sendBack: (number: string, body: Shapes["SendingBack"]) =>
      then(need(http.POST("/api/buying/purchases/{number}/returned", { ...request(number), body }))),
  };
}

/** `RB-1001 / 10` as the request, or order, and its line. */
export function lineOf(key: string): { number: string; line: string } {
  const [number, line] = key.split(" / ");
  return { number: number!, line: line! };
}

export const wantedOf = (line: Shapes["BuyLineDocument"] | Shapes["PurchaseLineDocument"]): Wanted => ({
  line: line.line,
  part: line.part,
  words: line.part ? "" : line.name,
  quantity: line.quantity,
  price: line.price,
  storeroom: line.storeroom,
  order: line.order,
  day: line.day,
});
