"""Work that has its day and no time yet: is there any time that day at which it could stand?

What is found here holds whatever time is chosen: each rule is asked for a start at which it could be kept,
together with the rules before it. So nothing is told that a choice of times could mend, and a plan whose
times were taken off is sound.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from datetime import date
from typing import Any

from nundine.core.week.check.layout import Broken, Layout, Placed, Plan
from nundine.core.week.problem import Job, Need


def runs_of(mask: int, length: int) -> int:
    """Slots from which `length` consecutive bits are set."""
    have = 1
    while have < length and mask:
        step = min(have, length - have)
        mask &= mask >> step
        have += step
    return mask


def length_of(week: Layout, x: Placed) -> int:
    """Slots that an untimed placement needs, at least one."""
    return max(1, week.slots(x.one.hours or x.task.hours))


class _Stand:
    """Starts of one placement on its day, narrowed rule by rule until none is left."""

    def __init__(self, plan: Plan, x: Placed, could: int = -1) -> None:
        self.plan, self.week, self.x, self.could = plan, plan.week, x, could
        self.length = length_of(plan.week, x)
        self.facts = x.facts(hours=plan.week.hours(self.length))
        self.slots = plan.week.slots_of_day(x.one.day)
        self.found: list[Broken] = []

    def narrow(self, mask: int, code: str, how: str, **more: Any) -> bool:
        """Keep to the slots of a rule; says so when no start is left."""
        left = self.slots & mask
        if not runs_of(left, self.length) & self.could:
            self.says(code, how, **more)
            return False
        self.slots = left
        return True

    def says(self, code: str, how: str, **more: Any) -> None:
        facts = {"how": how, **self.facts, **more}
        self.found.append(Broken(code, facts, (self.x.key,), more.get("person"), self.x.one.day))

    def dates(self) -> bool:
        week, job = self.week, self.x.job
        if job.earliest is not None:
            from_then = week.mask(week.up(job.earliest), week.size)
            if not self.narrow(from_then, "earliest", "day", earliest=job.earliest.isoformat()):
                return False
        if job.latest is not None:
            until = week.mask(0, week.down(job.latest))
            return self.narrow(until, "latest", "day", latest=job.latest.isoformat())
        return True

    def window(self) -> bool:
        job, state = self.x.job, self.x.task.asset_state
        ok = self.week.asset_slots(job.asset, state) if job.asset is not None else None
        return ok is None or self.narrow(ok, "window", "day", asset=job.asset, asset_state=state)

    def people(self) -> bool:
        """Those who are named: each long enough, and all at one time."""
        day, before, met = self.x.one.day, self.slots, list[str]()
        for person, cal in self.x.seated:
            own = cal.days.get(day, 0) & cal.there
            if not own:
                continue  # no shift at all that day is told by the rules of seats
            if not runs_of(own, self.length):
                return self.narrow(own, "away", "too short", person=person.id)
            if not runs_of(before & own, self.length):
                return self.narrow(own, "away", "then", person=person.id)
            if not self.narrow(own, "away", "together", person=person.id, others=list(met)):
                return False
            met.append(person.id)
        return True

    def open_seats(self) -> int:
        """Starts at which each open seat has somebody; 0 and a finding where there are none."""
        starts = runs_of(self.slots, self.length)
        for need, people in open_needs(self.x):
            able = [
                cal.days.get(self.x.one.day, 0) & cal.there
                for cal in self.plan.able(need, self.x, {self.x.one.day})
            ]
            there = sum(1 for m in able if runs_of(m, self.length))
            if there < people:
                self.says("nobody", "on shift", needed=people, there=there, **need.facts)
                return 0
            starts &= at_once([runs_of(m & self.slots, self.length) for m in able], people)
            if not starts:
                self.says("nobody", "then", needed=people, **need.facts)
                return 0
        return starts


def open_needs(x: Placed) -> list[tuple[Need, int]]:
    """Needs of the task with the number of their seats that are open."""
    found: dict[Need, int] = {}
    for seat, need in zip(x.one.people, x.task.seat_needs, strict=False):
        if seat.id is None:
            found[need] = found.get(need, 0) + 1
    return list(found.items())


def at_once(masks: Iterable[int], least: int) -> int:
    """Bits that are set in at least so many masks."""
    levels = [0] * (least + 1)
    for m in masks:
        for k in range(least, 0, -1):
            levels[k] |= m if k == 1 else levels[k - 1] & m
    return levels[least]


def day_alone(plan: Plan, x: Placed) -> list[Broken]:
    """What an untimed placement breaks by itself; leaves the starts that are possible in `x.could`."""
    stand = _Stand(plan, x)
    x.could = 0
    if stand.dates() and stand.window() and stand.people():
        x.could = stand.open_seats()
    return stand.found


def chain(week: Layout, job: Job, by_task: dict[str, list[Placed]]) -> list[Broken]:
    """Tasks of a job, some without a time, that can not follow one another on the days that they have.

    A forward pass (critical path method, Kelley and Walker 1959) over the starts that each could have.
    """
    if all(x.slots is not None for xs in by_task.values() for x in xs):
        return []
    found: list[Broken] = []
    ends: dict[str, int] = {}
    for task in job.ordered_tasks:
        before = [a for a in task.after if a.task in ends]
        first = max((ends[a.task] + week.slots(a.lag) for a in before), default=0)
        loose = any(x.slots is None for a in before for x in by_task[a.task])
        for x in by_task.get(task.id, ()):
            start = _first_from(x, first)
            if start is None or (x.slots is not None and loose and x.slots.start < first):
                facts = x.facts(how="portion before")
                if ends.get(task.id) != first:
                    facts |= {"how": "tasks before", "tasks": [a.task for a in before]}
                others = [y for a in before for y in by_task[a.task]]
                others += [y for y in by_task[task.id] if y.one.portion < x.one.portion]
                keys = tuple(y.key for y in others) + (x.key,)
                return [*found, Broken("order", facts, keys, None, x.one.day)]
            if start < 0:
                break
            first = start + (len(x.slots) if x.slots is not None else length_of(week, x))
            loose = loose or x.slots is None
            ends[task.id] = first
    return found


def _first_from(x: Placed, first: int) -> int | None:
    """The first start at or after a slot; None where there is none, -1 where it could stand nowhere
    anyway."""
    if x.slots is not None:
        return x.slots.start
    if not x.could:
        return -1
    left = x.could >> first << first
    return (left & -left).bit_length() - 1 if left else None


def beside_timed(plan: Plan) -> list[Broken]:
    """Untimed work for which no time is left beside the work that has its time."""
    untimed = [x for x in plan.placed if x.slots is None and x.could]
    if not untimed:
        return []
    busy: dict[str, int] = defaultdict(int)
    spans: dict[str, dict[str, int]] = defaultdict(dict)
    for x in plan.placed:
        for person, _ in x.seated:
            busy[person.id] |= x.mask
    for job_id, placed in plan.by_job.items():
        asset = placed[0].job.asset
        touching = [x.slots for x in placed if x.slots is not None and x.task.asset_state != "any"]
        if asset is not None and touching and plan.p.asset_by_id[asset].one_job_at_a_time:
            first, last = min(s.start for s in touching), max(s.stop for s in touching)
            spans[asset][job_id] = plan.week.mask(first, last)
    found = []
    for x in untimed:
        found += _left_beside(plan, x, busy, spans)
    return found + _too_much(plan, untimed, busy)


def _left_beside(
    plan: Plan, x: Placed, busy: dict[str, int], spans: dict[str, dict[str, int]]
) -> list[Broken]:
    stand = _Stand(plan, x, x.could)
    for person, cal in x.seated:
        own = cal.days.get(x.one.day, 0) & cal.there
        if (
            own
            and runs_of(own, stand.length)
            and not stand.narrow(own & ~busy[person.id], "full", "beside", person=person.id)
        ):
            return stand.found
    if x.task.asset_state != "any":
        for other, mask in spans.get(x.job.asset or "", {}).items():
            its = {"asset": x.job.asset, "other": other}
            if other != x.job.id and not stand.narrow(~mask, "one job", "there", **its):
                return stand.found
    for tool in plan.p.tools:
        if tool.id in x.task.tools:
            used = [y.mask for y in plan.placed if tool.id in y.task.tools]
            taken = at_once(used, tool.count) if tool.count else -1
            if not stand.narrow(~taken, "tool", "day", tool=tool.id):
                return stand.found
    return []


def _too_much(plan: Plan, untimed: list[Placed], busy: dict[str, int]) -> list[Broken]:
    """People whose untimed work of a day takes more hours than its timed work leaves them."""
    of_day: dict[tuple[str, date], list[Placed]] = defaultdict(list)
    for x in untimed:
        for person, _ in x.seated:
            of_day[(person.id, x.one.day)].append(x)
    found = []
    for (person_id, day), placed in of_day.items():
        cal = plan.week.calendars[person_id]
        left = (cal.days.get(day, 0) & cal.there & ~busy[person_id]).bit_count()
        wanted = sum(length_of(plan.week, x) for x in placed)
        if len(placed) > 1 and wanted > left:
            hours = {"hours": plan.week.hours(wanted), "free": plan.week.hours(left)}
            facts = {"how": "too much", "person": person_id, "day": day.isoformat(), **hours}
            found.append(Broken("full", facts, tuple(x.key for x in placed), person_id, day))
    return found
