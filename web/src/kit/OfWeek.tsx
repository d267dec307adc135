import { Button } from "antd";

import { weekBeside, weekName } from "./words";

/** The week that a list is of, and the ones beside it. */
export function OfWeek({ week, go }: { week: string; go: (week: string) => void }) {
  return (
    <span className="row" style={{ gap: 4 }}>
      <Button aria-label="The week before" onClick={() => go(weekBeside(week, -1))}>
        ‹
      </Button>
      <span className="strong">{weekName(week)}</span>
      <Button aria-label="The week after" onClick={() => go(weekBeside(week, 1))}>
        ›
      </Button>
    </span>
  );
}
