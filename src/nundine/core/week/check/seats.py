"""Rules of one placement: its seats and people, its times."""

from __future__ import annotations

from collections import defaultdict
from datetime import date

from nundine.core.week.check.layout import Broken, Placed, Plan
from nundine.core.week.check.untimed import day_alone, need_words, open_needs


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
                text = f"{name} is on {other.job.id} and {x.job.id} at once"
                found.append(Broken("double", text, (other.key, x.key), name, day or x.one.day))
    return found


def _seats(plan: Plan, x: Placed) -> list[Broken]:
    found = []
    one, key = x.one, (x.key,)
    name = f"{x.job.id} task {x.task.id}"
    if len(one.people) != x.task.people:
        found.append(Broken("seats", f"{name} has {x.task.people} seats, not {len(one.people)}", key))
    filled = [s.id for s in one.people if s.id is not None]
    if len(set(filled)) < len(filled):
        found.append(Broken("seats", f"{name}: one person sits on two seats", key))
    starts = set()
    for seat, need in zip(one.people, x.task.seat_needs, strict=False):
        if seat.id is None:
            continue
        person = plan.p.person_by_id.get(seat.id)
        if person is None:
            found.append(Broken("seats", f"{name}: unknown person {seat.id}", key))
            continue
        if person.level_in(need.craft) < need.level or seat.craft != need.craft:
            found.append(
                Broken(
                    "craft",
                    f"{name}: {person.id} is no {need.craft} at level {need.level}",
                    key,
                    person.id,
                    one.day,
                )
            )
        cal = plan.week.calendars[person.id]
        if x.slots is None:
            work_days = {one.day}
            if one.day not in cal.days:
                found.append(
                    Broken(
                        "away",
                        f"{name}: {person.id} does not work on {one.day:%a %-d %b}",
                        key,
                        person.id,
                        one.day,
                    )
                )
        else:
            work_days = cal.days_of(x.mask)
            missing = len(x.slots) - (x.mask & cal.there).bit_count()
            if missing:
                text = f"{name}: {person.id} is not there for {plan.week.hours(missing):g} h of it"
                found.append(Broken("away", text, key, person.id, one.day))
            first = cal.day_at(x.slots.start) if x.slots.start >= 0 else None
            starts |= {first} if first is not None else set()
        if need.certificate is not None:
            until = {c.id: c.until for c in person.certificates}.get(need.certificate, date.min)
            if until is not None and any(d > until for d in work_days):
                text = f"{name}: {person.id} has no valid certificate {need.certificate}"
                found.append(Broken("certificate", text, key, person.id, one.day))
    if starts and one.day not in starts:
        found.append(Broken("day", f"{name}: its people start on {min(starts)}, not on {one.day}", key))
    if one.day not in plan.p.days:
        found.append(Broken("day", f"{name}: {one.day} is not in the week", key))
    return found


def _times(plan: Plan, x: Placed, slots: range) -> list[Broken]:
    found = []
    week, one, key = plan.week, x.one, (x.key,)
    name = f"{x.job.id} task {x.task.id}"
    if slots.start < week.week_start:
        found.append(Broken("week", f"{name} starts before the week", key))
    late = x.mask >> week.week_end << week.week_end
    if slots.stop > week.week_end:
        own = [sum(m for d, m in cal.days.items() if d in plan.p.days) for _, cal in x.seated]
        if not own or slots.stop > week.size or any(late & ~m for m in own):
            found.append(
                Broken("week", f"{name} passes the end of the week outside a shift of the week", key)
            )
    ok = week.asset_slots(x.job.asset, x.task.asset_state) if x.job.asset is not None else None
    if ok is not None and (missing := len(slots) - (x.mask & ok).bit_count()):
        text = f"{name} needs {x.job.asset} {x.task.asset_state}; {week.hours(missing):g} h of it lie outside"
        found.append(Broken("window", text, key, None, one.day))
    found += _nobody_for(plan, x)
    if x.job.earliest and one.start and one.start < x.job.earliest:
        found.append(Broken("earliest", f"{name} starts before its earliest time", key))
    if x.job.latest and one.end and one.end > x.job.latest:
        found.append(Broken("latest", f"{name} ends after its latest time", key))
    return found


def _nobody_for(plan: Plan, x: Placed) -> list[Broken]:
    """Open seats that nobody on the roster could take at this time, whatever else they do then."""
    found = []
    for need, people in open_needs(x):
        there = 0
        for cal in plan.able(need, x, {x.one.day}):
            there += not x.mask & ~cal.there
        if there < people:
            what = f"{people} {need_words(need)}"
            text = f"{x.job.id} task {x.task.id} needs {what}; {there or 'nobody'} who is there could take it"
            found.append(Broken("nobody", text, (x.key,), None, x.one.day))
    return found
