const LETTERS = [
  ["plan", "P"],
  ["parts", "M"],
  ["people", "C"],
  ["window", "W"],
  ["permit", "L"],
] as const;
const MEANING: Record<string, string> = {
  plan: "plan",
  parts: "parts (material)",
  people: "people (crew)",
  window: "window",
  permit: "permit (licence to work)",
};

/** The five gates: letter on wash = open, struck out with an edge = shut. */
export function Gates({ shut }: { shut: string[] }) {
  const missing = shut.map((name) => MEANING[name] ?? name);
  const words = missing.length ? `waiting for ${missing.join(", ")}` : "ready: all gates open";
  return (
    <span className="gates" role="img" aria-label={words} title={words}>
      {LETTERS.map(([name, letter]) => (
        <i key={name} className={shut.includes(name) ? "shut" : ""}>
          {letter}
        </i>
      ))}
    </span>
  );
}

export function Priority({ value, must }: { value: number; must: boolean }) {
  return (
    <span className={`prio ${must ? "must" : ""}`} title={must ? "must be done this week" : "priority"}>
      {Math.round(value)}
      {must && (
        <span className="sr-only" style={{ fontSize: 0 }}>
          {" "}
          must
        </span>
      )}
    </span>
  );
}
