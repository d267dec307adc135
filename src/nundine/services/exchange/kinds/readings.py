"""Readings of meters. One below the one before is wrong, unless the meter began again at 0 or was
exchanged."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from datetime import date
from typing import Any

from nundine.core.preventive.meter import FallsBack, counted
from nundine.services.exchange.cells import day, number, text, yes_no
from nundine.services.exchange.kinds.kind import KEY, Column, Fault, Given, Kind, Standing
from nundine.services.ledger.noun import Row

HOURS = "h"
MOST_A_DAY = 24.0
"""Hours that a meter of hours counts in a day at most."""


def _check_all(
    rows: Sequence[Given], given: Mapping[str, Sequence[Given]], before: Standing
) -> Iterator[tuple[Given, Fault]]:
    """Readings of a meter rise; meters of hours count no more than a day has."""
    meters = {m["meter"]: m for m in before["meters"].values()}
    meters |= {g.values["meter"]: g.values for g in given.get("meters", ()) if g.whole}
    fresh: dict[str, dict[date, Given]] = defaultdict(dict)
    for g in rows:
        if before["readings"].get(KIND.key_of(g.values)) != g.values:
            fresh[g.values["meter"]][g.values["day"]] = g
    stand: dict[str, dict[date, Row]] = defaultdict(dict)
    for row in before["readings"].values():
        if row["meter"] in fresh:
            stand[row["meter"]][row["day"]] = row
    for name, news in fresh.items():
        if name not in meters:
            continue  # that it is unknown is told already
        of_day = {**stand[name], **{d: g.values for d, g in news.items()}}
        told = _fault(meters[name], [of_day[d] for d in sorted(of_day)])
        if told is not None:
            at, reason = told
            yield (
                news.get(at) or news[max((d for d in news if d <= at), default=min(news))],
                ("value", reason),
            )


def _fault(meter: Mapping[str, Any], readings: list[Row]) -> tuple[date, str] | None:
    """What is wrong with the readings of a meter, in the order of their days, and at which."""
    exchanges = [(r["day"], r["value"]) for r in readings if r["fresh"]]
    try:
        count = counted([(r["day"], r["value"]) for r in readings], meter["rollover"], exchanges)
    except FallsBack as bad:
        return bad.day, f"{bad}; tick that the meter is new if it was exchanged"
    if meter["unit"] == HOURS:
        for (day_before, low), (at, high) in zip(count.readings, count.readings[1:], strict=False):
            days = (at - day_before).days
            if high - low > MOST_A_DAY * (days + 1):
                return at, f"{high - low:g} h since {day_before} are more than {days} days have"
    return None


KIND = Kind(
    "readings",
    ("meter", "day"),
    (
        Column("meter", KEY, refers="meters", example="H-PV-3"),
        Column("day", day, example="2026-11-20"),
        Column("value", number(0, 10**9), example="4125.5"),
        Column("fresh", yes_no, False, example="no"),
        Column("by", text(120), ""),
        Column("remark", text(400), ""),
    ),
    "reading",
    looks_at=("meters", "readings"),
    check_all=_check_all,
)
