"""Overtime that people offer."""

from __future__ import annotations

from nundine.services.exchange.cells import moment
from nundine.services.exchange.kinds.kind import KEY, Column, Kind, ends_after_start

KIND = Kind(
    "overtime",
    ("person", "start"),
    (
        Column("person", KEY, refers="people", example="p01"),
        Column("start", moment, example="2026-12-05 07:00"),
        Column("end", moment, example="2026-12-05 13:00"),
    ),
    "overtime",
    check=ends_after_start,
)
