"""Crafts, with the share of their hours that weeks keep free. Their keys stand in cells like `mech:2; weld:1`
and in addresses."""

from __future__ import annotations

from nundine.services.exchange.cells import day, key, number, text
from nundine.services.exchange.kinds.kind import Column, Kind

KIND = Kind(
    "crafts",
    ("craft",),
    (
        Column("craft", key(40, ";:/", blanks=False), example="mech"),
        Column("name", text(120), example="Ropeway mechanic"),
        Column("held_back", number(0, 1), 0.0, example="0.15"),
        Column("rate", number(0, 10_000), 0.0, example="84"),
        Column("overtime_rate", number(0, 10_000), None, example="105"),
        Column("valid_from", day, None),
        Column("valid_to", day, None),
    ),
    "craft",
)
