"""What differs between two revisions of a week, or between the newest and the week as it stands, as a
list: a row for each seat that is new, gone, or changed in its day, time or person."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from peewee import DateField, FloatField, TextField

from nundine.services.access import READ
from nundine.services.errors import Refused
from nundine.services.listing.choices import areas
from nundine.services.listing.column import Choice, Column, words
from nundine.services.listing.computed import Computed
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.services.week.publish import changes_since
from nundine.services.week.seat_lines import SeatLine
from nundine.services.week.state import load_state
from nundine.store.base import UtcField

WHAT = ("changed", "gone", "new")


class ChangedSeat(Computed):
    """A seat that differs; what ends with `_was` is empty where it does not."""

    key = TextField()
    what = TextField()
    number = TextField()
    title = TextField()
    task = TextField()
    day = DateField()
    day_was = DateField(null=True)
    start = UtcField(null=True)
    end = UtcField(null=True)
    start_was = UtcField(null=True)
    who = TextField(null=True)
    who_was = TextField(null=True)
    craft = TextField()
    area = TextField(null=True)
    hours = FloatField()


@listing("changes", "Differences of a week", READ)
def changes(around: Around) -> Listing:
    """Of a revision against the one before it; of the week as it stands where no revision is named.

    Raises NotFound for a revision that is not there, Refused for what is no number of one.
    """
    number = around.of or "0"
    if not number.isdecimal() or len(number) > 9:
        raise Refused("revision", f"{number[:20]!r} is no revision.", field="of")
    found = changes_since(load_state(around.week), int(number))
    rows = [_row("changed", c.after, c.before, c.what) for c in found.changed]
    rows += [_row("gone", line) for line in found.removed] + [_row("new", line) for line in found.added]
    for n, row in enumerate(rows, start=1):
        row["key"] = str(n)
    C = ChangedSeat
    columns = (
        Column("key", "Difference", "text", C.key, width=60, shown=False),
        Column("what", "What", "choice", C.what, group=True, width=96, weight=1, choices=words(*WHAT)),
        Column("number", "WO", "text", C.number, find=True, group=True, width=84, weight=1),
        Column("title", "Work", "text", C.title, find=True, width=200, weight=1),
        Column("task", "Task", "text", C.task, find=True, width=150, weight=4, shown=False),
        Column("day", "Day", "day", C.day, group=True, width=100, weight=1),
        Column("day_was", "Day before", "day", C.day_was, group=True, width=92, shown=False),
        Column("start", "Time", "moment", C.start, width=150, weight=2),
        Column("start_was", "Time before", "moment", C.start_was, width=150, shown=False),
        Column("who", "Who", "text", C.who, find=True, group=True, width=150, weight=1),
        Column("who_was", "Who before", "text", C.who_was, find=True, group=True, width=130, shown=False),
        Column("craft", "Craft", "choice", C.craft, group=True, width=110, shown=False,
               choices=lambda: [Choice(c, c) for c in sorted({r["craft"] for r in rows})]),
        Column("area", "Area", "choice", C.area, group=True, width=96, shown=False, choices=areas),
        Column("hours", "Hours", "hours", C.hours, total=True, width=70, shown=False),
    )  # fmt: skip

    def more(ids: list[int]) -> dict[int, dict[str, Any]]:
        return {i: {"end": rows[i - 1]["end"] and rows[i - 1]["end"].isoformat()} for i in ids}

    return Listing(columns, C.over(rows), C.id, "key", {}, (Sort("day"), Sort("start")), more)


def _row(
    what: str, line: SeatLine, before: SeatLine | None = None, of: list[str] | None = None
) -> dict[str, Any]:
    differs = of or []
    return {
        "what": what,
        "number": line.job,
        "title": line.title,
        "task": f"{line.task} {line.what}",
        "day": date.fromisoformat(line.day),
        "day_was": date.fromisoformat(before.day) if before and "day" in differs else None,
        "start": _moment(line.start),
        "end": _moment(line.end),
        "start_was": _moment(before.start) if before and "start" in differs else None,
        "who": line.name or "open",
        "who_was": (before.name or "open") if before and "name" in differs else None,
        "craft": line.craft,
        "area": line.area,
        "hours": line.hours,
    }


def _moment(text: str | None) -> datetime | None:
    return datetime.fromisoformat(text) if text else None
