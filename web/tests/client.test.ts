/** What the server refuses is told in its own words; silence is told as such. */
import { afterEach, describe, expect, it, vi } from "vitest";

import { need, Problem, sendFiles } from "../src/api/client";

const answer = (status: number) => ({ ok: status < 400, status }) as Response;
const refusal = async (work: Promise<unknown>) =>
  work.then(
    () => null,
    (bad: unknown) => bad as Problem,
  );

afterEach(() => vi.unstubAllGlobals());

describe("an answer of the server", () => {
  it("is its data", async () => {
    expect(await need(Promise.resolve({ data: { edits: 3 }, response: answer(200) }))).toEqual({ edits: 3 });
  });
  it("that refuses becomes a problem with its code, words and field", async () => {
    const bad = await refusal(
      need(
        Promise.resolve({
          error: { code: "stale", title: "Mila moved WO-2140 meanwhile.", field: "job" },
          response: answer(409),
        }),
      ),
    );
    expect(bad).toBeInstanceOf(Problem);
    expect([bad!.status, bad!.code, bad!.message, bad!.field]).toEqual([
      409,
      "stale",
      "Mila moved WO-2140 meanwhile.",
      "job",
    ]);
  });
  it("without a document still says what to do", async () => {
    const bad = await refusal(need(Promise.resolve({ error: undefined, response: answer(502) })));
    expect(bad!.message).toBe("The server answered 502. Try again.");
  });
  it("that never comes says that the last edit may not have been saved", async () => {
    const bad = await refusal(need(Promise.reject(new TypeError("Failed to fetch"))));
    expect([bad!.code, bad!.message]).toEqual([
      "offline",
      "Nundine does not answer. Check that it is running; your last edit may not have been saved.",
    ]);
  });
});

describe("files", () => {
  it("go as one form with the header that keeps other sites out", async () => {
    const fetched = vi.fn(async (path: string, init: RequestInit) => ({
      ...answer(200),
      json: async () => ({
        path,
        names: (init.body as FormData).getAll("files").map((f) => (f as File).name),
      }),
    }));
    vi.stubGlobal("fetch", fetched);
    const files = [new File(["a"], "orders.csv"), new File(["b"], "people.xlsx")];
    expect(await sendFiles("/api/import", "files", files)).toEqual({
      path: "/api/import",
      names: ["orders.csv", "people.xlsx"],
    });
    expect(fetched.mock.calls[0]![1].headers).toEqual({ "x-nundine": "1" });
  });
  it("that are refused tell why, and a server that is gone is told as such", async () => {
    vi.stubGlobal("fetch", async () => ({
      ...answer(413),
      json: async () => ({ code: "size", title: "The file has 31 MB; at most 20 MB are read." }),
    }));
    expect((await refusal(sendFiles("/api/import", "files", [])))!.message).toContain("at most 20 MB");
    vi.stubGlobal("fetch", async () => Promise.reject(new TypeError()));
    expect((await refusal(sendFiles("/api/import", "files", [])))!.code).toBe("offline");
  });
});
