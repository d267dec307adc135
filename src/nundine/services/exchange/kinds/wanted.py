"""What lines of requests to buy and of orders say alike."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.parts.stock import DIGITS
from nundine.services.exchange.cells import day, number, text
from nundine.services.exchange.kinds.kind import KEY, Column, Fault, Known
from nundine.services.ledger.noun import Row

MOST = 10**9


def quantity(cell: Any, zone: ZoneInfo) -> float:
    """More than 0, to a thousandth."""
    found: float = round(number(0.001, MOST)(cell, zone), DIGITS)
    return found


COLUMNS = (
    Column("part", KEY, None, refers="parts", example="B-6204"),
    Column("words", text(200), ""),
    Column("quantity", quantity, example="4"),
    Column("price", number(0, MOST), None, example="14.2"),
    Column("storeroom", KEY, None, refers="storerooms", example="main"),
    Column("order", KEY, None, refers="work_orders"),
    Column("day", day, None, example="2026-12-04"),
)


def check(row: Row, _: Known) -> Iterator[Fault]:
    if row["part"] is None and not row["words"].strip():
        yield "part", "is empty; name a part, or say in words what is wanted"
    if (row["storeroom"] is None) == (row["order"] is None):
        yield "storeroom", "say either the storeroom or the WO that gets it"
    if row["storeroom"] is not None and row["part"] is None:
        yield "storeroom", "keeps parts alone; what is said in words goes to a WO"
