/**
 * Entries of a checklist: `Seals tight`, `Noise {none, !loud}` (`!`: out of limits), `Remarks [text]`, `Oil
 * level [mm 12..18]`.
 */

export type Answer = "tick" | "choice" | "number" | "text";
export interface Entry {
  what: string;
  answer: Answer;
  /** As they are typed, `none, slight, loud`. */
  choices: string;
  /** Those of the choices that are out of limits. */
  bad: string[];
  unit: string;
  low: string;
  high: string;
}
export const NOTHING: Entry = { what: "", answer: "tick", choices: "", bad: [], unit: "", low: "", high: "" };

export const choicesOf = (typed: string): string[] =>
  typed
    .split(",")
    .map((c) => c.trim())
    .filter(Boolean);

export function entryOf(line: string): Entry {
  const found = /^(.*?)\s*(?:\{([^{}]*)\}|\[([^[\]]*)\])?$/.exec(line.trim());
  const [, what = "", choices, limits] = found ?? [];
  if (choices !== undefined) {
    const bad = choicesOf(choices).filter((c) => c.startsWith("!"));
    const named = (c: string) => c.replace(/^!/, "").trim();
    return {
      ...NOTHING,
      what,
      answer: "choice",
      choices: choicesOf(choices).map(named).join(", "),
      bad: bad.map(named),
    };
  }
  if (limits === undefined) return { ...NOTHING, what };
  if (limits.trim() === "text") return { ...NOTHING, what, answer: "text" };
  const number = /^([^\d.]*?)\s*(?:(-?\d+(?:\.\d+)?)?\.\.(-?\d+(?:\.\d+)?)?)?$/.exec(limits.trim());
  const [, unit = "", low = "", high = ""] = number ?? [];
  return { ...NOTHING, what, answer: "number", unit, low, high };
}

function lineOf(e: Entry): string {
  const what = e.what.trim();
  if (e.answer === "text") return `${what} [text]`;
  if (e.answer === "choice") {
    const marked = choicesOf(e.choices).map((c) => (e.bad.includes(c) ? `!${c}` : c));
    return `${what} {${marked.join(", ")}}`;
  }
  if (e.answer === "number") {
    const limits = e.low || e.high ? `${e.low}..${e.high}` : "";
    return `${what} [${[e.unit.trim(), limits].filter(Boolean).join(" ")}]`;
  }
  return what;
}

export const entriesOf = (cell: string): Entry[] =>
  cell
    .split(";")
    .filter((line) => line.trim())
    .map(entryOf);

export const checksCell = (entries: Entry[]): string =>
  entries
    .filter((e) => e.what.trim())
    .map(lineOf)
    .join("; ");

/** What an entry still lacks, in words; null: nothing. */
export function lacks(e: Entry): string | null {
  if (!e.what.trim()) return null;
  if (e.answer === "choice" && new Set(choicesOf(e.choices)).size < Math.max(2, choicesOf(e.choices).length))
    return "name at least two different choices, with commas between them";
  const [low, high] = [e.low, e.high].map((x) => (x === "" ? null : Number(x)));
  if (e.answer !== "number") return null;
  if (Number.isNaN(low) || Number.isNaN(high)) return "limits are numbers";
  return low != null && high != null && low > high ? "the lower limit lies above the upper one" : null;
}

/** What may be typed: the signs by which entries are told apart in a file become others. */
export const plain = (typed: string): string =>
  typed.replace(/;/g, ",").replace(/[[{]/g, "(").replace(/[\]}]/g, ")");
export const amount = (typed: string): string => typed.replace(",", ".").replace(/[^\d.-]/g, "");
export const unit = (typed: string): string => plain(typed).replace(/[\d.]/g, "");

/** Several lines at once, as they stand in a sheet or a text: an entry each. */
export const pasted = (text: string): Entry[] =>
  text
    .split(/\r?\n/)
    .map((line) => line.replace(/;/g, ",").trim())
    .filter(Boolean)
    .map(entryOf);
