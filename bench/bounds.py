"""`./nundine bench bounds`: thousands of random weeks; no plan that `check` accepts may be worth more than
either bound.

Options: --weeks 3000  --first 0. Prints how far the best plan found lies below each bound, and ends with 1 at
the first week in which a plan breaks a rule or passes a bound, naming its seed.
"""

from __future__ import annotations

import argparse
import statistics

from rich.console import Console
from rich.progress import track
from tests.weeks import random_week

from nundine.core.week.board.board import Board
from nundine.core.week.bound.hours import bound as by_hours
from nundine.core.week.bound.packing import Relaxation
from nundine.core.week.bound.single_jobs import Alone
from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
from nundine.core.week.search import compiled, exact

SIZES = ((1, 3), (2, 5), (3, 8), (4, 12), (6, 20))
CLOSE = 1e-6


def packed(problem: object, steps: int = 300) -> float:
    relaxation = Relaxation(problem)  # type: ignore[arg-type]
    Alone(relaxation).some(len(relaxation.whole_jobs))
    return relaxation.lower(steps, 0.0) if len(relaxation.k.jobs) else relaxation.constant


def main(arguments: list[str]) -> int:
    """Run it. Returns 1 if a bound is not one."""
    given = argparse.ArgumentParser(prog="bench bounds")
    given.add_argument("--weeks", type=int, default=3000)
    given.add_argument("--first", type=int, default=0)
    wanted = given.parse_args(arguments)
    console, compiled_here = Console(width=150), compiled.load()
    assert compiled_here
    share: dict[str, list[float]] = {"hours": [], "packing": []}
    proved = 0
    for seed in track(range(wanted.first, wanted.first + wanted.weeks), console=console):
        people, jobs = SIZES[seed % len(SIZES)]
        problem = random_week(seed, people, jobs)
        plan = build(problem, limits=Limits(iterations=300), helps=False, known_bound=float("inf"))
        bounds = {"hours": by_hours(problem), "packing": packed(problem)}
        best = plan.value
        if jobs <= 5:
            found = exact.solve(Board(problem), list(problem.jobs), {}, seconds=2, prove=seed % 2 == 0)
            if found.whole and found.optimal:
                proved, best = proved + 1, max(best, found.value)
        wrong = [name for name, b in bounds.items() if best > b + CLOSE * max(1.0, b)]
        if wrong or check(problem, plan.placements).errors:
            console.print(
                f"[red]seed {seed}: best {best}, bounds {bounds}, broken "
                f"{check(problem, plan.placements).errors}[/red]"
            )
            return 1
        for name, b in bounds.items():
            if b > 0:
                share[name].append(best / b)
    for name, shares in share.items():
        console.print(
            f"best plan as a share of the bound by {name}: median {statistics.median(shares):.3f}, "
            f"most {max(shares):.6f}"
        )
    console.print(f"{wanted.weeks} weeks, {proved} with a proven optimum; no plan above a bound")
    return 0
