"""People with their crafts and certificates."""

from __future__ import annotations

from collections.abc import Iterator

from nundine.services.exchange.cells import certificates, crafts, key, text
from nundine.services.exchange.kinds.kind import KEY, Column, Fault, Kind, Known
from nundine.services.ledger.noun import Row


def _check(row: Row, known: Known) -> Iterator[Fault]:
    if not row["crafts"]:
        yield "crafts", "a person has at least one craft"
    for craft, _ in row["crafts"]:
        if craft not in known["crafts"]:
            yield "crafts", f"craft {craft!r} is unknown"


KIND = Kind(
    "people",
    ("person",),
    (
        Column("person", key(40, ";/"), example="p01"),
        Column("name", text(120), example="Ilse Brandner"),
        Column("area", KEY, None, "areas", "north"),
        Column("crew", text(60), None, example="North 1"),
        Column("crafts", crafts, example="mech:3"),
        Column("certificates", certificates, (), example="rope:2027-01-31"),
    ),
    "person",
    names=("crafts",),
    check=_check,
)
