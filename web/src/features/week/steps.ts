/** The six steps of the week, in their order. */
export const STEPS = ["gather", "balance", "agree", "crew", "publish", "run"] as const;
export type Step = (typeof STEPS)[number];
export const STEP_NAMES: Record<Step, string> = {
  gather: "Gather",
  balance: "Balance",
  agree: "Agree",
  crew: "Crew",
  publish: "Publish",
  run: "Run and review",
};
