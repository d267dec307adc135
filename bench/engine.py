"""`./nundine bench engine`: weeks of four sizes from seeds, each figure beside priority dispatch in the same
run.

Options: --sizes S,M,L,XL  --seeds 5  --workers 2  --whole (also one big exact model from nothing, for S and
M).
"""

from __future__ import annotations

import argparse
import resource
import statistics
import subprocess
import sys
import time
from dataclasses import replace
from random import Random

from rich.console import Console
from rich.table import Table

from bench.weeks import SIZES, sized_week
from nundine.core.week.board.board import Board
from nundine.core.week.board.draft import Draft
from nundine.core.week.building.build import Limits, Progress, build
from nundine.core.week.check import check
from nundine.core.week.explain import Explainer
from nundine.core.week.mending.mend import mend
from nundine.core.week.plan import WeekPlan
from nundine.core.week.problem import WeekProblem
from nundine.core.week.search import compiled, exact

SECONDS = {"S": 30.0, "M": 20.0, "L": 60.0, "XL": 120.0}
"""How long each week is built."""
VALUE_AFTER = SECONDS | {"S": 20.0}
"""When its value is compared with that of the first plan."""


def figures(size: str, seed: int, workers: int, whole: bool) -> dict[str, float]:
    """All figures of one week."""
    compiled.load()
    problem = sized_week(size, seed)
    told: list[Progress] = []
    plan = build(problem, limits=Limits(SECONDS[size]), workers=workers, tell=told.append, helps=False)
    if check(problem, plan.placements).errors:
        raise AssertionError(f"the plan of {size} {seed} breaks a rule")
    reasons = seconds_for_reasons(problem, plan)
    times, moves = sick_days(problem, plan)
    found = {
        "first": told[0].seconds,
        "gain": _value_after(VALUE_AFTER[size], told, plan) / told[0].value,
        "gap": plan.gap,
        "mend": max(times),
        "moves": statistics.median(moves),
        "reasons": reasons,
        "memory": resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024,
    }
    if whole and size in "SM":
        cold = exact.solve(Board(problem), list(problem.jobs), {}, seconds=SECONDS[size], workers=workers)
        found["whole"] = cold.value / told[0].value
    return found


def _value_after(seconds: float, told: list[Progress], plan: WeekPlan) -> float:
    """The points of the plan after so many seconds of a build."""
    return (
        plan.value
        if plan.seconds <= seconds or told[-1].seconds <= seconds
        else max(p.value for p in told if p.seconds <= seconds)
    )


def seconds_for_reasons(problem: WeekProblem, plan: WeekPlan) -> float:
    """How long it takes to say of every job that is left out why."""
    board = Board(problem.with_placements(plan.placements))
    Draft(board, complete=False)
    held = {p.job for p in plan.placements}
    began = time.perf_counter()
    explainer = Explainer(board, {})
    for job in problem.jobs:
        if job.id not in held:
            explainer.explain(job, helps=False)
    return time.perf_counter() - began


def sick_days(problem: WeekProblem, plan: WeekPlan) -> tuple[list[float], list[int]]:
    """Six sick days, each mended: seconds and moves."""
    seats = sorted({(s.id, p.day) for p in plan.placements for s in p.people if s.id})
    times, moves = [], []
    for n in range(6):
        who, day = Random(n).choice(seats)
        people = tuple(
            replace(x, hours=tuple(h for h in x.hours if h.day != day)) if x.id == who else x
            for x in problem.people
        )
        now = replace(problem, people=people)
        began = time.perf_counter()
        mended = mend(now, plan.placements)
        times.append(time.perf_counter() - began)
        moves.append(mended.count)
        if mended.conflicts:
            raise AssertionError("a mended week breaks a rule")
    return times, moves


def main(words: list[str]) -> None:
    parser = argparse.ArgumentParser(prog="nundine bench engine")
    parser.add_argument("--sizes", default="S,M,L,XL")
    parser.add_argument("--seeds", type=int, default=5)
    parser.add_argument("--workers", type=int, default=2)
    parser.add_argument("--whole", action="store_true")
    parser.add_argument("--one", nargs=2, metavar=("SIZE", "SEED"), help=argparse.SUPPRESS)
    asked = parser.parse_args(words)
    if asked.one:
        print(figures(asked.one[0], int(asked.one[1]), asked.workers, asked.whole))
        return
    table = Table(title="The engine on seeded weeks: mean over the seeds, in brackets the worst")
    for column in (
        "size",
        "people, jobs",
        "after",
        "first plan",
        "x dispatch",
        "gap",
        "mend",
        "moves",
        "reasons",
        "memory",
        "whole model x dispatch",
    ):
        table.add_column(column)
    for size in asked.sizes.split(","):
        rows = []
        for seed in range(1, asked.seeds + 1):
            command = [
                sys.executable,
                "-m",
                "bench",
                "engine",
                "--one",
                size,
                str(seed),
                "--workers",
                str(asked.workers),
            ]
            told = subprocess.run(
                command + (["--whole"] if asked.whole else []), capture_output=True, text=True, check=True
            )
            rows.append(eval(told.stdout.strip().splitlines()[-1], {"__builtins__": {}}))
        table.add_row(size, "{}, {}".format(*SIZES[size]), _after(size), *_row(rows))
    Console(width=150).print(table)


def _after(size: str) -> str:
    value, built = VALUE_AFTER[size], SECONDS[size]
    return f"{value:.0f} s" if value == built else f"{value:.0f} s, gap {built:.0f} s"


def _row(rows: list[dict[str, float]]) -> list[str]:
    def mean(name: str) -> float:
        return statistics.mean(r[name] for r in rows)

    def most(name: str) -> float:
        return max(r[name] for r in rows)

    gain = f"{mean('gain'):.3f} ({min(r['gain'] for r in rows):.3f})"
    whole = f"{mean('whole'):.3f}" if "whole" in rows[0] else ""
    return [
        f"{mean('first'):.2f} s ({most('first'):.2f})",
        gain,
        f"{100 * mean('gap'):.1f} % ({100 * most('gap'):.1f})",
        f"{mean('mend'):.2f} s ({most('mend'):.2f})",
        f"{mean('moves'):.0f}",
        f"{mean('reasons'):.2f} s ({most('reasons'):.2f})",
        f"{most('memory'):.0f} MB",
        whole,
    ]


if __name__ == "__main__":
    main(sys.argv[1:])
