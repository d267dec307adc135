/** A piece of background work that somebody waits for: asked for, watched until it has ended. */
import { http, need, type Shapes } from "./client";

type Run = Shapes["RunShape"];

export const GOING = ["waiting", "running"];
const LOOK = 300;

/** Waits for the end of a run; `tell` hears how it stands meanwhile. Throws what it failed of. */
export async function endOf(run: Run, tell: (now: Run) => void = () => undefined): Promise<Run> {
  let now = run;
  while (GOING.includes(now.state)) {
    tell(now);
    await new Promise((wake) => setTimeout(wake, LOOK));
    now = await need(http.GET("/api/runs/{run}", { params: { path: { run: run.id } } }));
  }
  if (now.state === "stopped") throw new Error("It was stopped; nothing was changed.");
  if (now.state === "failed") throw new Error(now.error ?? "It failed. Try again.");
  return now;
}

/** How far a run is, in a word. */
export function howFar(run: Run): string {
  if (run.state === "waiting") return run.waits_for ?? "waits for the worker";
  return run.share === null ? "under way" : `${Math.round(100 * run.share)} %`;
}
