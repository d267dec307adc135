"""Hours in which people are away, and why."""

from __future__ import annotations

from nundine.services.exchange.cells import moment, one_of
from nundine.services.exchange.kinds.kind import KEY, Column, Kind, ends_after_start

KIND = Kind(
    "absences",
    ("person", "start"),
    (
        Column("person", KEY, refers="people", example="p01"),
        Column("start", moment, example="2026-12-03 00:00"),
        Column("end", moment, example="2026-12-05 00:00"),
        Column("reason", one_of("sick", "leave", "training", "other"), "other", example="leave"),
    ),
    "absence",
    check=ends_after_start,
    hidden=lambda row: {**row, "reason": "other"},
)
