"""A simulated logger at the meters: it writes what each shows on a day into the folder of the feed, as fast
as it counted lately."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from random import Random

from nundine.core.preventive.meter import rate_of
from nundine.services.preventive.meter_feed import FEED
from nundine.store.meter import Meter, Reading
from nundine.store.reading.preventive import counter_of

VARIES = (0.8, 1.2)
"""How far a day's count lies from its usual, as a share."""


def write_file(day: date) -> Path | None:
    """The file of a day, of all meters that were read twice at least and not yet that day; None where there
    is none."""
    lines: list[tuple[str, ...]] = [
        line for line in (_line(m, day) for m in Meter.select().order_by(Meter.key)) if line
    ]
    if not lines:
        return None
    return FEED.put(f"logger-{day}.csv", lines)


def _line(meter: Meter, day: date) -> tuple[str, str, str] | None:
    rows = list(Reading.select().where(Reading.meter == meter).order_by(Reading.day))
    if not rows or rows[-1].day >= day:
        return None
    rate = rate_of(counter_of(meter.rollover, [(r.day, r.value, r.fresh) for r in rows]).readings)
    if rate is None:
        return None
    share = Random(f"{meter.key} {day}").uniform(*VARIES)
    shows = rows[-1].value + rate.a_day * (day - rows[-1].day).days * share
    if meter.rollover:
        shows %= meter.rollover
    return meter.key, day.isoformat(), f"{shows:.1f}"
