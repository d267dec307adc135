"""People with their hours of a week."""

from __future__ import annotations

from collections.abc import Set
from datetime import date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core import roster as core_roster
from nundine.core.roster import WorkInterval, working_hours
from nundine.core.timeline import Interval, week_interval, week_monday
from nundine.core.week import problem as core
from nundine.store.reading.rows import grouped, keys_of
from nundine.store.roster import (
    Absence,
    ExtraShift,
    Loan,
    OvertimeOffer,
    PatternShift,
    Person,
    PersonCertificate,
    PersonCraft,
    RosterLine,
    ShiftPattern,
)
from nundine.store.site import Area, Craft


def patterns() -> dict[int, core_roster.ShiftPattern]:
    """Shift patterns by row id."""
    rows = grouped(
        PatternShift.select().order_by(PatternShift.day_index, PatternShift.start).dicts(), "pattern"
    )
    return {
        p.id: core_roster.ShiftPattern(
            p.key,
            p.cycle_days,
            tuple(
                core_roster.PatternShift(
                    s["day_index"], _clock(s["start"]), _clock(s["end"]), s["standing_minutes"]
                )
                for s in rows[p.id]
            ),
        )
        for p in ShiftPattern.select()
    }


def _clock(value: time | timedelta) -> time:
    return value if isinstance(value, time) else (datetime.min + value).time()


def load_people(week: str, zone: ZoneInfo, only: Set[str] | None = None) -> tuple[core.Person, ...]:
    """Everybody, or those with these keys, with hours of the week's shifts; a shift on Sunday night counts
    whole."""
    monday, span = week_monday(week), week_interval(week, zone)
    until = span.end + timedelta(days=1)
    chosen = Person.select().order_by(Person.key)
    if only is not None:
        chosen = chosen.where(Person.key.in_(sorted(only) or [""]))
    rows = list(chosen.dicts())
    ids = [p["id"] for p in rows] or [0]

    def theirs(query: Any, table: Any) -> dict[int, list[dict[str, Any]]]:
        return grouped((query if only is None else query.where(table.person.in_(ids))).dicts(), "person")

    kinds, areas, crafts = patterns(), keys_of(Area), keys_of(Craft)
    sunday = monday + timedelta(days=6)
    levels = theirs(PersonCraft.select().order_by(PersonCraft.rank), PersonCraft)
    held = theirs(PersonCertificate.select().order_by(PersonCertificate.certificate), PersonCertificate)
    lines = theirs(RosterLine.select(), RosterLine)
    away = theirs(Absence.select().where((Absence.start < until) & (Absence.end > span.start)), Absence)
    extra, more = (
        theirs(t.select().where((t.start < span.end) & (t.end > span.start)), t)  # type: ignore[attr-defined]
        for t in (OvertimeOffer, ExtraShift)
    )
    lent = theirs(
        Loan.select().where((Loan.first <= sunday) & (Loan.last >= monday)).order_by(Loan.first), Loan
    )

    def dated(rows: list[dict[str, Any]], overtime: bool) -> list[WorkInterval]:
        starts = [(r, r["start"].astimezone(zone)) for r in rows]
        return [
            WorkInterval(start, r["end"].astimezone(zone), overtime, start.date())
            for r, start in starts
            if monday <= start.date() <= sunday
        ]

    def area_on(p: dict[str, Any], day: date) -> int | None:
        """The area for which the person works on a day."""
        return next((x["area"] for x in lent[p["id"]] if x["first"] <= day <= x["last"]), p["area"])

    def area_of(p: dict[str, Any]) -> int | None:
        """The area for which the person works on most days of the week."""
        where = [area_on(p, monday + timedelta(days=n)) for n in range(7)]
        return max(dict.fromkeys(where), key=where.count)

    people = []
    for p in rows:
        roster = [
            core_roster.RosterLine(kinds[line["pattern"]], line["first"], line["last"])
            for line in lines[p["id"]]
        ]
        absences = [Interval(a["start"].astimezone(zone), a["end"].astimezone(zone)) for a in away[p["id"]]]
        hours = working_hours(
            roster, absences, dated(extra[p["id"]], True), monday, 7, zone, dated(more[p["id"]], False)
        )
        people.append(
            core.Person(
                p["key"],
                tuple(core.CraftLevel(crafts[c["craft"]], c["level"]) for c in levels[p["id"]]),
                tuple(core.Certificate(c["certificate"], c["until"]) for c in held[p["id"]]),
                areas.get(area_of(p) or 0),
                p["crew"],
                tuple(
                    core.PersonHours(h.start, h.end, h.overtime, h.day, areas.get(area_on(p, h.day) or 0))
                    for h in hours
                ),
            )
        )
    return tuple(p for p in people if p.crafts)
