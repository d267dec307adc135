"""Tools of which a site has few."""

from __future__ import annotations

from nundine.services.exchange.cells import text, whole, yes_no
from nundine.services.exchange.kinds.kind import KEY, Column, Kind

KIND = Kind(
    "tools",
    ("tool",),
    (
        Column("tool", KEY, example="crane"),
        Column("name", text(120), example="Mobile crane"),
        Column("count", whole(0, 999), 1, example="1"),
        Column("vehicle", yes_no, False, example="yes"),
    ),
    "tool",
)
