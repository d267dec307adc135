"""Parts lists of assets."""

from __future__ import annotations

from nundine.services.exchange.cells import number, text
from nundine.services.exchange.kinds.kind import ASSET, KEY, Column, Kind

KIND = Kind(
    "asset_parts",
    ("asset", "part"),
    (
        Column("asset", ASSET, refers="assets", example="lift-3"),
        Column("part", KEY, refers="parts", example="B-6204"),
        Column("quantity", number(0.001, 10**6), 1.0, example="2"),
        Column("remark", text(200), "", example="drive side"),
    ),
    "asset part",
)
