"""Assets and what they are part of."""

from __future__ import annotations

from collections.abc import Iterator

from nundine.services.exchange.cells import text, whole, yes_no
from nundine.services.exchange.kinds.kind import ASSET, KEY, NAME, Column, Fault, Kind, Known
from nundine.services.ledger.noun import Row


def _check(row: Row, _: Known) -> Iterator[Fault]:
    if row["parent"] == row["asset"]:
        yield "parent", "an asset can not be part of itself"


KIND = Kind(
    "assets",
    ("asset",),
    (
        Column("asset", ASSET, example="lift-3"),
        Column("name", NAME, example="Saddle chairlift"),
        Column("area", KEY, refers="areas", example="north"),
        Column("parent", ASSET, None, "assets"),
        Column("criticality", whole(1, 10), 5, example="8"),
        Column("limited", yes_no, False, example="yes"),
        Column("one_job_at_a_time", yes_no, False, example="no"),
        Column("in_store", yes_no, False, example="no"),
        Column("cost_account", KEY, None),
        Column("maker", text(120), "", example="Orvaldt"),
        Column("model", text(80), ""),
        Column("serial", text(80), ""),
    ),
    "asset",
    check=_check,
)
