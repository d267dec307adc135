"""Requests to buy."""

from __future__ import annotations

from nundine.core.lifecycle import BUY_STATES
from nundine.services.exchange.cells import moment, one_of, text
from nundine.services.exchange.kinds.kind import KEY, Column, Kind

KIND = Kind(
    "buy_requests",
    ("number",),
    (
        Column("number", KEY, example="RB-1001"),
        Column("state", one_of(*BUY_STATES), "written", example="asked"),
        Column("made", moment, example="2026-11-20 07:30"),
        Column("by", text(120), "", example="Rudi Kemper"),
        Column("decided", text(120), ""),
        Column("remark", text(4000), ""),
    ),
    "buy request",
)
