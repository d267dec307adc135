"""Movements of parts, from which follows what lies where. None may take more from a place than lies there."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.parts.stock import DIGITS, KINDS, Move, NotThere, Position, after
from nundine.services.exchange.cells import moment, number, one_of, text
from nundine.services.exchange.kinds.kind import KEY, Column, Fault, Given, Kind, Known, Standing
from nundine.services.ledger.noun import Row

MOST = 10**9


def quantity(cell: Any, zone: ZoneInfo) -> float:
    """To a thousandth; less than 0 for what leaves its place."""
    found: float = round(number(-MOST, MOST)(cell, zone), DIGITS)
    return found


def _check(row: Row, _: Known) -> Iterator[Fault]:
    if not row["quantity"]:
        yield "quantity", "must not be 0"
    if row["kind"] in ("receipt", "give-back") and row["quantity"] < 0:
        yield "quantity", f"a {row['kind']} brings parts; write it without the minus"
    if row["kind"] in ("hand-out", "return") and row["quantity"] > 0:
        yield "quantity", f"a {row['kind']} takes parts; write it with a minus"
    if row["kind"] == "straight" and not row["order"]:
        yield "order", "is empty; say to which WO they went straight"
    if (row["storeroom"] is None) != (row["kind"] == "straight"):
        yield "storeroom", "must be empty for what went straight to a WO, and filled for all else"


def _check_all(
    rows: Sequence[Given], _: Mapping[str, Sequence[Given]], before: Standing
) -> Iterator[tuple[Given, Fault]]:
    """In the order of time, then of numbers, no place is left with less than nothing."""
    fresh = {g.values["number"]: g for g in rows}
    of_part: dict[str, dict[str, Row]] = defaultdict(dict)
    touched = {g.values["part"] for g in rows}
    for (name,), row in before["movements"].items():
        if row["part"] in touched and name not in fresh:
            of_part[row["part"]][name] = row
    for name, g in fresh.items():
        of_part[g.values["part"]][name] = g.values
    for movements in of_part.values():
        position = Position()
        for row in sorted(movements.values(), key=in_turn):
            if row["storeroom"] is None:
                continue
            try:
                position = after(position, move_of(row))
            except NotThere as bad:
                at = fresh.get(row["number"]) or next(g for g in rows if g.values["part"] == row["part"])
                yield at, ("quantity", f"{row['number']} takes too much: {bad} in {', '.join(bad.place)}")
                break


def in_turn(row: Row) -> tuple[Any, ...]:
    """How movements come one after another."""
    return row["at"], len(row["number"]), row["number"]


def move_of(row: Row) -> Move:
    """A movement as the core reads it."""
    place = (row["storeroom"], row["shelf"], row["lot"])
    return Move(row["kind"], place, row["quantity"], row["price"])


KIND = Kind(
    "movements",
    ("number",),
    (
        Column("number", KEY, example="M-1001"),
        Column("at", moment, example="2026-11-20 07:30"),
        Column("kind", one_of(*KINDS), example="receipt"),
        Column("part", KEY, refers="parts", example="B-6204"),
        Column("storeroom", KEY, None, refers="storerooms", example="main"),
        Column("shelf", text(40), "", example="A-12"),
        Column("lot", text(40), ""),
        Column("quantity", quantity, example="10"),
        Column("price", number(0, MOST), None, example="14.2"),
        Column("order", KEY, None, refers="work_orders"),
        Column("by", text(120), ""),
        Column("reason", text(400), ""),
        Column("purchase", text(64), "", example="PO-1001/10"),
    ),
    "movement",
    looks_at=("movements",),
    check=_check,
    check_all=_check_all,
)
