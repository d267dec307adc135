"""Rules of one placement: its seats and people, its times."""

from __future__ import annotations

from collections import defaultdict
from datetime import date
from typing import Any

from nundine.core.week.check.layout import Broken, Placed, Plan
from nundine.core.week.check.untimed import day_alone, open_needs


def alone(plan: Plan) -> list[Broken]:
    """What each placement breaks by itself: seats, people, day, times, windows."""
    found = []
    for x in plan.placed:
        if x.own is None:
            x.own = _seats(plan, x)
            x.own += day_alone(plan, x) if x.slots is None else _times(plan, x, x.slots)
        found += x.own
    return found


def double(plan: Plan) -> list[Broken]:
    """Nobody is on two things at once."""
    used: dict[str, int] = defaultdict(int)
    clashing: set[str] = set()
    for x in plan.placed:
        for person, _ in x.seated:
            if used[person.id] & x.mask:
                clashing.add(person.id)
            used[person.id] |= x.mask
    found = []
    for name in sorted(clashing):
        parts = [
            (x, cal)
            for x in plan.placed
            for person, cal in x.seated
            if person.id == name and x.slots is not None
        ]
        for n, (x, cal) in enumerate(parts):
            for other in {o.key: o for o, _ in parts[:n] if o.mask & x.mask and o.key != x.key}.values():
                day = cal.day_at(x.slots.start) if x.slots is not None and x.slots.start >= 0 else None
                facts = {"person": name, "jobs": [other.job.id, x.job.id]}
                found.append(Broken("double", facts, (other.key, x.key), name, day or x.one.day))
    return found


def _seats(plan: Plan, x: Placed) -> list[Broken]:
    found: list[Broken] = []
    one, key = x.one, (x.key,)

    def broken(code: str, person: str, **more: Any) -> None:
        found.append(Broken(code, x.facts(person=person, **more), key, person, one.day))

    if len(one.people) != x.task.people:
        found.append(Broken("seats", x.facts(how="count", needed=x.task.people, there=len(one.people)), key))
    filled = [s.id for s in one.people if s.id is not None]
    if len(set(filled)) < len(filled):
        found.append(Broken("seats", x.facts(how="two"), key))
    starts = set()
    for seat, need in zip(one.people, x.task.seat_needs, strict=False):
        if seat.id is None:
            continue
        person = plan.p.person_by_id.get(seat.id)
        if person is None:
            found.append(Broken("seats", x.facts(how="unknown", person=seat.id), key))
            continue
        if person.level_in(need.craft) < need.level or seat.craft != need.craft:
            broken("craft", person.id, craft=need.craft, level=need.level)
        cal = plan.week.calendars[person.id]
        if x.slots is None:
            work_days = {one.day}
            if one.day not in cal.days:
                broken("away", person.id, how="day")
        else:
            work_days = cal.days_of(x.mask)
            missing = len(x.slots) - (x.mask & cal.there).bit_count()
            if missing:
                broken("away", person.id, how="part", hours=plan.week.hours(missing))
            first = cal.day_at(x.slots.start) if x.slots.start >= 0 else None
            starts |= {first} if first is not None else set()
        if need.certificate is not None:
            until = {c.id: c.until for c in person.certificates}.get(need.certificate, date.min)
            if until is not None and any(d > until for d in work_days):
                broken("certificate", person.id, certificate=need.certificate)
    if starts and one.day not in starts:
        found.append(Broken("day", x.facts(how="starts", starts=min(starts).isoformat()), key))
    if one.day not in plan.p.days:
        found.append(Broken("day", x.facts(how="outside"), key))
    return found


def _times(plan: Plan, x: Placed, slots: range) -> list[Broken]:
    found = []
    week, one, key = plan.week, x.one, (x.key,)
    if slots.start < week.week_start:
        found.append(Broken("week", x.facts(how="before"), key))
    late = x.mask >> week.week_end << week.week_end
    if slots.stop > week.week_end:
        own = [sum(m for d, m in cal.days.items() if d in plan.p.days) for _, cal in x.seated]
        if not own or slots.stop > week.size or any(late & ~m for m in own):
            found.append(Broken("week", x.facts(how="after"), key))
    ok = week.asset_slots(x.job.asset, x.task.asset_state) if x.job.asset is not None else None
    if ok is not None and (missing := len(slots) - (x.mask & ok).bit_count()):
        its = {"asset": x.job.asset, "asset_state": x.task.asset_state, "hours": week.hours(missing)}
        found.append(Broken("window", x.facts(how="outside", **its), key, None, one.day))
    found += _nobody_for(plan, x)
    if x.job.earliest and one.start and one.start < x.job.earliest:
        found.append(Broken("earliest", x.facts(how="start"), key))
    if x.job.latest and one.end and one.end > x.job.latest:
        found.append(Broken("latest", x.facts(how="end"), key))
    return found


def _nobody_for(plan: Plan, x: Placed) -> list[Broken]:
    """Open seats that nobody on the roster could take at this time, whatever else they do then."""
    found = []
    for need, people in open_needs(x):
        there = 0
        for cal in plan.able(need, x, {x.one.day}):
            there += not x.mask & ~cal.there
        if there < people:
            facts = x.facts(how="there", needed=people, there=there, **need.facts)
            found.append(Broken("nobody", facts, (x.key,), None, x.one.day))
    return found
