"""Kinds of permit that work may need."""

from __future__ import annotations

from nundine.services.exchange.cells import key, text
from nundine.services.exchange.kinds.kind import Column, Kind

KIND = Kind(
    "permit_kinds",
    ("permit",),
    (
        Column("permit", key(40, ";:/", blanks=False), example="height"),
        Column("name", text(120), example="Work at height"),
        Column("asks", text(400), "", example="Rope and anchor checked; second person on the ground"),
    ),
    "permit kind",
)
