"""The check: every broken rule of a plan, and its value recomputed."""

from __future__ import annotations

from dataclasses import dataclass, field

from nundine.core.week.check.jobs import jobs
from nundine.core.week.check.layout import Broken, Key, Placed, Plan, laid_out
from nundine.core.week.check.loose_ends import AreaChange, JobEnds, Prices, area_changes, price_of
from nundine.core.week.check.rules import fixed_kept, held_back, one_job_at_a_time, tools
from nundine.core.week.check.seats import alone, double
from nundine.core.week.check.untimed import beside_timed
from nundine.core.week.check.workable import out_of_service, travel
from nundine.core.week.problem import Placement, WeekProblem


@dataclass(frozen=True)
class Checked:
    """Result of a check: errors of the plan, conflicts of fixed placements, points, loose ends and their
    prices in points.

    `job_values` are points less what the job's own loose ends cost; changes of area belong to people.
    """

    errors: tuple[Broken, ...]
    conflicts: tuple[Broken, ...]
    points: float
    job_values: dict[str, float] = field(default_factory=dict)
    ends: dict[str, JobEnds] = field(default_factory=dict)
    area_changes: tuple[AreaChange, ...] = ()
    prices: Prices = Prices()

    @property
    def value(self) -> float:
        """What the engine maximises: points less prices."""
        return self.points - self.prices.total


def check(problem: WeekProblem, placements: tuple[Placement, ...]) -> Checked:
    """Every broken rule of a plan; its points, loose ends and prices recomputed."""
    week = laid_out(problem)
    found: list[Broken] = []
    known: list[Placed] = []
    seen: set[Key] = set()
    for one in placements:
        task = problem.task_by_id.get((one.job, one.task))
        if task is None:
            found.append(Broken("unknown", {"job": one.job, "task": one.task}, (one.key,)))
        elif one.key in seen:
            facts = {"job": one.job, "task": one.task, "portion": one.portion}
            found.append(Broken("twice", facts, (one.key,)))
        else:
            known.append(week.placed(one, problem.job_by_id[one.job], task))
        seen.add(one.key)
    plan = Plan(week, problem, known, {f.key: f for f in problem.fixed})
    found += fixed_kept(plan, placements) + alone(plan)
    broken, points, ends = jobs(plan)
    found += double(plan) + beside_timed(plan) + broken
    found += one_job_at_a_time(plan) + tools(plan) + held_back(plan)
    found += out_of_service(plan) + travel(plan)
    conflicts = [b for b in found if b.keys and all(k in plan.fixed for k in b.keys)]
    errors = [b for b in found if not (b.keys and all(k in plan.fixed for k in b.keys))]
    changes = area_changes(plan)
    own = {job: price_of(problem, its) for job, its in ends.items()}
    return Checked(
        tuple(errors),
        tuple(conflicts),
        sum(points.values()),
        {job: worth - own[job].total for job, worth in points.items()},
        ends,
        tuple(changes),
        sum(own.values(), Prices(area_change=problem.weights.area_change * len(changes))),
    )
