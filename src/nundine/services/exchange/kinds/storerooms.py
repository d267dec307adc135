"""Storerooms, where parts lie."""

from __future__ import annotations

from nundine.services.exchange.cells import text
from nundine.services.exchange.kinds.kind import KEY, Column, Kind

KIND = Kind(
    "storerooms",
    ("storeroom",),
    (
        Column("storeroom", KEY, example="main"),
        Column("name", text(120), example="Main storeroom"),
        Column("area", KEY, None, refers="areas"),
    ),
    "storeroom",
)
