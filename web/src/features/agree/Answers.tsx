import { Button, Input } from "antd";
import { useState } from "react";

import type { Key } from "../../api/client";
import { localDay, when } from "../../kit/words";
import { useWeek } from "../week/context";
import type { AgreeWindow, Spot } from "./drawing";
import { Hits, useHits } from "./WindowForm";

export function WindowPanel({
  window: w,
  change,
  gone,
}: {
  window: AgreeWindow;
  change: () => void;
  gone: () => void;
}) {
  const { week, now, answerWindow, changeWindow, can } = useWeek();
  const [asking, setAsking] = useState(false);
  const form = { asset: w.asset, kind: w.kind, was: w.start, start: null, end: null };
  const hits = useHits(week, form, asking);
  return (
    <section>
      <h1>{w.kind === "run" ? "Must run" : "Work window"}</h1>
      <p className="soft">{w.asset}, and all that is part of it</p>
      <p>{when(localDay(w.start, now.timezone), w.start, w.end, now.timezone)}</p>
      <Answer given={w} may={can("answer")} say={(said, remark) => void answerWindow(w, said, remark)} />
      {can("answer") && (
        <div className="row" style={{ marginTop: 12 }}>
          <Button size="small" onClick={change}>
            Change the hours
          </Button>
          {!asking && (
            <Button size="small" danger onClick={() => setAsking(true)}>
              Take it away
            </Button>
          )}
        </div>
      )}
      {asking && (
        <div style={{ marginTop: 8 }}>
          <Hits hits={hits} />
          <div className="row" style={{ marginTop: 6 }}>
            <Button
              size="small"
              danger
              type="primary"
              onClick={() => void changeWindow(form).then((ok) => ok && gone())}
            >
              Take it away
            </Button>
            <Button size="small" onClick={() => setAsking(false)}>
              Leave it
            </Button>
          </div>
        </div>
      )}
    </section>
  );
}

/** What operations said, and recording it. */
function Answer({
  given,
  may,
  say,
}: {
  given: { answer: string | null; answer_by: string | null; remark: string | null };
  may: boolean;
  say: (said: "agreed" | "refused" | null, remark: string) => void;
}) {
  const [remark, setRemark] = useState(given.remark ?? "");
  return (
    <>
      <p style={{ marginTop: 8 }}>
        Operations:{" "}
        <span className={`strong ${given.answer === "refused" ? "brick" : ""}`}>
          {given.answer ?? "not asked yet"}
        </span>
        {given.answer_by && <span className="soft"> · recorded by {given.answer_by}</span>}
      </p>
      {!may && given.remark && <p className="soft">“{given.remark}”</p>}
      {may && (
        <>
          <label style={{ display: "block", marginTop: 8 }}>
            Remark
            <Input.TextArea
              rows={2}
              maxLength={300}
              value={remark}
              onChange={(e) => setRemark(e.target.value)}
            />
          </label>
          <div className="row" style={{ marginTop: 8 }}>
            <Button size="small" type="primary" onClick={() => say("agreed", remark)}>
              Agreed
            </Button>
            <Button size="small" danger onClick={() => say("refused", remark)}>
              Refused
            </Button>
            {given.answer && (
              <Button size="small" onClick={() => say(null, "")}>
                Take back
              </Button>
            )}
          </div>
        </>
      )}
    </>
  );
}

export function SpotPanel({ spot }: { spot: Spot }) {
  const { now, answer, can, openJob } = useWeek();
  const key: Key = [spot.job, spot.task, spot.portion];
  return (
    <section>
      <h1>{spot.title}</h1>
      <p className="soft">
        {spot.job} task {spot.task} · asset {spot.asset_state === "any" ? "in any state" : spot.asset_state}
      </p>
      <p>{when(spot.day, spot.start, spot.end, now.timezone)}</p>
      {spot.conflict && <p className="brick">▲ outside what is allowed; see the conflicts</p>}
      <Answer given={spot} may={can("answer")} say={(said, remark) => void answer(key, said, remark)} />
      <Button size="small" type="link" style={{ padding: 0, marginTop: 8 }} onClick={() => openJob(spot.job)}>
        Open the job
      </Button>
    </section>
  );
}
