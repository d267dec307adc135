import { useQueryClient } from "@tanstack/react-query";
import { Alert, Button, Spin } from "antd";

import { http, need, type Shapes } from "../../api/client";
import { keys, useAsks } from "../../api/queries";
import { count, letsIn } from "../../kit/words";
import { useRefusal } from "../../kit/useRefusal";
import { useWeek } from "../week/context";

const KINDS: Record<string, string> = {
  window: "window",
  hours: "hours",
  part: "parts",
  tool: "tool",
  "put back": "back in service",
  lent: "person",
};

/** What to ask others for, ranked by the work that each would let in. */
export function AsksPanel() {
  const { week, now, can } = useWeek();
  const asks = useAsks(week).data;
  const client = useQueryClient();
  const refuse = useRefusal();
  const work = async () => {
    try {
      client.setQueryData(
        keys.part(week, "asks"),
        await need(http.POST("/api/weeks/{week}/asks", { params: { path: { week } } })),
      );
    } catch (bad) {
      refuse("Nothing was changed", bad);
    }
  };
  if (!asks)
    return (
      <section>
        <h2>Asks</h2>
        <Spin size="small" />
      </section>
    );
  const running = asks.state === "running";
  return (
    <section aria-label="Asks">
      <h2>Asks</h2>
      {asks.state === "none" && (
        <p className="soft">
          What one more window, some overtime, a part sooner, one more tool, an asset put back between tasks
          or a person lent for a shift would let in. Each is tried by building again beside those before it,
          so that they add up; what lets in the same work stands together.
        </p>
      )}
      {asks.error && <Alert type="error" title="The asks could not be worked out" description={asks.error} />}
      {asks.state === "ready" && asks.asks.length === 0 && (
        <p className="soft">No single change would let more work in.</p>
      )}
      {asks.state === "ready" && !asks.current && (
        <p className="ochre small">◆ The week has changed since; these are of before.</p>
      )}
      {!running && asks.asks.map((a, n) => <Ask key={a.text} ask={a} first={n === 0} />)}
      {running && (
        <p className="soft">
          <Spin size="small" /> Trying changes, then building again with the best …
        </p>
      )}
      {can("edit") && (
        <Button
          size="small"
          style={{ marginTop: 8 }}
          disabled={running || now.jobs_placed === 0}
          onClick={() => void work()}
        >
          {asks.state === "none" ? "Work out the asks" : "Work them out again"}
        </Button>
      )}
    </section>
  );
}

function Ask({ ask, first }: { ask: Shapes["AskRow"]; first: boolean }) {
  const { openJob } = useWeek();
  return (
    <div className="item">
      <p>
        <span className="soft small">{KINDS[ask.code]} · </span>
        <span className="strong">{ask.text}</span>
      </p>
      <p className="small">
        {first ? "" : "then "}
        {letsIn(ask.hours, ask.value)}{" "}
        <span className="soft">
          · {ask.confirmed ? "confirmed by building again" : "tried by putting jobs in"}
        </span>
      </p>
      <p className="small soft">
        {ask.jobs.length === 0 ? (
          "by making room for better places"
        ) : (
          <>
            {count(ask.jobs.length, "job")}:{" "}
            {ask.jobs.slice(0, 6).map((j) => (
              <button
                key={j}
                className="plain verdigris"
                style={{ marginRight: 6 }}
                onClick={() => openJob(j)}
              >
                {j}
              </button>
            ))}
          </>
        )}
      </p>
      {!first && ask.total_value > 0 && (
        <p className="small soft">with all above: {letsIn(ask.total_hours, ask.total_value)}</p>
      )}
      {ask.alternatives.length > 0 && (
        <details className="small">
          <summary className="soft">or instead, for much of the same work: {ask.alternatives.length}</summary>
          {ask.alternatives.map((o) => (
            <p key={o.text}>
              <span className="soft">{KINDS[o.code]} · </span>
              {o.text}, <span className="soft">{letsIn(o.hours, o.value)}</span>
            </p>
          ))}
        </details>
      )}
    </div>
  );
}
