"""Shift patterns: the hours of each day of a cycle. A row also says how long its pattern's cycle is."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from nundine.services.exchange.cells import clock, whole
from nundine.services.exchange.kinds.kind import KEY, Column, Fault, Kind, Known
from nundine.services.ledger.edits import Change
from nundine.services.ledger.noun import Key, Row
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.stored import changes_to


def _check(row: Row, _: Known) -> Iterator[Fault]:
    if row["day"] > row["cycle_days"]:
        yield "day", f"lies outside the cycle of {row['cycle_days']} days"


def _complete(records: list[Row]) -> list[Row]:
    cycles = {r["pattern"]: r["cycle_days"] for r in NOUNS["shift pattern"].read().values()}
    return [{**r, "cycle_days": cycles[r["pattern"]]} for r in records]


def _patterns(rows: list[Row]) -> list[Change]:
    cycles: dict[Key, Any] = {(r["pattern"],): {"cycle_days": r["cycle_days"]} for r in rows}
    return changes_to("shift pattern", cycles)


KIND = Kind(
    "shifts",
    ("pattern", "day", "start"),
    (
        Column("pattern", KEY, example="early"),
        Column("cycle_days", whole(1, 366), 7, example="7"),
        Column("day", whole(1, 366), example="1"),
        Column("start", clock, example="06:00"),
        Column("end", clock, example="14:00"),
        Column("standing_minutes", whole(0, 600), 0, example="15"),
    ),
    "shift",
    check=_check,
    complete=_complete,
    more=_patterns,
)
