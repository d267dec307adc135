"""Lines of orders, with what came of each."""

from __future__ import annotations

from nundine.services.exchange.cells import key, number, text, yes_no
from nundine.services.exchange.kinds import wanted
from nundine.services.exchange.kinds.kind import KEY, Column, Kind

KIND = Kind(
    "purchase_lines",
    ("purchase", "line"),
    (
        Column("purchase", KEY, refers="purchases", example="PO-1001"),
        Column("line", key(20), example="10"),
        *wanted.COLUMNS,
        Column("request", KEY, None, refers="buy_requests"),
        Column("request_line", text(20), ""),
        Column("confirmed", yes_no, False, example="yes"),
        Column("noted", number(0, wanted.MOST), 0.0, example="0"),
        Column("received", number(0, wanted.MOST), 0.0, example="0"),
        Column("awaited", yes_no, True, example="yes"),
    ),
    "purchase line",
    check=wanted.check,
)
