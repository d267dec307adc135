const MARKS: Record<string, [string, string]> = {
  "being written": ["ochre", "◇"],
  running: ["verdigris", "✓"],
  "on hold": ["ochre", "◆"],
  ended: ["soft", "–"],
};

/** The state of a preventive plan, with a mark that does not hang on its colour. */
export function PreventiveState({ state }: { state: string }) {
  const [colour, mark] = MARKS[state] ?? ["soft", ""];
  return (
    <span className={colour}>
      {mark} {state}
    </span>
  );
}
