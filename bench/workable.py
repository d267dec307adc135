"""`./nundine bench workable`: how well crews can work the weeks, and what that costs in points, beside the
same engine without rules and prices.

The baseline of each week is built in the same run and the same time: the same week whose assets go back
between tasks, without ways between areas, loose ends costing nothing.

Options: --weeks demo,S,M,L  --seeds 5 (of L two)  --workers 2  --file problem.json (another week instead).
"""

from __future__ import annotations

import argparse
import json
import resource
import statistics
import subprocess
import sys
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, replace
from pathlib import Path

from rich.console import Console
from rich.table import Table

from bench.engine import SECONDS, seconds_for_reasons, sick_days
from bench.weeks import sized_week
from nundine.core.timeline import Interval
from nundine.core.week.board.board import Board
from nundine.core.week.board.fit import Fitter
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.building.build import Limits, Progress, build
from nundine.core.week.check import Checked, check
from nundine.core.week.files import read_problem
from nundine.core.week.plan import WeekPlan
from nundine.core.week.problem import BY_TASK, PRICED, WHOLE, Placement, Travel, WeekProblem
from nundine.core.week.search import compiled

WAYS = (Travel("north", "middle", 20), Travel("middle", "south", 20))
SEEDS_OF_L = 2
SMALL_JOB = 8.0
"""Worked hours up to which a job is small: it could be done in a day."""


def workable(problem: WeekProblem) -> WeekProblem:
    """A week of the generator with ways between its valleys, assets that stay out of service, prices of loose
    ends.

    A job goes back between its tasks if it fits no window of its asset as a whole, or if its people are at no
    time there for so long, were the week empty: whoever plans it would have to say so.
    """
    jobs = tuple(replace(j, out_of_service=WHOLE) for j in problem.jobs)
    whole = replace(problem, jobs=jobs, travel=WAYS, weights=PRICED)
    empty = Fitter(Board(whole))
    return replace(
        whole,
        jobs=tuple(j if empty.fit(j, Freedom()) else replace(j, out_of_service=BY_TASK) for j in jobs),
    )


def without(problem: WeekProblem) -> WeekProblem:
    """The same week without the two rules and the four prices."""
    jobs = tuple(replace(j, out_of_service=BY_TASK, out_since=None) for j in problem.jobs)
    return replace(problem, jobs=jobs, travel=(), weights=problem.weights.without_prices())


@dataclass(frozen=True)
class Workability:
    """How a plan can be worked. Hours from the first start to the last end of jobs of several portions for
    each hour in which somebody works on them; idle hours in such a job; handovers a pair of successive
    portions with a craft in common; changes of area a shift; of small jobs the same."""

    span: float
    idle: list[float]
    handovers: float
    changes: float
    small_span: float
    small_idle: list[float]


def workability(problem: WeekProblem, placements: Iterable[Placement], checked: Checked) -> Workability:
    by_job: dict[str, list[Placement]] = {}
    shifts = set()
    for p in placements:
        if p.start is not None and p.end is not None:
            by_job.setdefault(p.job, []).append(p)
            shifts |= {(s.id, p.day) for s in p.people}
    spans, busy, idle, small = 0.0, 0.0, [], [0.0, 0.0]
    small_idle: list[float] = []
    pairs = 0
    for job, its in by_job.items():
        if len(its) < 2:
            continue
        its.sort(key=lambda p: p.times)
        gaps = sum(w.hours for w in checked.ends[job].waiting)
        whole = Interval(its[0].times[0], max(p.times[1] for p in its)).hours
        spans, busy = spans + whole, busy + whole - gaps
        idle.append(gaps)
        tasks = {t.id: t for t in problem.job_by_id[job].tasks}
        pairs += sum(
            b.start >= a.end  # type: ignore[operator]
            and bool({n.craft for n in tasks[a.task].needs} & {n.craft for n in tasks[b.task].needs})
            for a, b in zip(its, its[1:], strict=False)
        )
        worked = sum(t.hours * t.people for t in tasks.values())
        if worked <= SMALL_JOB:
            small = [small[0] + whole, small[1] + whole - gaps]
            small_idle.append(gaps)
    over = sum(len(e.handovers) for e in checked.ends.values())
    return Workability(
        spans / max(busy, 0.01),
        idle or [0.0],
        over / max(1, pairs),
        len(checked.area_changes) / max(1, len(shifts)),
        small[0] / max(small[1], 0.01),
        small_idle or [0.0],
    )


def ninetieth(hours: list[float]) -> float:
    return sorted(hours)[int(0.9 * (len(hours) - 1))]


def built(problem: WeekProblem, seconds: float, workers: int) -> tuple[WeekPlan, Checked, list[Progress]]:
    told: list[Progress] = []
    plan = build(problem, limits=Limits(seconds), workers=workers, tell=told.append, helps=False)
    checked = check(problem, plan.placements)
    if checked.errors:
        raise AssertionError(f"the plan breaks a rule: {checked.errors[0]}")
    return plan, checked, told


def figures(problem: WeekProblem, seconds: float, workers: int) -> dict[str, float]:
    """All figures of one week."""
    compiled.load()
    plain = without(problem)
    first, first_checked, _ = built(plain, seconds, workers)
    before = workability(problem, first.placements, check(problem, first.placements))
    plan, checked, told = built(problem, seconds, workers)
    now = workability(problem, plan.placements, checked)
    reasons = seconds_for_reasons(problem, plan)
    times, moves = sick_days(problem, plan)
    codes = Counter(b.code for b in check(problem, first.placements).errors)
    return {
        "loss": 1 - checked.points / first_checked.points,
        "gap": plan.gap,
        "first": told[0].seconds,
        "steps": told[-1].steps / plan.seconds,
        "mend": max(times),
        "moves": statistics.median(moves),
        "reasons": reasons,
        "memory": resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024,
        "prices": checked.prices.total / checked.points,
        "torn before": codes["out of service"],
        "hurried before": codes["travel"],
        "changes of area before": before.changes,
        "changes of area": now.changes,
        **{
            f"{name}{when}": value
            for when, w in ((" before", before), ("", now))
            for name, value in (
                ("span", w.span),
                ("idle", statistics.median(w.idle)),
                ("idle 90th", ninetieth(w.idle)),
                ("handovers", w.handovers),
                ("small span", w.small_span),
                ("small idle 90th", ninetieth(w.small_idle)),
            )
        },
    }


def main(words: list[str]) -> None:
    parser = argparse.ArgumentParser(prog="nundine bench workable")
    parser.add_argument("--weeks", default="demo,S,M,L")
    parser.add_argument("--seeds", type=int, default=5)
    parser.add_argument("--workers", type=int, default=2)
    parser.add_argument("--seconds", type=float)
    parser.add_argument("--file", type=Path)
    parser.add_argument("--one", nargs=2, metavar=("SIZE", "SEED"), help=argparse.SUPPRESS)
    asked = parser.parse_args(words)
    if asked.file:
        print(figures(read_problem(json.loads(asked.file.read_text())), asked.seconds or 20.0, asked.workers))
        return
    if asked.one:
        size = asked.one[0]
        problem = workable(sized_week(size, int(asked.one[1])))
        print(figures(problem, asked.seconds or SECONDS[size], asked.workers))
        return
    table = Table(
        title="What crews can work, beside the engine without the rules and prices: mean over the seeds"
    )
    rows: dict[str, list[dict[str, float]]] = {}
    for size in asked.weeks.split(","):
        seeds = 1 if size == "demo" else min(asked.seeds, SEEDS_OF_L) if size == "L" else asked.seeds
        rows[size] = [_apart(size, seed, asked) for seed in range(1, seeds + 1)]
    table.add_column("")
    for size, found in rows.items():
        table.add_column(f"{size} ({len(found)})")
    for name in next(iter(rows.values()))[0]:
        table.add_row(name, *(f"{statistics.mean(r[name] for r in found):.3f}" for found in rows.values()))
    Console(width=150).print(table)


def _apart(size: str, seed: int, asked: argparse.Namespace) -> dict[str, float]:
    """The figures of one week, in a process of its own."""
    command = [sys.executable, "-m", "bench", "workable", "--workers", str(asked.workers)]
    command += ["--seconds", str(asked.seconds)] if asked.seconds else []
    if size == "demo":
        command += ["--file", str(demo_week())]
    else:
        command += ["--one", size, str(seed)]
    told = subprocess.run(command, capture_output=True, text=True, check=True)
    return dict(eval(told.stdout.strip().splitlines()[-1], {"__builtins__": {}}))


def demo_week() -> Path:
    """The demo site's week problem, nothing placed, as a file."""
    import tempfile

    from bench.site import demo_site

    path = Path(tempfile.mkdtemp()) / "demo.json"
    with demo_site() as (site, _):
        path.write_text(json.dumps({**site.get("/problem.json"), "fixed": [], "previous": []}))
    return path


if __name__ == "__main__":
    main(sys.argv[1:])
