/** The one door to the server. Types come from the OpenAPI document. */
import createClient from "openapi-fetch";

import { somebodyIsHere } from "./active";
import { connection } from "./connection";
import { base, there } from "./site";
import type { components, paths } from "./schema";

export type Shapes = components["schemas"];
export type Overview = Shapes["Overview"];
export type AnyEdit = Shapes["EditForm"]["edit"];
export type Key = [string, string, number];

export const http = createClient<paths>({ baseUrl: base, headers: { "x-nundine": "1" } });
http.use({
  onRequest({ request }) {
    if (request.method !== "GET") refuseWhileLost();
    if (somebodyIsHere()) request.headers.set("x-nundine-active", "1");
  },
});

/** Nothing is sent into the dark: whoever edits without a connection is told so at once. */
function refuseWhileLost() {
  if (connection.lost())
    throw new Problem(
      0,
      "no connection",
      "There is no connection to Nundine, so nothing was changed. Repeat it when the connection is back.",
    );
}

/** A refusal of the server: what happened, why, what to do. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    text: string,
    readonly field = "",
    readonly facts: Record<string, unknown> = {},
  ) {
    super(text);
  }
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** Files go as a form of their own, which the generated client does not write. */
export async function sendFiles<T>(path: string, name: string, files: File[]): Promise<T> {
  refuseWhileLost();
  const body = new FormData();
  for (const f of files) body.append(name, f);
  const response = await fetch(there(path), { method: "POST", body, headers: { "x-nundine": "1" } }).catch(
    () => null,
  );
  if (response === null) throw offline();
  const document = (await response.json().catch(() => undefined)) as unknown;
  return need<T>(
    Promise.resolve(response.ok ? { data: document as T, response } : { error: document, response }),
  );
}

/** A file that the server makes, with the name it gives it. */
export async function getFile(path: string): Promise<{ name: string; data: Blob }> {
  const response = await fetch(there(path)).catch(() => null);
  if (response === null) throw offline();
  if (!response.ok)
    await need(
      Promise.resolve({ error: (await response.json().catch(() => undefined)) as unknown, response }),
    );
  const name = /filename\*=UTF-8''([^;]+)/.exec(response.headers.get("content-disposition") ?? "")?.[1];
  return { name: name ? decodeURIComponent(name) : path.split(/[/?]/).at(-1)!, data: await response.blob() };
}

function offline(): Problem {
  return new Problem(
    0,
    "offline",
    "Nundine does not answer. Check that it is running; your last edit may not have been saved.",
  );
}

/** The data of an answer, or a Problem. */
export async function need<T>(answer: Promise<Answer<T>>): Promise<T> {
  let got: Answer<T>;
  try {
    got = await answer;
  } catch (bad) {
    throw bad instanceof Problem ? bad : offline();
  }
  if (got.response.ok) return got.data as T;
  const problem = got.error as
    ({ code?: string; title?: string; field?: string } & Record<string, unknown>) | undefined;
  throw new Problem(
    got.response.status,
    problem?.code ?? "error",
    problem?.title ?? `The server answered ${got.response.status}. Try again.`,
    problem?.field,
    problem,
  );
}
