"""Lines of requests to buy."""

from __future__ import annotations

from nundine.services.exchange.cells import key, text
from nundine.services.exchange.kinds import wanted
from nundine.services.exchange.kinds.kind import KEY, Column, Kind

KIND = Kind(
    "buy_lines",
    ("request", "line"),
    (
        Column("request", KEY, refers="buy_requests", example="RB-1001"),
        Column("line", key(20), example="10"),
        *wanted.COLUMNS,
        Column("settled", text(120), ""),
    ),
    "buy line",
    check=wanted.check,
)
