"""Job plans."""

from __future__ import annotations

from collections.abc import Iterator

from nundine.core.lifecycle import PLAN_STATES
from nundine.core.priority import KINDS as WORK_KINDS
from nundine.services.exchange.cells import day, lines, names, one_of, text, whole, yes_no
from nundine.services.exchange.kinds.kind import KEY, Column, Fault, Kind, Known, as_read
from nundine.services.exchange.kinds.work_orders import unknown_permits
from nundine.services.ledger.noun import Row
from nundine.store.work_order import PERMITS


def _check(row: Row, known: Known) -> Iterator[Fault]:
    for asset in row["assets"]:
        if asset not in known["assets"]:
            yield "assets", f"asset {asset!r} is unknown"
    yield from unknown_permits(row, known)


KIND = Kind(
    "job_plans",
    ("number",),
    (
        Column("number", KEY, example="JP-1001"),
        Column("title", text(200), example="Replace sheave bearing"),
        Column("kind", one_of(*WORK_KINDS), "corrective", example="corrective"),
        Column("state", one_of(*PLAN_STATES), "being written", example="in force"),
        Column("edition", whole(1, 9999), 1, example="1"),
        Column("valid_from", day, None),
        Column("assets", names, (), example="lift-3"),
        Column("words", text(200), "", example="tower"),
        Column("divisible", yes_no, False, example="no"),
        Column("put_back", yes_no, False, example="no"),
        Column("permit", one_of(*PERMITS), "not needed", example="not needed"),
        Column("permits", names, ()),
        Column("isolation", lines, ()),
        Column("description", text(4000), ""),
        Column("sites", names, ()),
    ),
    "job plan",
    names=("assets", "permit_kinds"),
    check=_check,
    complete=as_read("assets", "permits", "isolation", "sites"),
)
