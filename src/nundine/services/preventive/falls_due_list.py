"""What falls due in a range of days as a list: a row an occurrence, raised, done, left out or to come."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta
from typing import Any

from peewee import BooleanField, DateField, FloatField, TextField

from nundine.core.lifecycle import OCCURRENCE_STATES
from nundine.core.timeline import week_name
from nundine.services.access import READ, areas_of
from nundine.services.errors import Refused
from nundine.services.listing.choices import areas
from nundine.services.listing.column import Column, words
from nundine.services.listing.computed import Computed
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.services.preventive.forecasting import lines_of, range_of
from nundine.services.preventive.service_list import KEY_AND_ASSET
from nundine.services.preventive.weeks_ahead import TO_COME, ForecastLine

DAYS, MOST = 28, 60_000
"""How far it reaches where nothing else is asked; and how many rows it tells at most."""


class FallsDue(Computed):
    """An occurrence."""

    key = TextField()
    day = DateField()
    week = TextField()
    month = TextField()
    plan = TextField()
    title = TextField()
    rungs = TextField()
    kind = TextField()
    asset = TextField()
    area = TextField()
    crew = TextField(null=True)
    hours = FloatField()
    state = TextField()
    raised = TextField(null=True)
    done = DateField(null=True)
    can_raise = BooleanField()


@listing("falls due", "What falls due", READ)
def falls_due(around: Around) -> Listing:
    """From a day on for so many days, of the areas that one looks at: `2026-11-23 364`, and of what a person
    could take part in `2026-11-23 364 karl`; where nothing is named, four weeks from the week's Monday.

    Raises Refused for what is no range, and for more than can be told.
    """
    lines = lines_of(*_asked(around), areas_of(around.account))
    if len(lines) > MOST:
        text = f"{len(lines)} services fall due in these days, and a list holds {MOST}. Choose fewer days."
        raise Refused("days", text, field="of")
    F = FallsDue
    columns = (
        Column("key", "Occurrence", "text", F.key, width=130, shown=False),
        Column("day", "Falls due", "day", F.day, group=True, width=100, weight=1),
        Column("week", "Week", "text", F.week, group=True, width=84, weight=4),
        Column("month", "Month", "text", F.month, group=True, width=84, shown=False),
        Column("title", "Work", "text", F.title, find=True, group=True, width=220, weight=1),
        Column("rungs", "Rungs", "text", F.rungs, find=True, group=True, width=110, weight=3,
               hint="The highest first, with those that it takes in"),
        Column("asset", "Asset", "text", F.asset, find=True, group=True, width=180, weight=1),
        Column("area", "Area", "choice", F.area, group=True, width=96, weight=3, choices=areas),
        Column("crew", "Answerable", "text", F.crew, find=True, group=True, width=110, weight=3),
        Column("hours", "Hours", "hours", F.hours, total=True, width=76, weight=1),
        Column("state", "State", "choice", F.state, group=True, width=90, weight=2,
               choices=words(TO_COME, *OCCURRENCE_STATES)),
        Column("raised", "Raised as", "text", F.raised, find=True, width=96, weight=1),
        Column("done", "Done", "day", F.done, width=96, weight=2),
        Column("plan", "Plan", "text", F.plan, find=True, group=True, width=84, weight=4),
        Column("kind", "Kind", "choice", F.kind, group=True, width=96, shown=False,
               choices=words("preventive", "statutory")),
        Column("can_raise", "Comes next", "yes", F.can_raise, group=True, width=84, shown=False,
               hint="It is what falls due next of its service, and nothing of that is raised"),
    )  # fmt: skip

    def more(ids: list[int]) -> dict[int, dict[str, Any]]:
        return {i: {"order": lines[i - 1].order, "request": lines[i - 1].request} for i in ids}

    return Listing(columns, F.over(_rows(lines)), F.id, "key", {}, (Sort("day"),), more)


def _asked(around: Around) -> tuple[date, date, str | None]:
    """First and last day, and the person."""
    if not around.of:
        return *range_of(around.monday, DAYS), None
    first, days, person, *_ = (*around.of.split(" ", 2), "", "")
    try:
        return *range_of(date.fromisoformat(first), int(days)), person or None
    except ValueError as bad:
        raise Refused("days", f"{around.of[:40]!r} is no range of days.", field="of") from bad


def _rows(lines: Iterable[ForecastLine]) -> Iterable[dict[str, Any]]:
    for line in lines:
        of = line.service
        yield {
            "key": f"{of.plan}{KEY_AND_ASSET}{of.asset}{KEY_AND_ASSET}{line.day}",
            "day": line.day,
            "week": week_name(line.day - timedelta(days=line.day.weekday())),
            "month": f"{line.day:%Y-%m}",
            "plan": of.plan,
            "title": of.title,
            "rungs": ", ".join(line.work.rungs),
            "kind": of.kind,
            "asset": of.asset_name,
            "area": of.area,
            "crew": of.crew or None,
            "hours": round(sum(line.hours.values()), 2),
            "state": line.state,
            "raised": line.order or line.request,
            "done": line.done,
            "can_raise": line.can_raise,
        }
