"""The command line: `nundine COMMAND`."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated, Any

import typer
from rich.console import Console
from rich.table import Table

from nundine.core.week.build.builder import Limits, Progress, build
from nundine.core.week.check import check as check_plan
from nundine.core.week.files import plan_document, read_plan, read_problem
from nundine.core.week.problem import ProblemError

app = typer.Typer(no_args_is_help=True, add_completion=False, pretty_exceptions_show_locals=False, help="Builds the weekly crew schedule.")
console = Console(stderr=True)

BAD_FILE, BROKEN_RULES, FAILED = 2, 3, 1


def _json(path: Path) -> Any:
    try:
        return json.loads(path.read_text(encoding="utf-8"))
    except OSError as bad:
        raise SystemExit(_say(f"{path}: can not be read ({bad.strerror}). Give the path of a file that is there.", BAD_FILE)) from bad
    except ValueError as bad:
        raise SystemExit(_say(f"{path}: is not JSON ({bad}).", BAD_FILE)) from bad


def _say(text: str, code: int) -> int:
    console.print(text, style="bold", markup=False, highlight=False)
    return code


def _read(path: Path, read: Any) -> Any:
    try:
        return read(_json(path))
    except ProblemError as bad:
        for error in bad.errors:
            console.print(f"{path}: {error}", markup=False, highlight=False)
        raise SystemExit(_say(f"{len(bad.errors)} errors; nothing was done.", BAD_FILE)) from bad


@app.command()
def solve(
    problem_file: Path,
    output: Annotated[Path | None, typer.Option("-o", "--output", help="Where the plan goes; without it, to standard output.")] = None,
    seconds: Annotated[float, typer.Option(min=0)] = 20.0,
    seed: int = 1,
    iterations: Annotated[int | None, typer.Option(min=0, help="Steps of the search instead of seconds: repeatable.")] = None,
    quiet: bool = False,
) -> None:
    """Build a week from a nundine-week/1 file."""
    problem = _read(problem_file, read_problem)

    def tell(p: Progress) -> None:
        top = f" of at most {p.bound:,.0f}" if p.bound is not None else ""
        console.print(f"{p.seconds:6.1f} s  value {p.value:,.0f}{top}  {p.placed} of {p.jobs} jobs", highlight=False)

    plan = build(problem, limits=Limits(seconds, iterations, 1.0), seed=seed, tell=(lambda _: None) if quiet else tell)
    text = json.dumps(plan_document(plan), ensure_ascii=False, indent=1)
    if output is None:
        print(text)
    else:
        output.write_text(text + "\n", encoding="utf-8")
    share = 100 * (1 - plan.gap)
    console.print(f"{plan.status}: at least {share:.1f} % of what any schedule could hold; {len(plan.not_placed)} jobs left out", highlight=False)


@app.command()
def check(problem_file: Path, plan_file: Path) -> None:
    """Check a plan against a problem, independently of the builder. Exit 3 if it breaks a rule."""
    problem, plan = _read(problem_file, read_problem), _read(plan_file, read_plan)
    result = check_plan(problem, plan.placements)
    table = Table("rule", "what", box=None)
    for broken in result.errors:
        table.add_row(broken.code, broken.text)
    if result.errors:
        console.print(table)
    print(f"value {result.value:.1f}, broken rules {len(result.errors)}, conflicts of fixed placements {len(result.conflicts)}")
    if abs(result.value - plan.value) > 1e-6 * max(1.0, abs(plan.value)):
        raise SystemExit(_say(f"The plan says value {plan.value:.1f}; it is worth {result.value:.1f}.", BROKEN_RULES))
    if result.errors:
        raise SystemExit(BROKEN_RULES)
