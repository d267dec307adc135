"""Occurrences: services that were raised, with their WOs and what became of them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.lifecycle import OCCURRENCE_STATES
from nundine.formats.bad import BadCell
from nundine.services.exchange.cells import day, lines, one_of, text
from nundine.services.exchange.kinds.kind import ASSET, KEY, Column, Fault, Kind, Known, as_read
from nundine.services.exchange.kinds.services import lasts
from nundine.services.ledger.noun import Row


def fallen_due(cell: Any, zone: ZoneInfo) -> tuple[tuple[str, str], ...]:
    """Rungs, the highest first, each with the day on which it fell due: `yearly 2026-11-25; monthly …`."""
    out = []
    for part in lines(cell, zone):
        name, _, when = part.rpartition(" ")
        if not name.strip():
            raise BadCell(f"{part!r}: write a rung and the day on which it fell due")
        out.append((name.strip(), str(day(when, zone))))
    return tuple(out)


def _check(row: Row, _: Known) -> Iterator[Fault]:
    if (row["state"] == "done") != (row["done"] is not None):
        yield "done", "stands there where it was done, and nowhere else"


KIND = Kind(
    "occurrences",
    ("plan", "asset", "due"),
    (
        Column("plan", KEY, refers="preventive_plans", example="PP-1001"),
        Column("asset", ASSET, refers="assets", example="lift-3"),
        Column("due", day, example="2026-11-20"),
        Column("rungs", fallen_due, example="monthly 2026-11-20"),
        Column("state", one_of(*OCCURRENCE_STATES), "raised", example="raised"),
        Column("done", day, None),
        Column("order", KEY, None, refers="work_orders"),
        Column("request", KEY, None, refers="requests"),
        Column("lasts", lasts, ()),
        Column("reason", text(400), ""),
    ),
    "occurrence",
    check=_check,
    complete=as_read("rungs", "lasts"),
)
