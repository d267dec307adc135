"""Areas of a site."""

from __future__ import annotations

from nundine.services.exchange.cells import text
from nundine.services.exchange.kinds.kind import KEY, Column, Kind

KIND = Kind(
    "areas",
    ("area",),
    (
        Column("area", KEY, example="north"),
        Column("name", text(120), example="North valley"),
        Column("planning_team", text(60), "", example="Ropeways"),
    ),
    "area",
)
