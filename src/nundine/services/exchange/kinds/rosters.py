"""Who works by which shift pattern, and from when on."""

from __future__ import annotations

from nundine.services.exchange.cells import day
from nundine.services.exchange.kinds.kind import KEY, Column, Kind

KIND = Kind(
    "rosters",
    ("person", "first"),
    (
        Column("person", KEY, refers="people", example="p01"),
        Column("pattern", KEY, refers="shifts", example="early"),
        Column("first", day, example="2026-11-02"),
        Column("last", day, None),
    ),
    "roster line",
)
