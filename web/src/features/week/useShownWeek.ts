/** The week looked at, and the one after it where the days shown reach into it. */
import { useCallback, useMemo } from "react";

import type { Overview, Shapes } from "../../api/client";
import { useOverview } from "../../api/queries";
import { useKept } from "../../app/address";
import { dayLater, weekBeside } from "../../kit/words";
import type { WeekView } from "./context";
import { useEdits } from "./useEdits";
import { useEvents } from "./useEvents";

/** What is the same for both weeks: who looks, at which areas, and what opens beside them. */
type Around = Pick<
  WeekView,
  "me" | "areas" | "inAreas" | "openBuild" | "openMend" | "openBreakIn" | "openOrder" | "openGive"
>;

/** `done`: what is to happen when tasks were reported as done. */
export function useShownWeek(
  week: string,
  now: Overview,
  around: Around,
  done: (tasks: [string, string][]) => void,
) {
  const [from, keepFrom] = useKept("from");
  const at = Math.max(0, now.days.indexOf(from));
  const shown = useMemo(
    () => Array.from({ length: 7 }, (_, n) => dayLater(now.days[0]!, at + n)),
    [at, now.days],
  );
  const after = weekBeside(week, 1);
  const both = at > 0;
  const following = useOverview(after, both).data;
  const own = useEdits(week, done);
  const its = useEdits(after, done);
  useEvents(week, around.me);
  useEvents(after, around.me, both);
  const [jobAt, keepJob] = useKept("job");
  const [jobIn, keepJobIn] = useKept("jobin");
  const open = useCallback(
    (number: string | null, where: string) => {
      keepJob(number ?? "");
      keepJobIn(number ? where : "");
    },
    [keepJob, keepJobIn],
  );
  const shared = useMemo(
    () => ({ ...around, shown, job: jobAt || null, jobWeek: jobIn || week }),
    [around, shown, jobAt, jobIn, week],
  );
  const beside = useMemo<WeekView | null>(
    () =>
      both && following?.week === after
        ? {
            ...shared,
            ...its,
            ...said(around.me, following),
            week: after,
            now: following,
            beside: null,
            openJob: (number) => open(number, after),
          }
        : null,
    [both, following, after, shared, its, around.me, open],
  );
  const view = useMemo<WeekView>(
    () => ({
      ...shared,
      ...own,
      ...said(around.me, now),
      week,
      now,
      beside,
      openJob: (number) => open(number, ""),
    }),
    [shared, own, around.me, week, now, beside, open],
  );
  return { view, from: shown[0]!, keepFrom };
}

/** What follows from who looks and how the week stands. */
function said(me: Shapes["Me"], now: Overview): Pick<WeekView, "can" | "craftName"> {
  return {
    can: (right) => me.rights.includes(right) && now.status !== "closed",
    craftName: (key) => now.crafts.find((c) => c.key === key)?.name ?? key,
  };
}
