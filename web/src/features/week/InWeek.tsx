import type { ReactNode } from "react";

import { JobPanel } from "../gather/JobPanel";
import { useWeek, weekOfDay, WeekContext } from "./context";

/** What is said and done of a day, in the week to which that day belongs. */
export function InWeekOf({ day, children }: { day: string; children: ReactNode }) {
  return <WeekContext.Provider value={weekOfDay(useWeek(), day)}>{children}</WeekContext.Provider>;
}

/** The job that is looked at, in the week in which it was opened. */
export function JobShown({ number }: { number: string }) {
  const view = useWeek();
  const its = view.beside && view.jobWeek === view.beside.week ? view.beside : view;
  return (
    <WeekContext.Provider value={its}>
      <JobPanel number={number} />
    </WeekContext.Provider>
  );
}
