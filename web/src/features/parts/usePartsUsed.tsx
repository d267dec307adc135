import { App, Button } from "antd";
import { useCallback, useState } from "react";

import { http, need, type Shapes } from "../../api/client";
import { count } from "../../kit/words";
import { usePartWrites } from "./useParts";

export type UseLine = Shapes["UseLine"];
/** A line whose use could not be posted stays, with the reason. */
export type Telling = UseLine & { why?: string };

/**
 * Asks, once tasks are done, for the parts that must be used and were not handed out: as planned with one
 * press, or told one by one.
 */
export function usePartsUsed() {
  const { notification, message } = App.useApp();
  const { tellUsed } = usePartWrites();
  const [telling, setTelling] = useState<Telling[] | null>(null);
  const asPlanned = useCallback(
    async (lines: UseLine[]) => {
      notification.destroy("used");
      const posted = await tellUsed(lines.map((li) => ({ ...li, quantity: li.planned })));
      if (posted.failed.length) setTelling(withReasons(lines, posted));
      else void message.success(`${count(posted.count, "part")} posted as planned`);
    },
    [message, notification, tellUsed],
  );
  const ask = useCallback(
    async (tasks: [string, string][]) => {
      if (!tasks.length) return;
      const body = { tasks: tasks.map(([order, task]) => ({ order, task })) };
      const lines = await need(http.POST("/api/parts/used/planned", { body }));
      const untold = lines.filter((li) => li.must && li.given < li.planned);
      if (!untold.length) return;
      const jobs = [...new Set(untold.map((li) => li.order))];
      notification.info({
        key: "used",
        title: `${count(untold.length, "part")} of ${jobs.slice(0, 3).join(", ")} not handed out: used?`,
        description: untold
          .flatMap((li) => (li.instead ? `${li.instead} instead of ${li.part}` : []))
          .join(", "),
        placement: "bottomRight",
        duration: 20,
        actions: (
          <span className="row">
            <Button size="small" type="primary" onClick={() => void asPlanned(untold)}>
              Used as planned
            </Button>
            <Button
              size="small"
              onClick={() => {
                notification.destroy("used");
                setTelling(lines);
              }}
            >
              Say what …
            </Button>
          </span>
        ),
      });
    },
    [asPlanned, notification],
  );
  /** What can not be asked is told beside the WO all the same. */
  const asked = useCallback((tasks: [string, string][]) => void ask(tasks).catch(() => undefined), [ask]);
  return { telling, ask: asked, leave: () => setTelling(null) };
}

/** Those lines that could not be posted, each with why. */
export function withReasons<L extends UseLine>(lines: L[], posted: Shapes["UsesPosted"]): (L & Telling)[] {
  return lines.flatMap((li) => {
    const bad = posted.failed.find((f) => f.order === li.order && f.task === li.task && f.part === li.part);
    return bad ? [{ ...li, why: bad.why }] : [];
  });
}
