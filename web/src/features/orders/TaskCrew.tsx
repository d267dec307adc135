import { Button } from "antd";
import { Choice } from "../../kit/Choice";
import { Typed } from "../../kit/Typed";
import { useCellRows } from "../../kit/useCellRows";
import { Hours } from "../../kit/When";
import { count, money } from "../../kit/words";
import { needsCell, needsOf, NO_NEED } from "./crew";
import { costOf, peopleOf, workOf } from "./network";
import { useChoices, type Cells } from "./useOrders";

const LEVELS = [
  { value: "1", label: "any level" },
  { value: "2", label: "level 2 or 3" },
  { value: "3", label: "level 3" },
];

/** Who a task takes: so many of a craft, at a level, with a certificate. */
export function Crew({
  task: t,
  change,
  wrong,
  setHours,
}: {
  task: Cells;
  change: (cell: string) => void;
  wrong: boolean;
  setHours: (hours: string) => void;
}) {
  const { crafts, certificates } = useChoices();
  const { rows, write, put, take } = useCellRows(t.needs ?? "", needsOf, needsCell, change);
  const nth = (n: number) => (n ? ` ${n + 1}` : "");
  return (
    <div className="crewneeds">
      {rows.map((r, n) => (
        <div key={n} className="needline">
          <input
            className="plainselect"
            inputMode="numeric"
            aria-label={`People${nth(n)} of task ${t.task}`}
            aria-invalid={wrong}
            value={r.people}
            onChange={(e) => put(n, { people: e.target.value.replace(/\D/g, "").slice(0, 2) })}
            onFocus={(e) => e.target.select()}
          />
          <span aria-hidden>×</span>
          <Typed
            bare
            label={`Craft${nth(n)} of task ${t.task}`}
            options={crafts}
            value={r.craft || null}
            change={(v) => put(n, { craft: v ?? "" })}
            placeholder="which craft"
            autoFocus={n > 0 && !r.craft}
            wrong={wrong}
          />
          <Choice
            label={`Level${nth(n)} of task ${t.task}`}
            hidden
            value={r.level}
            change={(v) => put(n, { level: v })}
            options={LEVELS}
          />
          <Choice
            label={`Certificate${nth(n)} of task ${t.task}`}
            hidden
            value={r.certificate}
            change={(v) => put(n, { certificate: v })}
            options={[
              { value: "", label: "no certificate" },
              ...certificates.map((c) => ({ value: c, label: `with ${c}` })),
            ]}
          />
          <Button
            size="small"
            type="text"
            tabIndex={-1}
            aria-label={`Take craft${nth(n)} of task ${t.task} off`}
            disabled={rows.length === 1}
            onClick={() => take(n)}
          >
            ×
          </Button>
        </div>
      ))}
      <div className="row">
        <Button
          size="small"
          type="link"
          className="morecraft"
          disabled={rows.some((r) => !r.craft)}
          onClick={() => write([...rows, NO_NEED])}
        >
          One more craft
        </Button>
        <span className="grow" />
        {peopleOf(t) > 0 && <Work task={t} setHours={setHours} />}
      </div>
    </div>
  );
}

/** Work hours of a task: they follow from hours and people, and typed they say the hours. */
function Work({ task: t, setHours }: { task: Cells; setHours: (hours: string) => void }) {
  const { rates } = useChoices();
  const people = peopleOf(t);
  const cost = costOf(t, rates);
  const said = workOf(t);
  return (
    <label className="row small soft" style={{ gap: 4 }}>
      {cost > 0 && `${money(cost, "")} `}= work of {count(people, "person", "people")}
      <Hours
        bare
        empty
        width={58}
        label={`Work of task ${t.task}`}
        placeholder="h"
        value={said ? String(Math.round(said * 100) / 100) : ""}
        change={(v) => v && setHours(String(Math.round((Number(v) / people) * 10_000) / 10_000))}
      />
    </label>
  );
}
