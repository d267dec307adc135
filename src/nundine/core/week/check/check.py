"""The check: every broken rule of a plan, and its value recomputed."""

from __future__ import annotations

from dataclasses import dataclass, field

from nundine.core.week.check.jobs import jobs
from nundine.core.week.check.layout import Broken, Key, Placed, Plan, laid_out
from nundine.core.week.check.rules import fixed_kept, held_back, one_job_at_a_time, tools
from nundine.core.week.check.seats import alone, double
from nundine.core.week.check.untimed import beside_timed
from nundine.core.week.problem import Placement, WeekProblem


@dataclass(frozen=True)
class Checked:
    """Result of a check: errors of the plan, conflicts of fixed placements, the value in points."""

    errors: tuple[Broken, ...]
    conflicts: tuple[Broken, ...]
    value: float
    job_values: dict[str, float] = field(default_factory=dict)


def check(problem: WeekProblem, placements: tuple[Placement, ...]) -> Checked:
    """Every broken rule of engine rules, and the value of the plan recomputed."""
    week = laid_out(problem)
    found: list[Broken] = []
    known: list[Placed] = []
    seen: set[Key] = set()
    for one in placements:
        task = problem.task_by_id.get((one.job, one.task))
        if task is None:
            found.append(Broken("unknown", f"{one.job} task {one.task} is not in the problem", (one.key,)))
        elif one.key in seen:
            found.append(
                Broken("twice", f"{one.job} task {one.task} portion {one.portion} stands twice", (one.key,))
            )
        else:
            known.append(week.placed(one, problem.job_by_id[one.job], task))
        seen.add(one.key)
    plan = Plan(week, problem, known, {f.key: f for f in problem.fixed})
    found += fixed_kept(plan, placements) + alone(plan)
    broken, worth = jobs(plan)
    found += double(plan) + beside_timed(plan) + broken
    found += one_job_at_a_time(plan) + tools(plan) + held_back(plan)
    conflicts = [b for b in found if b.keys and all(k in plan.fixed for k in b.keys)]
    errors = [b for b in found if not (b.keys and all(k in plan.fixed for k in b.keys))]
    return Checked(tuple(errors), tuple(conflicts), sum(worth.values()), worth)
