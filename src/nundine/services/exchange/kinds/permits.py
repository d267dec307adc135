"""Permits of work orders: asked for, given for a time, or refused."""

from __future__ import annotations

from collections.abc import Iterator

from nundine.core.lifecycle import PERMIT_STATES
from nundine.services.exchange.cells import key, moment, one_of, text
from nundine.services.exchange.kinds.kind import KEY, Column, Fault, Kind, Known
from nundine.services.ledger.noun import Row


def _check(row: Row, known: Known) -> Iterator[Fault]:
    if row["state"] == "given" and (row["valid_from"] is None or row["valid_to"] is None):
        yield "valid_to", "a permit that is given is valid from a time to a time"
    if row["valid_from"] and row["valid_to"] and row["valid_to"] <= row["valid_from"]:
        yield "valid_to", "must lie after valid_from"


KIND = Kind(
    "permits",
    ("number", "permit"),
    (
        Column("number", KEY, refers="work_orders", example="WO-1042"),
        Column("permit", key(40, ";:/", blanks=False), refers="permit_kinds", example="height"),
        Column("state", one_of(*PERMIT_STATES), "asked", example="asked"),
        Column("valid_from", moment, None),
        Column("valid_to", moment, None),
        Column("remark", text(400), ""),
    ),
    "permit",
    check=_check,
)
