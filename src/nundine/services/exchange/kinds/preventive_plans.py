"""Preventive plans: what recurs on which assets, how often, and with how much notice."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.lifecycle import PREVENTIVE_STATES
from nundine.core.preventive.due import Season
from nundine.core.preventive.rung_text import (
    ladder_of,
    notice_of,
    rung_line,
    rung_of,
    tolerance_days,
    tolerance_of,
)
from nundine.core.priority import MOST_CORRECTION
from nundine.formats.bad import BadCell
from nundine.services.exchange.cells import blank, lines, names, needs, number, one_of, text, whole
from nundine.services.exchange.kinds.kind import KEY, Column, Fault, Kind, Known, as_read
from nundine.services.ledger.noun import Row

WORK = ("preventive", "statutory")
"""Kinds of work that it raises; statutory work must be done."""
RAISES = ("work order", "request")
"""As what its services are raised; a request is decided on by planners."""
LISTS = ("assets", "rungs", "grid", "season", "needs")
Cell = Callable[[Any, ZoneInfo], str]


def rungs(cell: Any, zone: ZoneInfo) -> tuple[str, ...]:
    """Rungs, the lowest first, each as `core.preventive.rung_text` writes it."""
    try:
        return tuple(rung_line(rung_of(line)) for line in lines(cell, zone))
    except ValueError as bad:
        raise BadCell(str(bad)) from None


def grid(cell: Any, zone: ZoneInfo) -> tuple[tuple[str, tuple[str, ...]], ...]:
    """(task, rungs) of tasks that do not belong to all rungs: `10=monthly, yearly; 20=yearly`."""
    out = []
    for part in lines(cell, zone):
        task, sep, belongs = part.partition("=")
        named = tuple(r.strip() for r in belongs.split(",") if r.strip())
        if not sep or not task.strip() or not named:
            raise BadCell(f"{part!r}: write a task and its rungs, like 10=monthly, yearly")
        out.append((task.strip(), named))
    if len({t for t, _ in out}) < len(out):
        raise BadCell("a task stands twice")
    return tuple(out)


def months(cell: Any, zone: ZoneInfo) -> tuple[int, ...]:
    """Months of a season, 1 to 12."""
    found = []
    for part in names(cell, zone):
        if not part.isdigit() or not 1 <= int(part) <= 12:
            raise BadCell(f"{part!r}: write months as 1 to 12, like 5; 6; 7")
        found.append(int(part))
    return tuple(sorted(set(found)))


def days_or_share(read: Callable[[str], tuple[int | None, float | None]]) -> Cell:
    """Days, or a share of the interval."""

    def of_cell(cell: Any, _: ZoneInfo) -> str:
        if blank(cell):
            raise BadCell("is empty")
        value = str(int(cell)) if isinstance(cell, float) and cell.is_integer() else str(cell).strip()
        try:
            days, share = read(value)
        except ValueError as bad:
            raise BadCell(str(bad)) from None
        return str(days) if share is None else f"{round(share * 100)} %"

    return of_cell


def _check(row: Row, known: Known) -> Iterator[Fault]:
    for asset in row["assets"]:
        if asset not in known["assets"]:
            yield "assets", f"asset {asset!r} is unknown"
    try:
        ladder = ladder_of(list(row["rungs"]), row["basis"], Season(), row["together"])
    except ValueError as bad:
        yield "rungs", str(bad)
        return
    for side in ("before", "behind"):
        try:
            tolerance_days(row[side], row["rungs"])
        except ValueError as bad:
            yield side, str(bad)
    for craft, *_ in row["needs"]:
        if craft not in known["crafts"]:
            yield "needs", f"craft {craft!r} is unknown"
    there = {r.name for r in ladder.rungs}
    for task, belongs in row["grid"]:
        unknown = [r for r in belongs if r not in there]
        if unknown:
            yield "grid", f"task {task} belongs to {', '.join(unknown)}, which is no rung of this plan"


KIND = Kind(
    "preventive_plans",
    ("number",),
    (
        Column("number", KEY, example="PP-1001"),
        Column("title", text(200), example="Brake test, monthly and yearly"),
        Column("state", one_of(*PREVENTIVE_STATES), "being written", example="running"),
        Column("kind", one_of(*WORK), "preventive", example="statutory"),
        Column("job_plan", KEY, None, refers="job_plans"),
        Column("crew", text(160), ""),
        Column("assets", names, example="lift-3"),
        Column("basis", one_of("fixed", "floating"), "fixed", example="fixed"),
        Column("rungs", rungs, example="monthly: 1 month"),
        Column("grid", grid, ()),
        Column("season", months, ()),
        Column("outside", one_of("skip", "move"), "skip"),
        Column("together", whole(0, 60), 0),
        Column("before", days_or_share(tolerance_of), "0", example="3"),
        Column("behind", days_or_share(tolerance_of), "0", example="10 %"),
        Column("notice", days_or_share(notice_of), "14", example="14"),
        Column("raises", one_of(*RAISES), "work order", example="work order"),
        Column("hours", number(0.01, 2000), None),
        Column("needs", needs, ()),
        Column("asset_state", one_of("stopped", "running", "any"), "any"),
        Column("correction", number(-MOST_CORRECTION, MOST_CORRECTION), 0.0),
        Column("description", text(4000), ""),
    ),
    "preventive plan",
    names=("assets", "crafts"),
    check=_check,
    complete=as_read(*LISTS),
)
