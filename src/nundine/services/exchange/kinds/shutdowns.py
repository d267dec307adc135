"""Shutdowns: dated overhauls and closures on which work hangs."""

from __future__ import annotations

from collections.abc import Iterator

from nundine.services.exchange.cells import day, key, text, yes_no
from nundine.services.exchange.kinds.kind import KEY, Column, Fault, Kind, Known
from nundine.services.ledger.noun import Row


def _check(row: Row, _: Known) -> Iterator[Fault]:
    if row["last"] < row["first"]:
        yield "last", "must not lie before first"


KIND = Kind(
    "shutdowns",
    ("shutdown",),
    (
        Column("shutdown", KEY, example="AUT-27"),
        Column("name", text(120), example="Autumn overhaul 2027"),
        Column("series", key(40, ";:/,+-"), "", example="autumn"),
        Column("first", day, example="2027-11-02"),
        Column("last", day, example="2027-11-20"),
        Column("moves_work", yes_no, True, example="yes"),
    ),
    "shutdown",
    check=_check,
)
