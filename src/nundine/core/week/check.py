"""An independent reading of the rules of a week, slot by slot. Shares nothing with the builder but the data classes.

Every finding names the placements that it concerns. A finding about fixed placements alone is a conflict, which the
week may have; any other is an error of the plan.
"""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

from nundine.core.timeline import Interval, merge
from nundine.core.week.plan import Finding
from nundine.core.week.problem import Job, Person, Placement, Task, WeekProblem

Key = tuple[str, str, int]
_ByTask = dict[tuple[str, str], list[Placement]]


@dataclass(frozen=True)
class Broken:
    """A broken rule: a code, words, the placements and people and days concerned."""

    code: str
    text: str
    keys: tuple[Key, ...]
    person: str | None = None
    day: date | None = None

    def finding(self) -> Finding:
        facts = {"placements": [list(k) for k in self.keys], "person": self.person, "day": self.day.isoformat() if self.day else None}
        return Finding(self.code, self.text, facts)


@dataclass(frozen=True)
class Checked:
    """Result of a check: errors of the plan, conflicts of fixed placements, the value in points."""

    errors: tuple[Broken, ...]
    conflicts: tuple[Broken, ...]
    value: float
    job_values: dict[str, float] = field(default_factory=dict)


@dataclass
class _Calendar:
    """Slots at which a person is there, those in overtime, and the shift's day at each."""

    there: set[int] = field(default_factory=set)
    overtime: set[int] = field(default_factory=set)
    day: dict[int, date] = field(default_factory=dict)


class _Week:
    """The problem laid out on slots."""

    def __init__(self, problem: WeekProblem) -> None:
        self.p = problem
        self.step = timedelta(minutes=problem.slot_minutes)
        self.start = problem.start.astimezone(UTC)
        self.last = self.up(problem.end)
        self.calendars, self._asset_ok = _laid_out(self)

    def up(self, moment: datetime) -> int:
        return -((self.start - moment.astimezone(UTC)) // self.step)

    def down(self, moment: datetime) -> int:
        return (moment.astimezone(UTC) - self.start) // self.step

    def inside(self, intervals: list[Interval]) -> set[int]:
        return {s for i in merge(intervals) for s in range(self.up(i.start), self.down(i.end))}

    def calendar(self, person: Person) -> _Calendar:
        cal = _Calendar()
        cal.there = self.inside([Interval(h.start, h.end) for h in person.hours])
        regular = self.inside([Interval(h.start, h.end) for h in person.hours if not h.overtime])
        cal.overtime = cal.there - regular
        for h in sorted(person.hours, key=lambda h: h.start):
            for s in range(self.down(h.start), self.up(h.end)):
                if s in cal.there:
                    cal.day.setdefault(s, h.day)
        return cal

    def asset_slots(self, asset_id: str, state: str) -> set[int] | None:
        """Slots at which the asset may be in the state; None = every slot."""
        if state == "any":
            return None
        key = (asset_id, state)
        if key not in self._asset_ok:
            asset = self.p.asset_by_id[asset_id]
            everything = set(range(-200, self.last + 400))
            run = {s for i in merge(asset.run_windows) for s in range(self.down(i.start), self.up(i.end))}
            work = None if asset.work_windows is None else self.inside(list(asset.work_windows))
            if state == "stopped":
                ok: set[int] | None = (everything if work is None else work) - run
                if work is None and not run:
                    ok = None
            elif asset.run_windows:
                ok = self.inside(list(asset.run_windows))
            else:
                touched = {s for i in merge(asset.work_windows or ()) for s in range(self.down(i.start), self.up(i.end))}
                ok = everything - touched if touched else None
            self._asset_ok[key] = ok
        return self._asset_ok[key]


_Layout = tuple[dict[str, _Calendar], dict[tuple[str, str], "set[int] | None"]]
_kept: list[tuple[WeekProblem, _Layout]] = []


def _laid_out(week: _Week) -> _Layout:
    """Calendars of people and assets, kept for problems of the very same people and assets (checking again is frequent)."""
    p = week.p
    for known, layout in _kept:
        same = known.people is p.people and known.assets is p.assets and known.start == p.start and known.slot_minutes == p.slot_minutes
        if same:
            return layout
    made: _Layout = ({x.id: week.calendar(x) for x in p.people}, {})
    _kept.append((p, made))
    del _kept[:-4]
    return made


def check(problem: WeekProblem, placements: tuple[Placement, ...]) -> Checked:
    """Every broken rule of engine rules, and the value of the plan recomputed."""
    week = _Week(problem)
    fixed = {f.key: f for f in problem.fixed}
    found: list[Broken] = []
    known: list[tuple[Placement, Job, Task]] = []
    seen: set[Key] = set()
    for one in placements:
        job = problem.job_by_id.get(one.job)
        task = next((t for t in job.tasks if t.id == one.task), None) if job else None
        if job is None or task is None:
            found.append(Broken("unknown", f"{one.job} task {one.task} is not in the problem", (one.key,)))
        elif one.key in seen:
            found.append(Broken("twice", f"{one.job} task {one.task} portion {one.portion} stands twice", (one.key,)))
        else:
            known.append((one, job, task))
        seen.add(one.key)
    found += _fixed_kept(fixed, placements)
    usage: dict[str, dict[int, Key]] = defaultdict(dict)
    for one, job, task in known:
        found += _seats(week, one, job, task, usage)
        found += _times(week, one, job, task)
    by_task = _by_task(known)
    found += _order(week, by_task) + _whole(week, by_task, set(fixed)) + _spans(week, known) + _tools(week, known)
    found += _held_back(week, known, set(fixed))
    values = _values(week, known, by_task)
    conflicts = tuple(b for b in found if b.keys and all(k in fixed for k in b.keys))
    errors = tuple(b for b in found if b not in conflicts)
    return Checked(errors, conflicts, sum(values.values()), values)


def _fixed_kept(fixed: dict[Key, Placement], placements: tuple[Placement, ...]) -> list[Broken]:
    by_key = {p.key: p for p in placements}
    found = []
    for key, want in fixed.items():
        got = by_key.get(key)
        if got is None:
            found.append(Broken("fixed", f"{key[0]} task {key[1]} is fixed and not in the plan", ()))
            continue
        kept = (want.start is None or (got.start == want.start and got.end == want.end)) and got.day == want.day
        kept = kept and len(got.people) == len(want.people)
        kept = kept and all(w.id is None or w.id == g.id for w, g in zip(want.people, got.people, strict=False))
        if not kept:
            found.append(Broken("fixed", f"{key[0]} task {key[1]} is fixed and was changed", ()))
    return found


def _portion_slots(week: _Week, one: Placement) -> range | None:
    return range(week.down(one.start), week.up(one.end)) if one.start and one.end else None


def _seats(week: _Week, one: Placement, job: Job, task: Task, usage: dict[str, dict[int, Key]]) -> list[Broken]:
    found = []
    name = f"{job.id} task {task.id}"
    if len(one.people) != task.people:
        found.append(Broken("seats", f"{name} has {task.people} seats, not {len(one.people)}", (one.key,)))
    filled = [s.id for s in one.people if s.id is not None]
    if len(set(filled)) < len(filled):
        found.append(Broken("seats", f"{name}: one person sits on two seats", (one.key,)))
    slots = _portion_slots(week, one)
    days = set()
    for seat, need in zip(one.people, task.seat_needs, strict=False):
        if seat.id is None:
            continue
        person = week.p.person_by_id.get(seat.id)
        if person is None:
            found.append(Broken("seats", f"{name}: unknown person {seat.id}", (one.key,)))
            continue
        if person.level_in(need.craft) < need.level or seat.craft != need.craft:
            found.append(Broken("craft", f"{name}: {person.id} is no {need.craft} at level {need.level}", (one.key,), person.id, one.day))
        cal = week.calendars[person.id]
        held = {c.id: c.until for c in person.certificates}
        if slots is None:
            work_days = {one.day}
            if one.day not in cal.day.values():
                found.append(Broken("away", f"{name}: {person.id} does not work on {one.day:%a %-d %b}", (one.key,), person.id, one.day))
        else:
            work_days = {cal.day[s] for s in slots if s in cal.day}
            missing = set(slots) - cal.there
            if missing:
                text = f"{name}: {person.id} is not there for {len(missing) * week.p.slot_minutes / 60:g} h of it"
                found.append(Broken("away", text, (one.key,), person.id, one.day))
            found += _double(person.id, one, slots, usage[person.id], cal)
            days |= {cal.day[slots[0]]} if slots[0] in cal.day else set()
        if need.certificate is not None:
            until = held.get(need.certificate, date.min)
            if until is not None and any(d > until for d in work_days):
                text = f"{name}: {person.id} has no valid certificate {need.certificate}"
                found.append(Broken("certificate", text, (one.key,), person.id, one.day))
    if days and one.day not in days:
        found.append(Broken("day", f"{name}: its people start on {min(days)}, not on {one.day}", (one.key,)))
    if one.day not in week.p.days:
        found.append(Broken("day", f"{name}: {one.day} is not in the week", (one.key,)))
    return found


def _double(person: str, one: Placement, slots: range, used: dict[int, Key], cal: _Calendar) -> list[Broken]:
    """What else the person is on at these slots; the slots are marked as used."""
    key = one.key
    others = sorted({used[s] for s in slots if s in used} - {key})
    day = cal.day.get(slots[0], one.day)
    for s in slots:
        used.setdefault(s, key)
    return [Broken("double", f"{person} is on {other[0]} and {one.job} at once", (other, key), person, day) for other in others]


def _times(week: _Week, one: Placement, job: Job, task: Task) -> list[Broken]:
    if one.start is None or one.end is None:
        return []
    found = []
    name, slots = f"{job.id} task {task.id}", _portion_slots(week, one)
    assert slots is not None
    if slots[0] < 0:
        found.append(Broken("week", f"{name} starts before the week", (one.key,)))
    people = [s.id for s in one.people if s.id is not None]
    late = [s for s in slots if s >= week.last]
    if late and not (people and all(week.calendars[i].day.get(s) in week.p.days for i in people for s in late if i in week.calendars)):
        found.append(Broken("week", f"{name} passes the end of the week outside a shift of the week", (one.key,)))
    ok = week.asset_slots(job.asset, task.asset_state) if job.asset is not None else None
    if ok is not None and any(s not in ok for s in slots):
        missing = sum(s not in ok for s in slots) * week.p.slot_minutes / 60
        found.append(Broken("window", f"{name} needs {job.asset} {task.asset_state}; {missing:g} h of it lie outside", (one.key,), None, one.day))
    if job.earliest and one.start < job.earliest:
        found.append(Broken("earliest", f"{name} starts before its earliest time", (one.key,)))
    if job.latest and one.end > job.latest:
        found.append(Broken("latest", f"{name} ends after its latest time", (one.key,)))
    return found


def _by_task(known: list[tuple[Placement, Job, Task]]) -> _ByTask:
    by_task: _ByTask = defaultdict(list)
    for one, _, _ in known:
        by_task[(one.job, one.task)].append(one)
    for portions in by_task.values():
        portions.sort(key=lambda p: p.portion)
    return by_task


def _order(week: _Week, by_task: _ByTask) -> list[Broken]:
    found = []
    for (job_id, task_id), portions in by_task.items():
        job = week.p.job_by_id[job_id]
        timed = [p for p in portions if p.start]
        for a, b in zip(timed, timed[1:], strict=False):
            if a.end > b.start:  # type: ignore[operator]
                found.append(Broken("order", f"{job_id} task {task_id}: its portions overlap", (a.key, b.key)))
        for after in job.task(task_id).after:
            before = by_task.get((job_id, after.task), [])
            ends = [week.up(p.end) for p in before if p.end]
            starts = [week.down(p.start) for p in timed if p.start]
            lag = -(-round(after.lag * 60) // week.p.slot_minutes)
            keys = tuple(p.key for p in before + portions)
            if ends and starts and min(starts) < max(ends) + lag:
                found.append(Broken("order", f"{job_id} task {task_id} starts before task {after.task} is finished", keys))
            elif before and max(p.day for p in before) > min(p.day for p in portions):
                found.append(Broken("order", f"{job_id} task {task_id} is on an earlier day than task {after.task}", keys))
    return found


def _placed_hours(week: _Week, portions: list[Placement]) -> float:
    slots = sum(len(_portion_slots(week, p) or ()) for p in portions)
    return slots * week.p.slot_minutes / 60 + sum(p.hours or 0 for p in portions if p.start is None)


def _slots(week: _Week, hours: float) -> int:
    return -(-round(hours * 60) // week.p.slot_minutes)


def _whole(week: _Week, by_task: _ByTask, fixed: set[Key]) -> list[Broken]:
    found = []
    for job_id in {job for job, _ in by_task}:
        job = week.p.job_by_id[job_id]
        keys = tuple(p.key for t in job.tasks for p in by_task.get((job_id, t.id), []))
        placed = {t.id for t in job.tasks if (job_id, t.id) in by_task}
        partly_fixed = any(k in fixed for k in keys)
        if len(placed) < len(job.tasks) and not job.divisible and not partly_fixed:
            found.append(Broken("whole", f"{job_id} is placed in part", keys))
        for t in job.tasks:
            portions = by_task.get((job_id, t.id), [])
            if not portions:
                continue
            its = tuple(p.key for p in portions)
            if not partly_fixed and any(a.task not in placed for a in t.after):
                found.append(Broken("whole", f"{job_id} task {t.id} is placed without one that it follows", its))
            want, got = _slots(week, t.hours), _slots(week, _placed_hours(week, portions))
            task_fixed = any(k in fixed for k in its)
            if got > want or (got < want and not task_fixed):
                found.append(Broken("hours", f"{job_id} task {t.id} has {got} slots placed of {want}", its))
            if len(portions) > 1 and not t.splittable:
                found.append(Broken("split", f"{job_id} task {t.id} may not be split", its))
            least = min(want, _slots(week, t.min_portion))
            for p in portions:
                if t.splittable and p.key not in fixed and _slots(week, _placed_hours(week, [p])) < least and len(portions) > 1:
                    found.append(Broken("split", f"{job_id} task {t.id}: a portion is shorter than {t.min_portion:g} h", (p.key,)))
    return found


def _spans(week: _Week, known: list[tuple[Placement, Job, Task]]) -> list[Broken]:
    spans: dict[str, dict[str, list[Placement]]] = defaultdict(lambda: defaultdict(list))
    for one, job, task in known:
        if job.asset and task.asset_state != "any" and one.start and week.p.asset_by_id[job.asset].one_job_at_a_time:
            spans[job.asset][job.id].append(one)
    found = []
    for asset, jobs in spans.items():
        ends = [(min(week.down(p.start) for p in ps if p.start), max(week.up(p.end) for p in ps if p.end), ps) for ps in jobs.values()]
        for i, (a_start, a_end, a) in enumerate(ends):
            for b_start, b_end, b in ends[i + 1 :]:
                if a_start < b_end and b_start < a_end:
                    text = f"{a[0].job} and {b[0].job} are on {asset} at once; one job at a time there"
                    found.append(Broken("one job", text, tuple(p.key for p in a + b), None, max(a[0].day, b[0].day)))
    return found


def _tools(week: _Week, known: list[tuple[Placement, Job, Task]]) -> list[Broken]:
    count = {t.id: t.count for t in week.p.tools}
    use: dict[str, dict[int, list[Key]]] = defaultdict(lambda: defaultdict(list))
    for one, _, task in known:
        for tool in task.tools:
            for s in _portion_slots(week, one) or ():
                use[tool][s].append(one.key)
    found: dict[tuple[str, tuple[Key, ...]], Broken] = {}
    for tool, slots in use.items():
        for keys in slots.values():
            if len(keys) > count[tool]:
                text = f"{len(keys)} jobs use {tool} at once ({', '.join(sorted({k[0] for k in keys}))}); there are {count[tool]}"
                found.setdefault((tool, tuple(keys)), Broken("tool", text, tuple(keys)))
    return list(found.values())


def _held_back(week: _Week, known: list[tuple[Placement, Job, Task]], fixed: set[Key]) -> list[Broken]:
    total: dict[str, int] = defaultdict(int)
    for x in week.p.people:
        cal = week.calendars[x.id]
        total[x.main_craft] += len(cal.there) - len(cal.overtime)
    used: dict[str, dict[str, set[int]]] = defaultdict(lambda: defaultdict(set))
    keys: dict[str, set[Key]] = defaultdict(set)
    for one, _, _ in known:
        for seat in one.people:
            person = week.p.person_by_id.get(seat.id) if seat.id else None
            slots = _portion_slots(week, one)
            if person is None or slots is None:
                continue
            cal = week.calendars[person.id]
            regular = (cal.there - cal.overtime if cal.overtime else cal.there).intersection(slots)
            if regular:
                used[person.main_craft][person.id] |= regular
                keys[person.main_craft].add(one.key)
    found = []
    for craft in week.p.crafts:
        limit = (1 - craft.held_back) * total[craft.id]
        spent = sum(len(slots) for slots in used[craft.id].values())
        if spent > limit + 1e-9:
            over = (spent - limit) * week.p.slot_minutes / 60
            only = keys[craft.id] - fixed or keys[craft.id]
            found.append(Broken("held back", f"{craft.id}: {over:.2f} h of the held-back hours are used", tuple(sorted(only))))
    return found


def _values(week: _Week, known: list[tuple[Placement, Job, Task]], by_task: _ByTask) -> dict[str, float]:
    """Points of each placed job; the formula stands in docs/engine.md ("Value")."""
    w = week.p.weights
    values: dict[str, float] = {}
    for job_id in {job for job, _ in by_task}:
        job = week.p.job_by_id[job_id]
        hours, whole, ends = 0.0, True, []
        for t in job.tasks:
            portions = by_task.get((job_id, t.id), [])
            placed = min(t.hours, _placed_hours(week, portions))
            whole = whole and placed >= t.hours - 1e-9
            hours += placed * t.people
            for p in portions:
                ends.append(week.up(p.end) if p.end else week.up(_end_of(week, p.day)))
        points = (job.priority + (w.must_per_hour if job.must else 0)) * hours
        points += w.must_per_job if job.must and whole else 0
        values[job_id] = points
        if job.due is not None:
            free = max(week.up(job.due), 0)
            late = (max(ends) - free) * week.p.slot_minutes / (24 * 60)
            values[job_id] -= w.late_share_per_day * points * max(0, -(-late // 1))
    for one, job, _ in known:
        for seat in one.people:
            cal = week.calendars.get(seat.id) if seat.id else None
            if cal is not None and cal.overtime:
                extra = sum(s in cal.overtime for s in _portion_slots(week, one) or ())
                values[job.id] -= w.overtime_per_hour * extra * week.p.slot_minutes / 60
    return values


def _end_of(week: _Week, day: date) -> datetime:
    return datetime.combine(day + timedelta(days=1), datetime.min.time(), ZoneInfo(week.p.timezone))
