const MARKS: Record<string, [string, string]> = {
  "being written": ["ochre", "◇"],
  "in force": ["verdigris", "✓"],
  retired: ["soft", "–"],
};

/** The state of a job plan, with a mark that does not hang on its colour. */
export function PlanState({ state }: { state: string }) {
  const [colour, mark] = MARKS[state] ?? ["soft", ""];
  return (
    <span className={colour}>
      {mark} {state}
    </span>
  );
}
