/** Entries of a checklist as they are typed, one a line, and how each is read. */

/** What an entry asks for, in words; null where it can not be read. */
export function asRead(line: string): { what: string; how: string } | null {
  const found = /^(.*?)\s*(?:\{([^{}]*)\}|\[([^[\]]*)\])?$/.exec(line.trim());
  const [, what, choices, limits] = found ?? [];
  if (!what || /[[\]{}]/.test(what)) return null;
  if (choices !== undefined) return chosen(what, choices);
  if (limits === undefined) return { what, how: "ticked" };
  if (limits.trim() === "text") return { what, how: "in words" };
  const number = /^([^\d.]*?)\s*(?:(-?\d+(?:\.\d+)?)?\.\.(-?\d+(?:\.\d+)?)?)?$/.exec(limits.trim());
  if (!number) return null;
  const [, unit = "", low, high] = number;
  const span = low && high ? `${low} to ${high}` : low ? `at least ${low}` : high ? `at most ${high}` : "";
  return { what, how: ["a number", [span, unit].filter(Boolean).join(" ")].filter(Boolean).join(", ") };
}

function chosen(what: string, choices: string): { what: string; how: string } | null {
  const words = choices
    .split(",")
    .map((c) => c.trim())
    .filter((c) => c.replace("!", "").trim());
  if (words.length < 2) return null;
  const name = (w: string) => w.replace(/^!/, "").trim();
  const bad = words.filter((w) => w.startsWith("!")).map(name);
  const told = words.map(name).join(" or ");
  return { what, how: bad.length ? `${told}; ${bad.join(", ")} out of limits` : told };
}
