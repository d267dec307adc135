/** What of the set-up was changed and is not saved yet, line by line. */
import type { Shapes } from "../../api/client";
import { figure } from "../../kit/words";
import { KEPT, WEIGHTS } from "./parameters";
import { PRICES } from "./prices";

type Parameters = Shapes["Parameters"];

/** A thing that was changed; what it was and is, where that is one figure. */
export interface ChangedLine {
  name: string;
  was: string | null;
  is: string | null;
}

export function changedLines(was: Parameters, is: Parameters): ChangedLine[] {
  const out: ChangedLine[] = [];
  const compare = (name: string, a: number, b: number) => {
    if (a !== b) out.push({ name, was: figure(a), is: figure(b) });
  };
  const whole = (name: string, a: unknown, b: unknown) => {
    if (JSON.stringify(a) !== JSON.stringify(b)) out.push({ name, was: null, is: null });
  };
  compare("Seconds to search", was.seconds, is.seconds);
  for (const w of WEIGHTS) {
    const times = w.share ? 100 : 1;
    compare(w.label, times * was.weights[w.name], times * is.weights[w.name]);
  }
  for (const p of PRICES) compare(p.label, was.weights[p.name], is.weights[p.name]);
  whole("Ways between areas", was.ways, is.ways);
  is.crafts.forEach((c, n) =>
    compare(`Held back of ${c.name}, %`, 100 * (was.crafts[n]?.held_back ?? 0), 100 * c.held_back),
  );
  is.crafts.forEach((c, n) => compare(`An hour of ${c.name}`, was.crafts[n]?.rate ?? 0, c.rate));
  const [before, after] = [was.sheets_to.join(", "), is.sheets_to.join(", ")];
  if (before !== after) out.push({ name: "Preventive sheets go to", was: before, is: after });
  if (was.currency !== is.currency) out.push({ name: "Currency", was: was.currency, is: is.currency });
  whole("Approval of buying", was.approvals, is.approvals);
  whole("Why work is not done", was.reasons, is.reasons);
  for (const k of KEPT) compare(`${k.label} kept, days`, was.keep_days[k.name], is.keep_days[k.name]);
  return out;
}
