"""The problem and a plan laid out on slots for the check: sets of slots are integers, a bit a slot."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.finding import Finding
from nundine.core.timeline import Interval, merge
from nundine.core.week.problem import Job, Need, Person, Placement, Task, WeekProblem

Key = tuple[str, str, int]
DAYS_BEFORE, DAYS_AFTER = 3, 5


@dataclass(frozen=True)
class Broken:
    """A broken rule: what was found, the placements concerned; the person and the day that it marks."""

    code: str
    facts: dict[str, Any]
    keys: tuple[Key, ...]
    person: str | None = None
    day: date | None = None

    @property
    def people(self) -> tuple[str, ...]:
        """Everybody whom it names."""
        return (self.person, *self.facts.get("others", ())) if self.person is not None else ()

    def finding(self) -> Finding:
        marks = {
            "placements": [list(k) for k in self.keys],
            "person": self.person,
            "day": self.day.isoformat() if self.day else None,
        }
        return Finding(self.code, {**marks, **self.facts})


@dataclass
class Calendar:
    """Slots at which a person is there, those of them in overtime, and the slots of each shift's day."""

    there: int = 0
    overtime: int = 0
    days: dict[date, int] = field(default_factory=dict)
    areas: dict[str, int] = field(default_factory=dict)
    """Slots of the shifts that are worked in each area."""
    anywhere: int = 0
    """Slots of shifts that have no area."""

    def at(self, area: str | None) -> int:
        """Slots at which work in an area is not away from where the shift is worked."""
        return self.there if area is None else self.areas.get(area, 0) | self.anywhere

    def day_at(self, slot: int) -> date | None:
        return next((d for d, m in self.days.items() if m >> slot & 1), None)

    def days_of(self, mask: int) -> set[date]:
        return {d for d, m in self.days.items() if m & mask}


class Placed:
    """A placement with its job and task, its slots (None without times), and its filled seats with their
    calendars."""

    __slots__ = ("could", "job", "key", "mask", "one", "own", "seated", "slots", "task")

    def __init__(
        self,
        one: Placement,
        job: Job,
        task: Task,
        slots: range | None,
        mask: int,
        seated: tuple[tuple[Person, Calendar], ...],
    ) -> None:
        self.one, self.job, self.task, self.slots, self.mask, self.seated = (
            one,
            job,
            task,
            slots,
            mask,
            seated,
        )
        self.key = one.key
        self.own: list[Broken] | None = None
        """What this placement breaks by itself, once it was looked at."""
        self.could = 0
        """Slots at which it could start on its day where it has no time, once it was looked at."""

    def facts(self, **more: Any) -> dict[str, Any]:
        """Which job, task and day it is of, and what was found of them."""
        return {"job": self.job.id, "task": self.task.id, "day": self.one.day.isoformat(), **more}


class Layout:
    """People and assets of a problem on slots. Slot 0 of the masks lies `DAYS_BEFORE` days before the
    week."""

    def __init__(self, problem: WeekProblem) -> None:
        self.p = problem
        self.minutes = problem.slot_minutes
        self.step = timedelta(minutes=self.minutes)
        self.first = problem.start.astimezone(UTC) - timedelta(days=DAYS_BEFORE)
        self.week_start = self.up(problem.start)
        self.week_end = self.up(problem.end)
        self.size = self.week_end + DAYS_AFTER * 24 * 60 // self.minutes
        self.calendars = {x.id: self._calendar(x) for x in problem.people}
        self._asset_ok: dict[tuple[str, str], int | None] = {}
        self._days: dict[date, int] = {}
        self._placed: dict[int, Placed] = {}
        self.of_jobs: dict[str, object] = {}
        """What was found of each job by itself, kept by `rules.jobs`."""

    def up(self, moment: datetime) -> int:
        return -((self.first - moment.astimezone(UTC)) // self.step)

    def down(self, moment: datetime) -> int:
        return (moment.astimezone(UTC) - self.first) // self.step

    def placed_hours(self, portions: Iterable[Placed]) -> float:
        return sum(self.hours(len(x.slots)) if x.slots is not None else x.one.hours or 0.0 for x in portions)

    def slots(self, hours: float) -> int:
        """Slots that hours need, rounded up."""
        return -(-round(hours * 3600) // (self.minutes * 60))

    def hours(self, slots: int) -> float:
        return slots * self.minutes / 60

    def mask(self, first: int, last: int) -> int:
        """Slots first..last-1, as far as they lie in the layout."""
        first, last = max(first, 0), min(last, self.size)
        return ((1 << (last - first)) - 1) << first if last > first else 0

    def inside(self, intervals: Iterable[Interval]) -> int:
        """Whole slots inside the intervals; adjacent ones join."""
        return _or(self.mask(self.up(i.start), self.down(i.end)) for i in merge(intervals))

    def touched(self, intervals: Iterable[Interval]) -> int:
        """Slots that the intervals touch at all."""
        return _or(self.mask(self.down(i.start), self.up(i.end)) for i in merge(intervals))

    def _calendar(self, person: Person) -> Calendar:
        there = self.inside(Interval(h.start, h.end) for h in person.hours)
        regular = self.inside(Interval(h.start, h.end) for h in person.hours if not h.overtime)
        cal = Calendar(there, there & ~regular)
        left = there
        for h in sorted(person.hours, key=lambda h: h.start):
            its = self.mask(self.down(h.start), self.up(h.end)) & left
            left &= ~its
            if its:
                cal.days[h.day] = cal.days.get(h.day, 0) | its
                area = h.area or person.area
                if area is None:
                    cal.anywhere |= its
                else:
                    cal.areas[area] = cal.areas.get(area, 0) | its
        return cal

    def slots_of_day(self, day: date) -> int:
        """Slots of all shifts of a day; of the calendar day where nobody works."""
        if day not in self._days:
            shifts = _or(cal.days.get(day, 0) & cal.there for cal in self.calendars.values())
            zone = ZoneInfo(self.p.timezone)
            first, last = (datetime.combine(day + timedelta(days=n), time(0), zone) for n in (0, 1))
            self._days[day] = shifts or self.mask(self.up(first), self.down(last))
        return self._days[day]

    def asset_slots(self, asset_id: str, state: str) -> int | None:
        """Slots at which the asset may be in the state; None = every slot."""
        key = (asset_id, state)
        if state == "any":
            return None
        if key not in self._asset_ok:
            asset = self.p.asset_by_id[asset_id]
            everything = self.mask(0, self.size)
            run = self.touched(asset.run_windows)
            if state == "stopped":
                work = None if asset.work_windows is None else self.inside(asset.work_windows)
                ok: int | None = (everything if work is None else work) & ~run
                if work is None and not run:
                    ok = None
            elif asset.run_windows:
                ok = self.inside(asset.run_windows)
            else:
                touched = self.touched(asset.work_windows or ())
                ok = everything & ~touched if touched else None
            self._asset_ok[key] = ok
        return self._asset_ok[key]

    def placed(self, one: Placement, job: Job, task: Task) -> Placed:
        """The placement on slots, kept for the very same placement: from edit to edit most stay what they
        are."""
        held = self._placed.get(id(one))
        if held is not None and held.one is one and held.task is task and held.job is job:
            return held
        slots, mask = None, 0
        if one.start is not None and one.end is not None:
            slots = range(self.down(one.start), self.up(one.end))
            mask = self.mask(slots.start, slots.stop)
        people = [
            self.p.person_by_id[s.id] for s in one.people if s.id is not None and s.id in self.calendars
        ]
        made = Placed(one, job, task, slots, mask, tuple((x, self.calendars[x.id]) for x in people))
        if len(self._placed) > 20_000:
            self._placed.clear()
        self._placed[id(one)] = made
        return made


@dataclass
class Plan:
    """A plan laid out: all that the rules read."""

    week: Layout
    p: WeekProblem
    placed: list[Placed]
    fixed: dict[Key, Placement]
    by_job: dict[str, list[Placed]] = field(default_factory=lambda: defaultdict(list))

    def __post_init__(self) -> None:
        for x in self.placed:
            self.by_job[x.job.id].append(x)

    def area(self, x: Placed) -> str | None:
        """Where a placement is worked."""
        return self.p.area_of(x.job)

    def able(self, need: Need, x: Placed, days: set[date]) -> list[Calendar]:
        """Calendars of those who are not on the placement yet and could take a seat of the need on these
        days."""
        on_it = {person.id for person, _ in x.seated}
        return [
            self.week.calendars[p.id]
            for p in self.p.people
            if p.id not in on_it and p.level_in(need.craft) >= need.level and _certified(p, need, days)
        ]


def _certified(person: Person, need: Need, days: set[date]) -> bool:
    if need.certificate is None:
        return True
    held = [c.until for c in person.certificates if c.id == need.certificate]
    return any(until is None or all(d <= until for d in days) for until in held)


_kept: list[Layout] = []


def laid_out(problem: WeekProblem) -> Layout:
    """The layout, kept for problems of the very same people and assets (checking again is frequent)."""
    for known in _kept:
        p = known.p
        same = p.people is problem.people and p.assets is problem.assets
        if same and (p.start, p.end, p.slot_minutes) == (problem.start, problem.end, problem.slot_minutes):
            return known
    made = Layout(problem)
    _kept.append(made)
    del _kept[:-4]
    return made


def _or(masks: Iterable[int]) -> int:
    out = 0
    for m in masks:
        out |= m
    return out
