"""Work requests."""

from __future__ import annotations

from nundine.core.lifecycle import REQUEST_STATES
from nundine.core.priority import URGENCIES
from nundine.services.exchange.cells import moment, one_of, text
from nundine.services.exchange.kinds.kind import ASSET, KEY, NAME, Column, Kind

KIND = Kind(
    "requests",
    ("number",),
    (
        Column("number", KEY, example="R-1001"),
        Column("title", text(200), example="Door of cabin 14 closes slowly"),
        Column("asset", ASSET, None, refers="assets", example="lift-3"),
        Column("place", NAME, ""),
        Column("urgency", one_of(*URGENCIES), "when it fits", example="this week"),
        Column("state", one_of(*REQUEST_STATES), "new", example="new"),
        Column("raised", moment, example="2026-11-24 07:40"),
        Column("reporter", text(120), "", example="Olivia Thorne"),
        Column("order", KEY, None, refers="work_orders"),
        Column("description", text(4000), ""),
    ),
    "request",
)
