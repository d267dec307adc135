"""One person who travels between areas, against a round trip modelled apart with CP-SAT's circuit
constraint."""

from __future__ import annotations

from dataclasses import replace
from random import Random

import pytest
from ortools.sat.python import cp_model

from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
from nundine.core.week.problem import Asset, Job, Need, Task, Travel, WeekProblem, Weights
from nundine.core.week.search import compiled
from tests.core.test_workable import week, worker

AREAS = ("north", "middle", "lake")
WAYS = {("north", "middle"): 30, ("middle", "lake"): 45, ("north", "lake"): 60}
SLOT, SHIFT, CHANGE, AWAY = 15, 8 * 60, 40.0, 2.0


def minutes(a: str, b: str) -> int:
    return WAYS.get((a, b), WAYS.get((b, a), 0))


def day_of_jobs(seed: int) -> list[tuple[str, int, int]]:
    """Area, slots and priority of eight jobs: more than a shift holds."""
    r = Random(seed)
    return [(r.choice(AREAS), r.randrange(3, 11), r.randrange(10, 90)) for _ in range(8)]


def best_round(jobs: list[tuple[str, int, int]]) -> float:
    """The most points less prices of a sequence of jobs from 0 to the end of the shift, as a round trip over
    those chosen."""
    m, n = cp_model.CpModel(), len(jobs)
    start = [m.new_int_var(0, SHIFT // SLOT, "") for _ in jobs]
    arcs, gain = [(n, n, m.new_bool_var("none"))], []
    for i, (area, slots, priority) in enumerate(jobs):
        out = m.new_bool_var("")
        arcs.append((i, i, out))
        hours = slots * SLOT / 60
        gain.append((round(1000 * (priority * hours - (AWAY * hours if area != "north" else 0))), out.Not()))
        m.add(start[i] + slots <= SHIFT // SLOT).only_enforce_if(out.Not())
        arcs += [(n, i, m.new_bool_var("")), (i, n, m.new_bool_var(""))]
        for j, (other, _, _) in enumerate(jobs):
            if i != j:
                follows = m.new_bool_var("")
                arcs.append((i, j, follows))
                way = -(-minutes(area, other) // SLOT)
                m.add(start[j] >= start[i] + slots + way).only_enforce_if(follows)
                if area != other:
                    gain.append((-round(1000 * CHANGE), follows))
    m.add_circuit(arcs)
    m.maximize(sum(points * literal for points, literal in gain))
    solver = cp_model.CpSolver()
    assert solver.solve(m) == cp_model.OPTIMAL
    return solver.objective_value / 1000


@pytest.mark.parametrize("seed", range(6))
def test_a_day_of_one_person_between_areas_is_as_good_as_the_best_round_trip(seed: int) -> None:
    assert compiled.load()
    jobs = day_of_jobs(seed)
    anna = replace(worker("anna"), hours=worker("anna").hours[:1])
    base: WeekProblem = week(
        *(
            Job(f"WO-{n}", area, float(priority), (Task("10", slots * SLOT / 60, needs=(Need("mech"),)),))
            for n, (area, slots, priority) in enumerate(jobs)
        ),
        people=(anna,),
        weights=Weights(area_change=CHANGE, away_per_hour=AWAY),
        travel=tuple(Travel(a, b, minutes) for (a, b), minutes in WAYS.items()),
        places=tuple(Asset(a, a) for a in AREAS),
    )
    plan = build(base, limits=Limits(iterations=3000), helps=False)
    assert not check(base, plan.placements).errors
    assert plan.value == pytest.approx(best_round(jobs))
