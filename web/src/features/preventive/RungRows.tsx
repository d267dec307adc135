import { Button, Input } from "antd";
import { Fragment } from "react";

import { Choice } from "../../kit/Choice";
import { useCellRows } from "../../kit/useCellRows";
import { NEW_RUNG, rungsCell, rungsOf, UNITS } from "./rungs";
import { useMeterUnits, useSeries } from "./usePreventive";

const NOT = "not by date";

/**
 * How often: one row, or the rungs of a ladder, the lowest first; a higher takes in the lower ones that fall
 * together.
 */
export function RungRows({
  cell,
  change,
  wrong,
}: {
  cell: string;
  change: (cell: string) => void;
  wrong: boolean;
}) {
  const { rows, write, put, take } = useCellRows(cell, rungsOf, rungsCell, change);
  const units = useMeterUnits();
  const series = useSeries();
  const status = wrong ? "error" : undefined;
  return (
    <div role="group" aria-label="How often">
      <div className="rungline soft small" aria-hidden>
        <span>{rows.length > 1 ? "Rung, the lowest first" : "Name"}</span>
        <span>Every</span>
        <span />
        <span>On</span>
        <span />
      </div>
      {rows.map((r, n) => (
        <Fragment key={n}>
          <div className="rungline">
            <Input
              size="small"
              aria-label={`Name of rung ${n + 1}`}
              status={status}
              value={r.name}
              maxLength={40}
              onChange={(e) => put(n, { name: e.target.value.replace(/[:;/]/g, "") })}
            />
            <Input
              size="small"
              inputMode="numeric"
              aria-label={`Every, of rung ${n + 1}`}
              status={status}
              disabled={!r.unit}
              value={r.every}
              onChange={(e) => put(n, { every: e.target.value.replace(/\D/g, "").slice(0, 3) })}
              onFocus={(e) => e.target.select()}
            />
            <Choice
              hidden
              label={`Unit of rung ${n + 1}`}
              value={r.unit || NOT}
              change={(v) =>
                put(n, v === NOT ? { unit: "", every: "", on: "" } : { unit: v, every: r.every || "1" })
              }
              options={[
                ...UNITS.map((u) => ({ value: u, label: Number(r.every) > 1 ? `${u}s` : u })),
                ...(r.counted || r.series || !r.unit ? [{ value: NOT, label: NOT }] : []),
              ]}
            />
            <Input
              size="small"
              aria-label={`On which day, of rung ${n + 1}`}
              placeholder={r.unit === "week" ? "Mon, Thu" : r.unit === "day" ? "" : "day 15, day last"}
              disabled={r.unit === "day" || !r.unit}
              value={r.on}
              onChange={(e) => put(n, { on: e.target.value.replace(/[;:]/g, "") })}
            />
            <Button
              size="small"
              type="text"
              tabIndex={-1}
              aria-label={`Take rung ${n + 1} off`}
              disabled={rows.length === 1}
              onClick={() => take(n)}
            >
              ×
            </Button>
          </div>
          {r.counted && (
            <div className="rungor">
              <span className="soft small">{r.unit ? "or after" : "after"}</span>
              <Input
                size="small"
                inputMode="decimal"
                aria-label={`Count of rung ${n + 1}`}
                status={status}
                value={r.count}
                onChange={(e) => put(n, { count: e.target.value.replace(/[^\d.]/g, "").slice(0, 10) })}
              />
              <Choice
                hidden
                label={`What rung ${n + 1} counts`}
                value={r.counted}
                change={(v) => put(n, { counted: v })}
                options={[...new Set([...units, r.counted])]}
              />
              <Button
                size="small"
                type="text"
                aria-label={`Rung ${n + 1} by no meter`}
                onClick={() =>
                  put(n, {
                    counted: "",
                    count: "",
                    ...(r.unit || r.series ? {} : { unit: "month", every: "1" }),
                  })
                }
              >
                ×
              </Button>
            </div>
          )}
          {r.series && (
            <div className="rungor">
              <span className="soft small">
                {r.unit || r.counted ? "or with the shutdown" : "with the shutdown"}
              </span>
              <Choice
                hidden
                label={`Shutdown of rung ${n + 1}`}
                value={r.series}
                change={(v) => put(n, { series: v })}
                options={[...new Set([...series, r.series])]}
              />
              <Input
                size="small"
                inputMode="numeric"
                style={{ width: 58 }}
                aria-label={`Days from its first, of rung ${n + 1}`}
                placeholder="+0"
                value={r.offset}
                onChange={(e) => put(n, { offset: e.target.value.replace(/[^\d+-]/g, "").slice(0, 4) })}
              />
              <span className="soft small">days from its first</span>
              <Button
                size="small"
                type="text"
                aria-label={`Rung ${n + 1} with no shutdown`}
                onClick={() =>
                  put(n, {
                    series: "",
                    offset: "",
                    ...(r.unit || r.counted ? {} : { unit: "month", every: "1" }),
                  })
                }
              >
                ×
              </Button>
            </div>
          )}
          {(!r.counted || !r.series) && (
            <div className="rungmore">
              {!r.counted && units.length > 0 && (
                <Button
                  size="small"
                  type="link"
                  aria-label={`Rung ${n + 1} by a meter too`}
                  onClick={() => put(n, { counted: units[0]!, count: "500" })}
                >
                  by a meter too
                </Button>
              )}
              {!r.series && series.length > 0 && (
                <Button
                  size="small"
                  type="link"
                  aria-label={`Rung ${n + 1} with a shutdown too`}
                  onClick={() => put(n, { series: series[0]!, offset: "" })}
                >
                  with a shutdown too
                </Button>
              )}
            </div>
          )}
        </Fragment>
      ))}
      <Button size="small" type="link" className="morecraft" onClick={() => write([...rows, NEW_RUNG])}>
        A higher rung
      </Button>
    </div>
  );
}
