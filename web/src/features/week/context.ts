import { createContext, useContext } from "react";

import type { AnyEdit, Key, Overview, Shapes } from "../../api/client";
import type { Selection } from "../give/GivePanel";
import type { Reported } from "./useEdits";

/** What every step of the week needs. */
export interface WeekView {
  week: string;
  me: Shapes["Me"];
  now: Overview;
  /**
   * The seven days that boards show, from the chosen first one; those that are not of this week are of
   * `beside`.
   */
  shown: string[];
  /** The week after this one, where the days shown reach into it. */
  beside: WeekView | null;
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
  /** Several tasks, each in its own way; all that is done ended at one moment, or now. */
  reportAll: (rows: Shapes["TaskReport"][], ended: string | null) => Promise<boolean>;
  /** Draw (no `was`), change, or take away (no `start`) a window. */
  changeWindow: (form: Omit<Shapes["WindowForm"], "seen">) => Promise<boolean>;
  busy: boolean;
  /** Areas that are looked at; none = all. */
  areas: string[];
  inAreas: (area: string | null) => boolean;
  /** The job shown at the right, on every step. */
  job: string | null;
  openJob: (number: string | null) => void;
  /** The week in which the job shown is looked at. */
  jobWeek: string;
  craftName: (key: string) => string;
  openBuild: () => void;
  /** Mend, perhaps with jobs that are to come in. */
  openMend: (jobs?: string[]) => void;
  openBreakIn: () => void;
  /** Give a selection to one person or crew. */
  openGive: (selection: Selection) => void;
  /** The form of the job shown, or of a new WO. */
  openOrder: (what: "new" | "change") => void;
}

export const WeekContext = createContext<WeekView | null>(null);

export function useWeek(): WeekView {
  const view = useContext(WeekContext);
  if (!view) throw new Error("no week above");
  return view;
}

/** The week to which a day belongs, of the one looked at and the one beside it. */
export function weekOfDay(view: WeekView, day: string): WeekView {
  return view.beside?.now.days.includes(day) ? view.beside : view;
}
