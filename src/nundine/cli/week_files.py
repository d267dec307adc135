"""Commands on files of the open formats: build a week, check, mend and explain it, ask for what would help.

Exit codes: 0 done, 1 failed, 2 a bad file, 3 a plan that breaks a rule, 4 a week that could not be mended
whole.
"""

from __future__ import annotations

import json
from datetime import datetime
from pathlib import Path
from typing import Annotated, Any

import typer
from rich.table import Table

from nundine.cli.app import BAD_FILE, BROKEN_RULES, NOT_MENDED, app, console, say
from nundine.core.week.asks import asks as asks_of
from nundine.core.week.board.board import Board
from nundine.core.week.board.draft import Draft
from nundine.core.week.building.build import Limits, Progress, Scope, build
from nundine.core.week.check import check as check_plan
from nundine.core.week.explain import Explainer
from nundine.core.week.files import not_placed_document, plan_document, read_plan, read_problem
from nundine.core.week.mending.mend import mend as mend_week
from nundine.core.week.plan import WeekPlan
from nundine.core.week.problem import ProblemError, WeekProblem
from nundine.core.week.search import compiled
from nundine.services import wording

PLAINLY = wording.in_words(wording.PLAIN)
"""Files of weeks have no names: keys stand for themselves."""

Output = Annotated[
    Path | None,
    typer.Option("-o", "--output", help="Where the result goes as JSON; without it, to standard output."),
]


def _json(path: Path) -> Any:
    try:
        return json.loads(path.read_text(encoding="utf-8"))
    except OSError as bad:
        raise SystemExit(
            say(f"{path}: can not be read ({bad.strerror}). Give the path of a file that is there.", BAD_FILE)
        ) from bad
    except ValueError as bad:
        raise SystemExit(say(f"{path}: is not JSON ({bad}).", BAD_FILE)) from bad


def _read(path: Path, read: Any) -> Any:
    try:
        return read(_json(path))
    except ProblemError as bad:
        for error in bad.errors:
            console.print(f"{path}: {error}", markup=False, highlight=False)
        raise SystemExit(say(f"{len(bad.errors)} errors; nothing was done.", BAD_FILE)) from bad


@app.command()
def solve(
    problem_file: Path,
    output: Annotated[
        Path | None,
        typer.Option("-o", "--output", help="Where the plan goes; without it, to standard output."),
    ] = None,
    seconds: Annotated[float, typer.Option(min=0)] = 20.0,
    seed: int = 1,
    workers: Annotated[
        int,
        typer.Option(
            min=1,
            max=64,
            help=(
                "Searches side by side, each with its own seed; in large weeks one of them proves "
                "the bound instead."
            ),
        ),
    ] = 1,
    iterations: Annotated[
        int | None, typer.Option(min=0, help="Steps of each search instead of seconds: repeatable.")
    ] = None,
    days_only: Annotated[
        bool, typer.Option("--days-only", help="Decide the day of each job, without times and people.")
    ] = False,
    seats_only: Annotated[
        bool, typer.Option("--seats-only", help="Only finish what is fixed: open seats and times.")
    ] = False,
    quiet: bool = False,
) -> None:
    """Build a week from a nundine-week/1 file."""
    problem = _read(problem_file, read_problem)

    def tell(p: Progress) -> None:
        top = f" of at most {p.bound:,.0f}" if p.bound is not None else ""
        console.print(
            f"{p.seconds:6.1f} s  value {p.value:,.0f}{top}  {p.placed} of {p.jobs} jobs", highlight=False
        )

    if not compiled.load():
        console.print("The compiled search is not there; the plain one makes the same moves, only slower.")
    plan = build(
        problem,
        limits=Limits(seconds, iterations, 1.0),
        seed=seed,
        workers=workers,
        scope=Scope(new_jobs=not seats_only, days_only=days_only),
        tell=(lambda _: None) if quiet else tell,
    )
    _write(plan_document(plan, PLAINLY), output)
    share = 100 * (1 - plan.gap)
    console.print(
        f"{plan.status}: at least {share:.1f} % of what any schedule could hold; "
        f"{len(plan.not_placed)} jobs left out",
        highlight=False,
    )


@app.command()
def check(problem_file: Path, plan_file: Path) -> None:
    """Check a plan against a problem, independently of the builder. Exit 3 if it breaks a rule."""
    problem, plan = _read(problem_file, read_problem), _read(plan_file, read_plan)
    result = check_plan(problem, plan.placements)
    table = Table("rule", "what", box=None)
    for broken in result.errors:
        table.add_row(broken.code, PLAINLY.conflict(broken.finding()))
    if result.errors:
        console.print(table)
    print(
        f"value {result.value:.1f}, broken rules {len(result.errors)}, conflicts of fixed "
        f"placements {len(result.conflicts)}"
    )
    if abs(result.value - plan.value) > 1e-6 * max(1.0, abs(plan.value)):
        raise SystemExit(
            say(f"The plan says value {plan.value:.1f}; it is worth {result.value:.1f}.", BROKEN_RULES)
        )
    if result.errors:
        raise SystemExit(BROKEN_RULES)


def _write(document: Any, output: Path | None) -> None:
    text = json.dumps(document, ensure_ascii=False, indent=1)
    if output is None:
        print(text)
        return
    try:
        output.write_text(text + "\n", encoding="utf-8")
    except OSError as bad:
        raise SystemExit(say(f"{output}: can not be written ({bad.strerror}).", BAD_FILE)) from bad


def _both(problem_file: Path, plan_file: Path) -> tuple[WeekProblem, WeekPlan]:
    """A problem, and a plan whose placements can stand in it."""
    problem, plan = _read(problem_file, read_problem), _read(plan_file, read_plan)
    try:
        problem.with_placements(tuple(p for p in plan.placements if (p.job, p.task) in problem.task_by_id))
    except ProblemError as bad:
        known = {x.id for x in problem.people}
        errors = [e.replace("$.fixed", "$.placements") for e in bad.errors if "unknown person" not in e]
        if errors:
            for error in errors:
                console.print(f"{plan_file}: {error}", markup=False, highlight=False)
            raise SystemExit(
                say(f"{len(errors)} errors; nothing was done. The problem has {len(known)} people.", BAD_FILE)
            ) from bad
    return problem, plan


@app.command()
def mend(
    problem_file: Annotated[
        Path,
        typer.Argument(help="The week as it is now, for example without the hours of somebody who is sick."),
    ],
    plan_file: Annotated[Path, typer.Argument(help="The plan as it was promised.")],
    output: Output = None,
    put_in: Annotated[
        list[str] | None, typer.Option(help="A job that has to come in; may be given more than once.")
    ] = None,
    now: Annotated[
        datetime | None, typer.Option(help="Nothing starts before this time, and what began before it stays.")
    ] = None,
) -> None:
    """Repair a plan with few moves. What the problem has as fixed stays. Exit 4 if something could not be
    mended."""
    problem, plan = _both(problem_file, plan_file)
    unknown = [j for j in put_in or () if j not in problem.job_by_id]
    if unknown:
        raise SystemExit(say(f"The problem has no job {', '.join(unknown)}.", BAD_FILE))
    moment = now.replace(tzinfo=problem.start.tzinfo) if now is not None and now.tzinfo is None else now
    mended = mend_week(
        problem, plan.placements, stay=[f.key for f in problem.fixed], wanted=put_in or (), now=moment
    )
    value = check_plan(problem.with_placements(mended.placements), mended.placements).value
    conflicts = tuple(b.finding() for b in mended.conflicts)
    _write(
        plan_document(
            WeekPlan(
                plan.week, "feasible", value, max(plan.bound, value), 0.0, mended.placements, (), conflicts
            ),
            PLAINLY,
        ),
        output,
    )
    for move in mended.moves:
        console.print(wording.move(move, wording.PLAIN), markup=False, highlight=False)
    console.print(
        f"{mended.count} moves; {len(mended.left)} jobs leave the week; value {plan.value:,.0f} "
        f"before, {value:,.0f} now",
        highlight=False,
    )
    if mended.conflicts or mended.not_in:
        for broken in mended.conflicts:
            console.print(
                f"stays broken: {PLAINLY.conflict(broken.finding())}", markup=False, highlight=False
            )
        for job in mended.not_in:
            console.print(f"found no place: {job}", markup=False, highlight=False)
        raise SystemExit(NOT_MENDED)


@app.command()
def explain(
    problem_file: Path,
    plan_file: Path,
    job: Annotated[list[str] | None, typer.Option(help="Only this job; may be given more than once.")] = None,
    output: Output = None,
) -> None:
    """Why jobs are not in a plan, and what would let them in; each claim was tried."""
    problem, plan = _both(problem_file, plan_file)
    unknown = [j for j in job or () if j not in problem.job_by_id]
    if unknown:
        raise SystemExit(say(f"The problem has no job {', '.join(unknown)}.", BAD_FILE))
    board = Board(problem.with_placements(plan.placements))
    Draft(board, complete=False)
    held = {p.job for p in plan.placements}
    explainer = Explainer(board, {})
    left = [
        explainer.explain(j)
        for j in problem.jobs
        if j.id not in held and j.tasks and (not job or j.id in job)
    ]
    document = [not_placed_document(n, PLAINLY) for n in left]
    _write({"week": problem.week, "not_placed": document}, output)
    for n in left:
        why = "; ".join(PLAINLY.reason(r) for r in n.reasons)
        console.print(f"{n.job}: {why}", markup=False, highlight=False)
        for h in n.would_help:
            console.print(f"    would help: {PLAINLY.helps(h)}", markup=False, highlight=False)


@app.command()
def asks(
    problem_file: Path,
    plan_file: Path,
    most: Annotated[int, typer.Option(min=1, max=100)] = 10,
    seconds: Annotated[float, typer.Option(min=0, help="When to end confirming by building again.")] = 20.0,
    output: Output = None,
) -> None:
    """What to ask others for: single changes, ranked by the work that each would let in."""
    problem, plan = _both(problem_file, plan_file)
    compiled.load()
    found = asks_of(problem, plan.placements, most=most, confirm=most, seconds=seconds)
    _write({"week": problem.week, "asks": [wording.ask_document(a, wording.PLAIN) for a in found]}, output)
    for a in found:
        sure = "confirmed" if a.confirmed else "tried"
        console.print(
            f"{a.value:8,.0f} points {a.hours:6.1f} h  {wording.ask(a.found, wording.PLAIN)}  "
            f"({sure}; {len(a.jobs)} jobs)",
            markup=False,
            highlight=False,
        )
