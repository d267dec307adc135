import type { Step } from "./steps";

/** The script of each step, fetched when it is first shown, or ahead of it. */
export const SCREEN_FILES: Record<Step, () => Promise<{ default: () => React.ReactNode }>> = {
  gather: () => import("../gather/Gather").then((m) => ({ default: m.Gather })),
  balance: () => import("../balance/Balance").then((m) => ({ default: m.Balance })),
  agree: () => import("../agree/Agree").then((m) => ({ default: m.Agree })),
  crew: () => import("../crew/Crew").then((m) => ({ default: m.Crew })),
  publish: () => import("../publish/Publish").then((m) => ({ default: m.Publish })),
  run: () => import("../review/Review").then((m) => ({ default: m.Review })),
};
