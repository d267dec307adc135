import { useQueryClient } from "@tanstack/react-query";
import { Button, Checkbox } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";

import { http, need, type Shapes } from "../../api/client";
import { keys } from "../../api/queries";
import { useRefusal } from "../../kit/useRefusal";
import { useWeek } from "../week/context";

type Check = Shapes["CheckLine"];

/** The checklist of a task: answered here; an answer out of limits offers to report it. */
export function Checks({ job, task, lines }: { job: Shapes["WholeJob"]; task: string; lines: Check[] }) {
  const { week, can } = useWeek();
  const client = useQueryClient();
  const refuse = useRefusal();
  const go = useNavigate();
  if (!lines.length) return null;
  const may = can("report") || can("plan") || can("edit");
  const answer = async (line: Check, said: string) => {
    try {
      await need(
        http.POST("/api/orders/{number}/tasks/{task}/answers", {
          params: { path: { number: job.number, task } },
          body: { answers: { [line.entry]: said } },
        }),
      );
    } catch (bad) {
      refuse("Not kept", bad);
    }
    void client.invalidateQueries({ queryKey: keys.week(week) });
  };
  return (
    <div role="group" aria-label={`To check in task ${task}`} className="checks">
      {lines.map((c) => (
        <div key={c.entry} className="row small">
          <span className="grow">
            {c.what} {c.limits && <span className="soft">{c.limits}</span>}
          </span>
          {may ? (
            <Answer check={c} answer={(said) => void answer(c, said)} />
          ) : (
            <span>{c.answer ?? "–"}</span>
          )}
          {c.within === false && (
            <>
              <span className="brick" title={`${c.by ?? ""}`}>
                × out
              </span>
              <Button
                size="small"
                type="link"
                onClick={() => void go(`/work/report?${toReport(job, task, c)}`)}
              >
                Report it
              </Button>
            </>
          )}
        </div>
      ))}
    </div>
  );
}

/** A request that says what was found, to be read over and sent. */
function toReport(job: Shapes["WholeJob"], task: string, c: Check): string {
  const unit = c.unit ? ` ${c.unit}` : "";
  return new URLSearchParams({
    asset: job.asset_key,
    title: `${c.what}: ${c.answer}${unit}`.slice(0, 200),
    description: `Found in ${job.number} task ${task}${c.limits && `; it should be ${c.limits}`}.`,
  }).toString();
}

/** A field for one answer; it is kept when it is left, or at once where it is ticked or chosen. */
function Answer({ check: c, answer }: { check: Check; answer: (said: string) => void }) {
  const [typed, setTyped] = useState(c.answer ?? "");
  const [kept, setKept] = useState(c.answer);
  if (kept !== c.answer) {
    setKept(c.answer); // it was answered, here or by somebody else
    setTyped(c.answer ?? "");
  }
  const label = c.what;
  if (c.kind === "tick")
    return (
      <Checkbox
        aria-label={label}
        checked={c.answer !== null}
        onChange={(e) => answer(e.target.checked ? "done" : "")}
      />
    );
  if (c.kind === "choice")
    return (
      <select
        className="plainselect"
        style={{ width: 120 }}
        aria-label={label}
        value={c.answer ?? ""}
        onChange={(e) => answer(e.target.value)}
      >
        <option value="">–</option>
        {c.choices.map((choice) => (
          <option key={choice}>{choice}</option>
        ))}
      </select>
    );
  return (
    <span className="row" style={{ gap: 4 }}>
      <input
        className="plainselect"
        style={{ width: c.kind === "number" ? 64 : 160 }}
        inputMode={c.kind === "number" ? "decimal" : undefined}
        aria-label={label}
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={() => typed !== (c.answer ?? "") && answer(typed)}
        onKeyDown={(e) => e.key === "Enter" && typed !== (c.answer ?? "") && answer(typed)}
      />
      <span className="soft">{c.unit}</span>
    </span>
  );
}
