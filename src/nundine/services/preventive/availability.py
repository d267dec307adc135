"""Hours that crafts have in weeks and days to come, as their people's rosters say."""

from __future__ import annotations

from collections import defaultdict
from datetime import date, timedelta
from zoneinfo import ZoneInfo

from nundine.core.timeline import Interval, week_name
from nundine.store.reading.people import load_people
from nundine.store.site import Craft, site


def hours_by_day(first: date, last: date) -> dict[tuple[str, date], float]:
    """Hours by craft and day: people by their main craft, their shifts less absences and standing times, with
    the share that the craft holds back taken off; accepted overtime counts whole."""
    zone = ZoneInfo(site().timezone)
    held_back = dict(Craft.select(Craft.key, Craft.held_back).tuples())
    out: dict[tuple[str, date], float] = defaultdict(float)
    monday = first - timedelta(days=first.weekday())
    while monday <= last:
        for person in load_people(week_name(monday), zone):
            if not person.crafts:
                continue
            free = 1 - held_back.get(person.main_craft, 0.0)
            for span in person.hours:
                if first <= span.day <= last:
                    hours = Interval(span.start, span.end).hours
                    out[(person.main_craft, span.day)] += hours if span.overtime else hours * free
        monday += timedelta(weeks=1)
    return dict(out)
