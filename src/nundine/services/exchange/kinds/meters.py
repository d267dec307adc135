"""Meters of assets: what they count, and where they begin again."""

from __future__ import annotations

from collections.abc import Iterator

from nundine.core.preventive.cycle import UNITS
from nundine.services.exchange.cells import key, number, text
from nundine.services.exchange.kinds.kind import ASSET, KEY, Column, Fault, Kind, Known
from nundine.services.ledger.noun import Row

TIMES = {*UNITS, *(f"{unit}s" for unit in UNITS)}


def _check(row: Row, _: Known) -> Iterator[Fault]:
    if row["unit"].lower() in TIMES or any(c.isdigit() for c in row["unit"]):
        yield "unit", "must be what a meter counts, like h, km or starts, without figures"


KIND = Kind(
    "meters",
    ("meter",),
    (
        Column("meter", KEY, example="H-PV-3"),
        Column("name", text(120), example="Engine hours"),
        Column("asset", ASSET, refers="assets", example="lift-3"),
        Column("unit", key(12, ";:/,", blanks=False), example="h"),
        Column("rollover", number(1, 10**9), None, example="100000"),
    ),
    "meter",
    check=_check,
)
