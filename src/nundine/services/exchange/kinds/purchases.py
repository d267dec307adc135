"""Orders of what is bought."""

from __future__ import annotations

from nundine.core.lifecycle import PURCHASE_STATES
from nundine.services.exchange.cells import day, moment, one_of, text
from nundine.services.exchange.kinds.kind import KEY, Column, Kind

KIND = Kind(
    "purchases",
    ("number",),
    (
        Column("number", KEY, example="PO-1001"),
        Column("supplier", text(120), "", example="Bellweather Drives"),
        Column("state", one_of(*PURCHASE_STATES), "written", example="placed"),
        Column("made", moment, example="2026-11-20 07:30"),
        Column("placed", day, None, example="2026-11-20"),
        Column("by", text(120), ""),
        Column("remark", text(4000), ""),
    ),
    "purchase",
)
