"""Readings of meters that come by themselves: loggers put files into a folder of the site, each hour they are
taken in."""

from __future__ import annotations

from datetime import date

from nundine.services.background.periodic import Hourly, periodic
from nundine.services.exchange import importing
from nundine.services.exchange.feed import BadLine, Fed, Feed
from nundine.services.exchange.forms import Cells, filled
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Change, Edit
from nundine.services.numbering import PREVENTIVE_PLANS, turn
from nundine.settings import settings
from nundine.store.site import site

STREAM = "meter feed"


@periodic("meter feed", "readings of meters that come by themselves", Hourly(10))
def take_each_hour() -> list[Fed]:
    return FEED.take()


def _keep(lines: list[Cells], name: str) -> tuple[int, list[BadLine]]:
    turn(PREVENTIVE_PLANS)
    changes, bad_lines = _right(lines)
    if changes:
        label = f"{len(changes)} readings came in with {name}"
        write(STREAM, None, Edit("reading", label, changes), checked=True)
    return len(changes), bad_lines


FEED = Feed("meters", STREAM, "reading", "the loggers", ("meter", "day", "value"), _keep)


def _right(lines: list[Cells]) -> tuple[list[Change], list[BadLine]]:
    """What the lines that can be right change, and those that can not be."""
    bad = [BadLine(line, "is still to come") for line in lines if _to_come(line["day"])]
    good = [line for line in lines if not _to_come(line["day"])]
    while good:
        cells = [filled({**line, "fresh": "no", "by": "logger", "remark": ""}) for line in good]
        report, changes = importing.checked_rows({"readings": cells})
        if not report.errors:
            return changes, bad
        wrong = {(e.row or 1) - 1: e.reason for e in reversed(report.errors)}
        bad += [BadLine(good[n], reason) for n, reason in sorted(wrong.items())]
        good = [line for n, line in enumerate(good) if n not in wrong]
    return [], bad


def _to_come(day: str) -> bool:
    try:
        return date.fromisoformat(day) > settings().day(site().timezone)
    except ValueError:
        return False  # reading it says what is wrong
