"""The backlog a page at a time, by a few plain questions: the list that Gather shows, asked by programs and
panels."""

from __future__ import annotations

from dataclasses import dataclass

from nundine.core.gates import GATES
from nundine.services.errors import Refused
from nundine.services.listing.listing import Around
from nundine.services.listing.question import Filter, Question, Sort
from nundine.services.listing.rows import ListRow, counted, page
from nundine.services.week.state import WeekState
from nundine.services.work.backlog import Gates, JobRow
from nundine.services.work.backlog_list import backlog_of
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.site import Area

SORTS = ("priority", "number", "due", "hours", "raised", "asset", "title", "kind")
LARGEST = 200
LATE = Filter("due", "between", ("", "week-1"))


@dataclass(frozen=True)
class Asked:
    """A question to the backlog. `ready`: all gates open or not; `placed`: in this week or not; None =
    either."""

    page: int = 1
    size: int = 50
    sort: str = "priority"
    down: bool = True
    search: str = ""
    area: tuple[str, ...] = ()
    craft: tuple[str, ...] = ()
    kind: str | None = None
    ready: bool | None = None
    placed: bool | None = None
    must: bool | None = None
    late: bool | None = None


@dataclass(frozen=True)
class Page:
    total: int
    rows: list[JobRow]


def backlog_page(state: WeekState, account: Account, asked: Asked) -> Page:
    """One page of the backlog with its total. Raises Refused for an order that there is not."""
    if asked.sort not in SORTS:
        raise Refused("sort", f"Sort by one of {', '.join(SORTS)}.", field="sort")
    today = settings().day(state.site.timezone)
    around = Around(account, state.week.name, today, state.problem.days[0], state.zone)
    listing = backlog_of(state, around)
    question = Question(tuple(_filters(asked)), asked.search, (Sort(asked.sort, asked.down),))
    size = min(max(1, asked.size), LARGEST)
    areas = dict(Area.select(Area.key, Area.name).tuples())
    found = page(listing, question, around, (max(1, asked.page) - 1) * size, size)
    return Page(counted(listing, question, around).total, [_job(r, areas) for r in found])


def _filters(asked: Asked) -> list[Filter]:
    """What is asked, column by column."""
    out = [Filter(c, "is", v) for c, v in (("area", asked.area), ("craft", asked.craft)) if v]
    if asked.kind:
        out.append(Filter("kind", "is", (asked.kind,)))
    for column, wanted in (("ready", asked.ready), ("must", asked.must)):
        if wanted is not None:
            out.append(Filter(column, "is", ("yes" if wanted else "no",)))
    if asked.placed is not None:
        out.append(Filter("placed", "not empty" if asked.placed else "empty"))
    return [*out, LATE] if asked.late else out


def _job(row: ListRow, areas: dict[str, str]) -> JobRow:
    c = row.cells
    plain = (
        "number",
        "title",
        "asset",
        "asset_key",
        "kind",
        "state",
        "priority",
        "must",
        "raised",
        "due",
        "hours",
    )
    return JobRow(
        **{name: c[name] for name in plain},
        area=areas[c["area"]],
        hours_by_craft=c["craft"],
        placed=c["placed"],
        elsewhere=c["elsewhere"],
        gates=Gates(**{gate: gate not in c["gates"] for gate in GATES}),
    )
