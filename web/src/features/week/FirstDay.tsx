import { Button } from "antd";
import { useState } from "react";

import { useShortcuts } from "../../app/keys";
import { Day } from "../../kit/When";
import { dayLater, dayName, weekBeside } from "../../kit/words";
import { useWeek } from "./context";
import type { Step } from "./steps";

/** Steps whose boards can begin on any day. */
const BOARDS: Step[] = ["balance", "agree", "crew"];

interface Props {
  step: Step;
  from: string;
  keep: (day: string) => void;
  /** To a week that shows seven days from one of its own. */
  toDay: (week: string, day: string) => void;
}

/** The days that are shown, and the day on which they begin: typed, or a day earlier or later by key. */
export function FirstDay({ step, from, keep, toDay }: Props) {
  const { now, week, shown } = useWeek();
  const [typing, setTyping] = useState(false);
  const [typed, setTyped] = useState(from);
  const boards = BOARDS.includes(step);
  const begin = (day: string) => {
    setTyping(false);
    if (now.days.includes(day)) return keep(day === now.days[0] ? "" : day);
    const weeks = Math.floor((Date.parse(day) - Date.parse(now.days[0]!)) / (7 * 864e5));
    toDay(weekBeside(week, weeks), day);
  };
  useShortcuts(
    boards
      ? [
          { keys: ",", what: "Begin the board a day earlier", run: () => begin(dayLater(from, -1)) },
          { keys: ".", what: "Begin the board a day later", run: () => begin(dayLater(from, 1)) },
        ]
      : [],
  );
  const days = boards ? shown : now.days;
  const span = `${dayName(days[0]!).slice(4)} – ${dayName(days[6]!).slice(4)}`;
  return (
    <span
      className="soft row"
      style={{ flexShrink: 0, gap: 4 }}
      title={`${now.site}, ${dayName(days[0]!)} – ${dayName(days[6]!)}`}
      onKeyDown={(e) => {
        if (e.key !== "Escape" || !typing) return;
        e.stopPropagation();
        setTyping(false);
      }}
    >
      {!boards ? (
        span
      ) : typing ? (
        <form
          className="row"
          style={{ gap: 4 }}
          aria-label="First day"
          onSubmit={(e) => {
            e.preventDefault();
            begin(typed);
          }}
        >
          <Day bare first label="First day of the board" value={typed} change={setTyped} width={118} />
          <Button size="small" htmlType="submit">
            Show
          </Button>
        </form>
      ) : (
        <button
          className="plain underlined"
          title="Begin the board on another day: , and . step by days"
          onClick={() => {
            setTyped(from);
            setTyping(true);
          }}
        >
          {span}
        </button>
      )}
      · <span className="strong">{now.status}</span>
    </span>
  );
}
