"""Who stands in for people who are away: it begins and ends with their absence."""

from __future__ import annotations

from collections.abc import Collection
from datetime import date, time
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.timeline import at_local
from nundine.store.roster import Absence, Person
from nundine.store.site import site

NOON = time(12)


def standing_in(days: Collection[date]) -> dict[tuple[str, date], str]:
    """By name and day who stands in, by name, for those who are away at noon and said who."""
    if not days:
        return {}
    zone = ZoneInfo(site().timezone)
    other: Any = Person.alias("other")
    noons = {day: at_local(day, NOON, zone) for day in days}
    rows = (
        Absence.select(Person.name, other.name, Absence.start, Absence.end)
        .join(Person, on=Absence.person == Person.id)
        .join(other, on=Absence.stand_in == other.id, src=Absence)
        .where((Absence.start <= max(noons.values())) & (Absence.end > min(noons.values())))
        .tuples()
    )
    return {
        (name, day): stands_in
        for name, stands_in, start, end in rows
        for day, noon in noons.items()
        if start <= noon < end
    }
