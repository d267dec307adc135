/** The one door to the server. Types come from the OpenAPI document. */
import createClient from "openapi-fetch";

import type { components, paths } from "./schema";

export type Shapes = components["schemas"];
export type Overview = Shapes["Overview"];
export type AnyEdit = Shapes["EditForm"]["edit"];
export type Key = [string, string, number];

export const http = createClient<paths>({ baseUrl: "", headers: { "x-nundine": "1" } });

/** A refusal of the server: what happened, why, what to do. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    text: string,
    readonly field = "",
  ) {
    super(text);
  }
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer, or a Problem. */
export async function need<T>(answer: Promise<Answer<T>>): Promise<T> {
  let got: Answer<T>;
  try {
    got = await answer;
  } catch {
    throw new Problem(0, "offline", "Nundine does not answer. Check that it is running; your last edit may not have been saved.");
  }
  if (got.response.ok) return got.data as T;
  const problem = got.error as { code?: string; title?: string; field?: string } | undefined;
  throw new Problem(got.response.status, problem?.code ?? "error", problem?.title ?? `The server answered ${got.response.status}. Try again.`, problem?.field);
}
