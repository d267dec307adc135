"""Services: each preventive plan on each of its assets, with when each rung was last due and done."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import Any
from zoneinfo import ZoneInfo

from nundine.formats.bad import BadCell
from nundine.services.exchange.cells import day, lines, yes_no
from nundine.services.exchange.kinds.kind import ASSET, KEY, Column, Fault, Kind, Known, as_read
from nundine.services.ledger.noun import Row

Last = tuple[str, str, str | None, str | None]
"""A rung, the start of its cycle, and when it was last due and done, as days."""


def lasts(cell: Any, zone: ZoneInfo) -> tuple[Last, ...]:
    """`monthly 2026-10-20 due 2026-11-20 done 2026-11-23`: the start of its cycle, then the last time."""
    out = []
    for part in lines(cell, zone):
        left, done = _cut(part, " done ", zone)
        left, due = _cut(left, " due ", zone)
        name, _, start = left.rpartition(" ")
        if not name.strip() or (done and not due):
            raise BadCell(f"{part!r}: write a rung, the start of its cycle, then due and done days")
        out.append((name.strip(), str(day(start, zone)), due, done))
    if len({name for name, *_ in out}) < len(out):
        raise BadCell("a rung stands twice")
    return tuple(out)


def moved(cell: Any, zone: ZoneInfo) -> tuple[str, str]:
    """`2026-12-01; 2026-12-08`: the day on which it falls due next, and the one to which that was moved."""
    days = [str(day(part, zone)) for part in lines(cell, zone)]
    if len(days) != 2:
        raise BadCell("write the day on which it falls due and the one to which it was moved, with ; between")
    return days[0], days[1]


def _cut(part: str, word: str, zone: ZoneInfo) -> tuple[str, str | None]:
    left, found, right = part.rpartition(word)
    return (left, str(day(right, zone))) if found else (part, None)


def _check(row: Row, _: Known) -> Iterator[Fault]:
    for name, start, due, _done in row["lasts"]:
        if due and date.fromisoformat(due) < date.fromisoformat(start):
            yield "lasts", f"{name}: it fell due before its cycle began"


KIND = Kind(
    "services",
    ("plan", "asset"),
    (
        Column("plan", KEY, refers="preventive_plans", example="PP-1001"),
        Column("asset", ASSET, refers="assets", example="lift-3"),
        Column("held", yes_no, False, example="no"),
        Column("moved", moved, None),
        Column("lasts", lasts, (), example="monthly 2026-10-20"),
    ),
    "service",
    check=_check,
    complete=as_read("lasts", "moved"),
)
