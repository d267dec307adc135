"""Hours in which people are away, and why."""

from __future__ import annotations

from collections.abc import Iterator

from nundine.services.exchange.cells import moment, one_of
from nundine.services.exchange.kinds.kind import KEY, Column, Fault, Kind, Known, ends_after_start
from nundine.services.ledger.noun import Row


def _check(row: Row, known: Known) -> Iterator[Fault]:
    yield from ends_after_start(row, known)
    if row["stand_in"] == row["person"]:
        yield "stand_in", "nobody stands in for himself or herself"


KIND = Kind(
    "absences",
    ("person", "start"),
    (
        Column("person", KEY, refers="people", example="p01"),
        Column("start", moment, example="2026-12-03 00:00"),
        Column("end", moment, example="2026-12-05 00:00"),
        Column("reason", one_of("sick", "leave", "training", "other"), "other", example="leave"),
        Column("stand_in", KEY, None, refers="people"),
    ),
    "absence",
    check=_check,
    hidden=lambda row: {**row, "reason": "other"},
)
