/** What is set on this page by a figure each, with what it does. */
import type { Shapes } from "../../api/client";

type Parameters = Shapes["Parameters"];

export const WEIGHTS: {
  name: keyof Parameters["weights"];
  label: string;
  unit: string;
  most: number;
  share?: boolean;
  why: string;
}[] = [
  {
    name: "must_per_hour",
    label: "Must-work, for each hour",
    unit: "points an hour",
    most: 10000,
    why: "Added to the priority of must-work. The higher it is, the more other work has to make way.",
  },
  {
    name: "must_per_job",
    label: "Must-work, for each job",
    unit: "points a job",
    most: 100000,
    why: "Given once when a must-job is in whole, so that short must-jobs are not left out for long ones.",
  },
  {
    name: "late_share_per_day",
    label: "Late, for each day",
    unit: "% of its points",
    most: 100,
    share: true,
    why: "Taken off for each day, or part of one, that a job ends after its due time.",
  },
  {
    name: "overtime_per_hour",
    label: "Price of overtime",
    unit: "points an hour",
    most: 10000,
    why: "A job goes into overtime only where it is worth more than this for each hour of a person.",
  },
];

export const KEPT: { name: keyof Parameters["keep_days"]; label: string; why: string }[] = [
  {
    name: "events",
    label: "Events",
    why: "What open browsers are told. A browser that was away for longer asks for all anew.",
  },
  {
    name: "plans",
    label: "Plans of builds",
    why: "What a build would have changed. A plan that nobody accepted in that time is dropped.",
  },
  {
    name: "sheets",
    label: "Crew sheets",
    why: "Published sheets as PDF. Who wants older ones has them made again.",
  },
];
