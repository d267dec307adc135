const MARKS: Record<string, [string, string]> = {
  new: ["ochre", "•"],
  "asked back": ["brick", "?"],
  "in work": ["verdigris", "◆"],
  declined: ["soft", "✕"],
  done: ["verdigris", "✓"],
};

/** The state of a request, with a mark that does not hang on its colour. */
export function State({ state }: { state: string }) {
  const [colour, mark] = MARKS[state] ?? ["soft", ""];
  return (
    <span className={colour}>
      {mark} {state}
    </span>
  );
}
