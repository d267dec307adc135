"""Minutes from one area to another, the same both ways."""

from __future__ import annotations

from collections.abc import Iterator

from nundine.services.exchange.cells import whole
from nundine.services.exchange.kinds.kind import KEY, Column, Fault, Kind, Known
from nundine.services.ledger.noun import Row


def _check(row: Row, _: Known) -> Iterator[Fault]:
    if row["from"] == row["to"]:
        yield "to", "a way leads from one area to another"


def _tidy(row: Row) -> Row:
    first, last = sorted((row["from"], row["to"]))
    return {**row, "from": first, "to": last}


KIND = Kind(
    "ways",
    ("from", "to"),
    (
        Column("from", KEY, refers="areas"),
        Column("to", KEY, refers="areas"),
        Column("minutes", whole(0, 600)),
    ),
    "way",
    check=_check,
    tidy=_tidy,
)
