import { Choice } from "../../kit/Choice";

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/** The months in which work may fall due; none marked means all. */
export function Season({
  cell,
  outside,
  change,
  setOutside,
}: {
  cell: string;
  outside: string;
  change: (cell: string) => void;
  setOutside: (outside: string) => void;
}) {
  const chosen = new Set(cell.split(";").map(Number).filter(Boolean));
  const toggle = (month: number) => {
    const now = new Set(chosen);
    if (!now.delete(month)) now.add(month);
    change([...now].sort((a, b) => a - b).join("; "));
  };
  return (
    <div className="row wrap season" role="group" aria-label="Season">
      <span className="small soft">{chosen.size ? "only in" : "in all months"}</span>
      {MONTHS.map((name, n) => (
        <button
          key={name}
          type="button"
          className={chosen.has(n + 1) ? "month on" : "month"}
          aria-pressed={chosen.has(n + 1)}
          onClick={() => toggle(n + 1)}
        >
          {name}
        </button>
      ))}
      {chosen.size > 0 && (
        <Choice
          label="What falls outside"
          hidden
          width={190}
          value={outside}
          change={setOutside}
          options={[
            { value: "skip", label: "outside: left out" },
            { value: "move", label: "outside: moves to the next" },
          ]}
        />
      )}
    </div>
  );
}
