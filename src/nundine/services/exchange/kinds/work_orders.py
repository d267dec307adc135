"""Work orders."""

from __future__ import annotations

from collections.abc import Iterator

from nundine.core.priority import KINDS as WORK_KINDS
from nundine.core.priority import MOST_CORRECTION
from nundine.services.exchange.cells import (
    day,
    lines,
    moment,
    names,
    number,
    one_of,
    shares,
    text,
    whole,
    yes_no,
)
from nundine.services.exchange.kinds.kind import ASSET, KEY, Column, Fault, Kind, Known, as_read
from nundine.services.ledger.noun import Row
from nundine.store.work_order import PERMITS, STATES


def unknown_permits(row: Row, known: Known) -> Iterator[Fault]:
    """Kinds of permit that the site does not have."""
    for kind in row["permits"]:
        if kind not in known["permit_kinds"]:
            yield "permits", f"permit {kind!r} is unknown"


def _check(row: Row, known: Known) -> Iterator[Fault]:
    for asset, _ in row["shares"]:
        if asset not in known["assets"]:
            yield "shares", f"asset {asset!r} is unknown"
        elif asset == row["asset"]:
            yield "shares", f"{asset} is the WO's own asset, which bears what the others leave"
    yield from unknown_permits(row, known)


KIND = Kind(
    "work_orders",
    ("number",),
    (
        Column("number", KEY, example="WO-1042"),
        Column("title", text(200), example="Replace sheave bearing"),
        Column("asset", ASSET, refers="assets", example="lift-3"),
        Column("kind", one_of(*WORK_KINDS), example="corrective"),
        Column("state", one_of(*STATES), "approved", example="approved"),
        Column("raised", day, example="2026-10-12"),
        Column("must", yes_no, False, example="no"),
        Column("divisible", yes_no, False, example="no"),
        Column("put_back", yes_no, False, example="no"),
        Column("earliest", moment, None),
        Column("due", moment, None, example="2026-12-04 18:00"),
        Column("latest", moment, None),
        Column("parts_ready", day, None),
        Column("parts_unknown", yes_no, False, example="no"),
        Column("permit", one_of(*PERMITS), "not needed", example="not needed"),
        Column("permits", names, ()),
        Column("isolation", lines, ()),
        Column("description", text(4000), ""),
        Column("sub_kind", text(40), ""),
        Column("department", text(60), ""),
        Column("crew", text(160), ""),
        Column("contact", text(120), ""),
        Column("cost_account", KEY, None),
        Column("correction", number(-MOST_CORRECTION, MOST_CORRECTION), 0.0),
        Column("shares", shares, ()),
        Column("plan", KEY, None, refers="job_plans"),
        Column("plan_edition", whole(1, 9999), None),
        Column("plan_from", text(100), ""),
        Column("shutdown", KEY, None, refers="shutdowns"),
        Column("kit", text(60), ""),
    ),
    "work order",
    names=("assets", "permit_kinds"),
    check=_check,
    complete=as_read("shares", "permits", "isolation"),
)
