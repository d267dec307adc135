"""Parts: what is kept in storerooms, or bought for a job."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any
from zoneinfo import ZoneInfo

from nundine.formats.bad import BadCell
from nundine.services.exchange.cells import lines, number, one_of, text, whole, yes_no
from nundine.services.exchange.kinds.kind import KEY, Column, Fault, Kind, Known, as_read
from nundine.services.ledger.noun import Row

VALUED = ("average", "standard")
BOTH = " both ways"
MOST = 10**9


def alternates(cell: Any, zone: ZoneInfo) -> tuple[tuple[str, bool], ...]:
    """`B-12; B-13 both ways`: parts that do instead, and whether this one does for them too."""
    out = [(p.removesuffix(BOTH).strip(), p.endswith(BOTH)) for p in lines(cell, zone)]
    if len({name for name, _ in out}) < len(out):
        raise BadCell("a part stands twice")
    return tuple(out)


def _check(row: Row, known: Known) -> Iterator[Fault]:
    for name, _ in row["alternates"]:
        if name == row["part"]:
            yield "alternates", "a part is no alternate of itself"
        elif name not in known["parts"]:
            yield "alternates", f"part {name!r} is unknown"
    if row["valued"] == "standard" and row["price"] is None:
        yield "price", "is needed where the part is valued at it"


KIND = Kind(
    "parts",
    ("part",),
    (
        Column("part", KEY, example="B-6204"),
        Column("name", text(200), example="Ball bearing 6204"),
        Column("unit", text(12), "pcs", example="pcs"),
        Column("group", text(60), "", example="Bearings"),
        Column("maker", text(120), ""),
        Column("maker_number", text(80), ""),
        Column("price", number(0, MOST), None, example="14.5"),
        Column("valued", one_of(*VALUED), "average", example="average"),
        Column("lead_days", whole(0, 2000), None, example="12"),
        Column("minimum", number(0, MOST), 0.0, example="4"),
        Column("reorder", number(0.001, MOST), None, example="10"),
        Column("alternates", alternates, ()),
        Column("tracked", yes_no, True, example="yes"),
        Column("must_use", yes_no, True, example="yes"),
        Column("blocked", yes_no, False, example="no"),
        Column("description", text(4000), ""),
    ),
    "part",
    names=("parts",),
    check=_check,
    complete=as_read("alternates"),
)
