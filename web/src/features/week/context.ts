import { createContext, useContext } from "react";

import type { AnyEdit, Key, Overview, Shapes } from "../../api/client";
import type { Reported } from "./useEdits";

/** What every step of the week needs. */
export interface WeekView {
  week: string;
  me: Shapes["Me"];
  now: Overview;
  can: (right: string) => boolean;
  /** One command; resolves to false when it was refused (the refusal is shown). */
  edit: (edit: AnyEdit) => Promise<boolean>;
  answer: (key: Key, said: "agreed" | "refused" | null, remark: string) => Promise<boolean>;
  answerWindow: (
    window: Shapes["Window"],
    said: "agreed" | "refused" | null,
    remark: string,
  ) => Promise<boolean>;
  report: (form: Reported) => Promise<boolean>;
  /** Draw (no `was`), change, or take away (no `start`) a window. */
  changeWindow: (form: Omit<Shapes["WindowForm"], "seen">) => Promise<boolean>;
  busy: boolean;
  /** Areas that are looked at; none = all. */
  areas: string[];
  inAreas: (area: string | null) => boolean;
  /** The job shown at the right, on every step. */
  job: string | null;
  openJob: (number: string | null) => void;
  craftName: (key: string) => string;
  openBuild: () => void;
  /** Mend, perhaps with jobs that are to come in. */
  openMend: (jobs?: string[]) => void;
  openBreakIn: () => void;
  /** The form of the job shown, or of a new WO. */
  openOrder: (what: "new" | "change") => void;
}

export const WeekContext = createContext<WeekView | null>(null);

export function useWeek(): WeekView {
  const view = useContext(WeekContext);
  if (!view) throw new Error("no week above");
  return view;
}
