"""A proven bound by Lagrangian relaxation: jobs buy seats at prices, people sell the hours of each shift as a knapsack.

Every seat of a task has a price for each day on which the task may start. For any prices the sum of
  what jobs gain beyond the prices of their seats (each job at its best days, in order),
  what each person's stretch of hours could earn by a set of seats that fits into it (a knapsack; what must happen between two
  hours of the stretch, by a window or a release, has to fit between them), and
  what the shared limits are worth (held-back hours of crafts, hours of assets that take one job at a time)
is at least the value of every plan (weak duality; Geoffrion 1974), so the least such sum found is a bound. Prices move
against what is over- and undersold (Polyak 1969 steps with a momentum). Unlike hours in a linear programme, three tasks of
5 h do not fit into two shifts of 8 h here.
"""

from __future__ import annotations

from bisect import bisect_right
from collections import defaultdict
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np

from nundine.core.week.build.bits import cover, run_starts, runs, span
from nundine.core.week.build.board import Board
from nundine.core.week.build.fit import starts_with_people
from nundine.core.week.build.worth import Worth
from nundine.core.week.problem import Job, Task, WeekProblem

FAR = 1e15
T_LENGTH, T_SPLIT, T_PARENT, T_FIRST, T_COUNT, T_LIMIT = range(6)
R_FIRST, R_COUNT, R_SIZE, R_TIMES, R_CRAFT, R_OVERTIME = range(6)
N_FIRST, N_COUNT, N_SPLIT, N_SIZE, N_PARENT = range(5)


class Priced(NamedTuple):
    """The relaxed week in arrays: jobs j, their tasks t in order, seats k (a need of a task), days b, stretches of hours r."""

    jobs: Any  # int64 (j, 3): first task, tasks, divisible
    value: Any  # float64 (j,): points of the whole job at its soonest
    tasks: Any  # int64 (t, 6)
    gain: Any  # float64 (t,): points of the task alone, for divisible jobs
    room: Any  # float64 (t, b): slots in which it may start (1 or 0), of a splittable one slots on that day
    late: Any  # float64 (t, b): points lost by lateness if it starts that day
    then: Any  # int64 (t, b): the soonest it may start when the task before it starts in b
    people: Any  # float64 (k,)
    runs: Any  # int64 (r, 6): first part, parts, slots, how many alike, craft, whether in overtime
    nodes: Any  # int64 (n, 5): parts of a stretch from the narrowest to the whole: first item, items of whole tasks, then of splittable ones, slots, the part around it
    items: Any  # int32 (i, 2): seat x days + day, slots it takes (of a splittable one, which sells by the slot, the most)
    budget: Any  # float64 (c,): regular slots of crafts
    limit: Any  # float64 (a,): slots of limits on assets
    price_over: Any  # float64 (1,): points a slot of overtime
    unit: Any  # float64 (k x b + c + a,): slots that one of each price is for


@dataclass
class _Laid:
    """One task as the relaxation sees it."""

    task: Task
    length: int
    starts: int
    allowed: int
    split: bool


def _first(mask: int) -> int:
    """The first slot of a mask that has one."""
    return (mask & -mask).bit_length() - 1


_Item = tuple[int, int, int, int, int]
"""Seat, day, slots, first slot and end of the part of the stretch that it must lie in."""


def _nested(items: list[_Item], size: int) -> list[tuple[tuple[int, int], list[_Item], int]]:
    """The parts of a stretch, each before the one around it: its slots, the items that must lie in just it, the part around it (-1: none)."""
    inside: dict[tuple[int, int], list[_Item]] = {(0, size): []}
    for one in items:
        inside.setdefault(one[3:], []).append(one)
    parts = sorted(inside, key=lambda p: (p[1] - p[0], p))

    def around(n: int) -> int:
        low, high = parts[n]
        return next((m for m in range(n + 1, len(parts)) if parts[m][0] <= low and high <= parts[m][1]), -1)

    return [(part, inside[part], around(n)) for n, part in enumerate(parts)]


class Relaxation:
    """Lays a problem out, and lowers its bound step by step."""

    def __init__(self, problem: WeekProblem) -> None:
        self.p, self.board = problem, Board(problem)
        self.grid, self.worth = problem.grid, Worth(self.board)
        self.constant = 0.0
        self.whole_jobs: dict[str, tuple[int, int]] = {}
        """Where jobs stand that are placed whole or not at all: their row, and that of the task whose end may be late (-1: none)."""
        self.fixed: dict[tuple[str, str], float] = defaultdict(float)
        self._take_fixed()
        self.cuts = self._cuts()
        self.days = [span(a, b) for a, b in zip(self.cuts, self.cuts[1:], strict=False)]
        self.k = self._tables()
        self.best = float("inf")
        self.prices = np.zeros(len(self.k.unit))
        self.step = np.array([1.0, 0.0, np.inf])
        """Step length, steps without a better sum, least sum."""
        self._moves = np.zeros(len(self.k.unit))
        self._start_prices()

    def _take_fixed(self) -> None:
        """What is fixed uses its people up and counts as if in time and without overtime."""
        board, grid = self.board, self.grid
        for one in self.p.fixed:
            hours = one.hours if one.start is None else (one.end - one.start).total_seconds() / 3600  # type: ignore[operator]
            self.fixed[(one.job, one.task)] += hours or 0.0
            if one.start is not None:
                part = span(grid.floor(one.start), grid.ceil(one.end))  # type: ignore[arg-type]
                for seat in one.people:
                    if seat.id is not None:
                        n = board.position[seat.id]
                        board.budget[board.main[n]] -= board.regular_slots(n, part & board.free[n])
                        board.free[n] &= ~part

    def _cuts(self) -> list[int]:
        """Where a day ends and the next begins: each at the hour that the fewest shifts cross."""
        per = 24 * 60 // self.p.slot_minutes
        step = max(1, 60 // self.p.slot_minutes)
        stretches = [ab for m in self.board.there for ab in runs(m)]
        crossing = {h: sum(any(a < c < b for c in range(h, self.board.slots, per)) for a, b in stretches) for h in range(0, per, step)}
        at = min(crossing, key=lambda h: (crossing[h], h))
        inner = [c for c in range(at, self.board.slots, per) if 0 < c < self.board.slots]
        return [0, *inner, self.board.slots]

    # ---------------------------------------------------------------- tables

    def _tables(self) -> Priced:
        self.jobs: list[list[int]] = []
        self.value: list[float] = []
        self.tasks: list[list[int]] = []
        self.gain: list[float] = []
        self.room: list[list[float]] = []
        self.late: list[list[float]] = []
        self.then: list[list[int]] = []
        self.people: list[float] = []
        self.seats: list[tuple[Any, _Laid]] = []
        self.limits: dict[str, int] = {}
        self.limit_size: list[float] = []
        fixed_jobs = {j for j, _ in self.fixed}
        for job in self.p.jobs:
            if job.id in fixed_jobs:
                self._rest_of(job)
            else:
                self._job(job)
        run_rows, nodes, items = self._runs()
        crafts = self.p.crafts
        budget = [float(max(0, self.board.budget.get(c.id, 0))) for c in crafts] or [0.0]
        price = self.p.weights.overtime_per_hour * self.p.slot_minutes / 60

        def table(rows: list[Any], columns: int, kind: Any = np.int64) -> Any:
            return np.array(rows, dtype=kind).reshape(len(rows), columns)

        days = len(self.days)
        return Priced(
            table(self.jobs, 3), np.array(self.value, dtype=np.float64), table(self.tasks, 6), np.array(self.gain, dtype=np.float64),
            table(self.room, days, np.float64), table(self.late, days, np.float64), table(self.then, days), np.array(self.people, dtype=np.float64),
            table(run_rows, 6), table(nodes, 5), table(items, 2, np.int32), np.array(budget), np.array(self.limit_size or [0.0]), np.array([price]), self._units(days),
        )  # fmt: skip

    def _units(self, days: int) -> Any:
        """A seat is as many slots as its task is long, of a splittable task one; crafts and assets are priced by the slot."""
        seats = [1.0 if x.split else float(x.length) for _, x in self.seats for _ in range(days)]
        return np.array(seats + [1.0] * (max(1, len(self.p.crafts)) + max(1, len(self.limit_size))))

    def _lay(self, job: Job, task: Task, hours: float) -> _Laid:
        board, grid = self.board, self.grid
        length = grid.slots_for(hours)
        allowed = board.asset_mask(job, task)
        allowed &= span(grid.ceil(job.earliest) if job.earliest else 0, grid.floor(job.latest) if job.latest else board.slots)
        if any(len(board.tool_levels[t]) == 1 for t in task.tools):
            allowed = 0
        least = min(length, grid.slots_for(task.min_portion)) if task.splittable else length
        starts = starts_with_people(board, task, allowed, least)
        return _Laid(task, length, starts, cover(starts, least), task.splittable)

    def _rest_of(self, job: Job) -> None:
        """What is left of a job that is fixed in part: each task for itself."""
        rate = self.worth.rate(job)
        self.constant += rate * sum(min(t.hours, self.fixed[(job.id, t.id)]) * t.people for t in job.tasks)
        self.constant += self.p.weights.must_per_job if job.must else 0.0
        for task in job.tasks:
            left = task.hours - self.fixed[(job.id, task.id)]
            if left > 1e-9:
                laid = self._lay(job, task, left)
                if laid.starts:
                    self._add(job, [laid], rate * left * task.people, False, [-1])

    def _job(self, job: Job) -> None:
        laid = [self._lay(job, t, t.hours) for t in job.ordered_tasks]
        if not laid or (not job.divisible and any(not x.starts or x.allowed.bit_count() < x.length for x in laid)):
            return
        self._in_order(laid, not job.divisible)
        if not job.divisible and any(not x.starts for x in laid):
            return
        at = {x.task.id: n for n, x in enumerate(laid)}
        parents = [at[x.task.after[0].task] if x.task.after else -1 for x in laid]
        last = self._add(job, laid, self.worth.most(job), job.divisible, parents)
        if not job.divisible:
            self.whole_jobs[job.id] = (len(self.jobs) - 1, last)

    def _in_order(self, laid: list[_Laid], whole: bool) -> None:
        """Leave out slots that come before the soonest end of what a task waits for, or, of a whole job, after what waits for it must begin."""
        slots, at = self.grid.slots_for, {x.task.id: x for x in laid}

        def within(x: _Laid, first: int, last: int) -> None:
            x.allowed &= span(first, max(first, last))
            x.starts &= run_starts(x.allowed, min(x.length, slots(x.task.min_portion)) if x.split else x.length)

        end = self.board.slots
        for x in laid:
            before = [(at[a.task], slots(a.lag)) for a in x.task.after if a.task in at]
            within(x, max((_first(y.starts) + y.length + lag if y.starts else end for y, lag in before), default=0), end)
        last = {x.task.id: end for x in laid}
        for x in reversed(laid if whole else []):
            within(x, 0, last[x.task.id])
            for a in x.task.after:
                last[a.task] = min(last[a.task], x.starts.bit_length() - 1 - slots(a.lag))

    def _add(self, job: Job, laid: list[_Laid], value: float, divisible: bool, parents: list[int]) -> int:
        """Add the rows of a job; gives the row of the task whose end may be late (-1: none)."""
        first = len(self.tasks)
        self.jobs.append([first, len(laid), int(divisible)])
        self.value.append(value)
        rate, share = self.worth.rate(job), self.p.weights.late_share_per_day
        extra = self.p.weights.must_per_job / len(laid) if job.must and divisible else 0.0
        followed = {p for p in parents if p >= 0} | {n for n, y in enumerate(laid) if any(a.task == y.task.id for x in laid for a in x.task.after)}
        last = next((n for n in range(len(laid) - 1, -1, -1) if n not in followed and not laid[n].split), -1)
        chain = self._chain(laid)
        for n, x in enumerate(laid):
            room, late = [], []
            for part in self.days:
                here = x.starts & part
                slots = float((x.allowed & part).bit_count()) if x.split else float(bool(here))
                room.append(slots)
                soonest = _first(here) + x.length if here else 0
                lost = share * value * self.worth.late_days(job, soonest) if n == last and here and not divisible else 0.0
                late.append(min(lost, value))
            limit = self._limit(job) if n in chain else -1
            parent = first + parents[n] if parents[n] >= 0 else -1
            self.tasks.append([x.length, int(x.split), parent, len(self.people), len(x.task.needs), limit])
            self.gain.append(rate * x.task.hours * x.task.people + extra)
            self.room.append(room)
            self.late.append(late)
            self.then.append(self._then(laid[parents[n]] if parents[n] >= 0 else None, x))
            for need in x.task.needs:
                self.people.append(float(need.people))
                self.seats.append((need, x))
        return first + last if last >= 0 else -1

    def _then(self, before: _Laid | None, x: _Laid) -> list[int]:
        """For each part of the week in which the task before may start, the first in which this one may."""
        if before is None or before.split or x.split:
            return [0] * len(self.days)
        lag = sum(self.grid.slots_for(a.lag) for a in x.task.after if a.task == before.task.id)
        out = []
        for part in self.days:
            here = before.starts & part
            left = x.starts & ~span(0, _first(here) + before.length + lag) if here else 0
            out.append(bisect_right(self.cuts, _first(left)) - 1 if left else len(self.days))
        return out

    def _chain(self, laid: list[_Laid]) -> set[int]:
        """The longest path of tasks that touch the asset: they never overlap one another."""
        at = {x.task.id: n for n, x in enumerate(laid)}
        length: list[int] = []
        before: list[int] = []
        for x in laid:
            own = x.length if x.task.asset_state != "any" else 0
            earlier = [at[a.task] for a in x.task.after if a.task in at]
            best = max(earlier, key=lambda n: length[n], default=-1)
            length.append(own + (length[best] if best >= 0 else 0))
            before.append(best)
        out: set[int] = set()
        n = max(range(len(laid)), key=lambda n: length[n])
        while n >= 0:
            if laid[n].task.asset_state != "any":
                out.add(n)
            n = before[n]
        return out

    def _limit(self, job: Job) -> int:
        """The limit on hours of an asset that takes one job at a time."""
        if job.asset not in self.board.spans:
            return -1
        asset = job.asset or ""
        if asset not in self.limits:
            self.limits[asset] = len(self.limit_size)
            taken = self.board.everything
            for one in self.p.fixed:
                state = self.p.task_by_id[(one.job, one.task)].asset_state
                if self.p.job_by_id[one.job].asset == asset and state != "any" and one.start and one.end:
                    taken &= ~span(self.grid.floor(one.start), self.grid.ceil(one.end))
            states = {t.asset_state for j in self.p.jobs if j.asset == asset for t in j.tasks}
            open_slots = (self.board.stopped[asset] if "stopped" in states else 0) | (self.board.running[asset] if "running" in states else 0)
            self.limit_size.append(float((open_slots & taken).bit_count()))
        return self.limits[asset]

    def _runs(self) -> tuple[list[list[int]], list[list[int]], list[list[int]]]:
        """Stretches of hours of people who are alike, their parts, and the seats that fit into them."""
        board = self.board
        crafts = {c.id: n for n, c in enumerate(self.p.crafts)}
        able: dict[int, list[tuple[Any, int]]] = defaultdict(list)
        wanted: dict[Any, list[int]] = defaultdict(list)
        for k, (need, _) in enumerate(self.seats):
            wanted[need].append(k)
        for need in wanted:
            for n, mask in board.qualified(need):
                able[n].append((need, mask))
        kinds: dict[tuple[Any, ...], int] = {}
        for n in range(len(board.people)):
            for first, last in runs(board.free[n]):
                part = span(first, last)
                regular = (board.regular[n] & part).bit_count()
                over = 0 if regular == last - first else 1 if regular == 0 else 2
                kind = (tuple((need, mask & part) for need, mask in able[n]), first, last, crafts[board.main[n]], over)
                kinds[kind] = kinds.get(kind, 0) + 1
        fits: dict[tuple[Any, int, int, int], list[_Item]] = {}
        run_rows: list[list[int]] = []
        nodes: list[list[int]] = []
        items: list[list[int]] = []
        days, split = len(self.days), [int(x.split) for _, x in self.seats]
        for (needs, first, last, craft, over), times in kinds.items():
            rows: list[_Item] = []
            for need, mask in needs:
                at = (need, mask, first, last)
                if at not in fits:
                    fits[at] = [one for k in wanted[need] for one in self._items(k, first, last, mask)]
                rows += fits[at]
            if not rows:
                continue
            before = len(nodes)
            for (low, high), inside, around in _nested(rows, last - first):
                inside.sort(key=lambda one: split[one[0]])
                splittable = sum(split[one[0]] for one in inside)
                nodes.append([len(items), len(inside) - splittable, splittable, high - low, before + around if around >= 0 else -1])
                items += [[k * days + b, slots] for k, b, slots, _, _ in inside]
            run_rows.append([before, len(nodes) - before, last - first, times, craft, over])
        return run_rows, nodes, items

    def _items(self, k: int, first: int, last: int, mask: int) -> list[_Item]:
        """Days on which a seat may be taken in a stretch, the slots it takes, and between which slots of the stretch it must lie."""
        x = self.seats[k][1]
        inside = x.allowed & span(first, last) & mask
        least = min(x.length, self.grid.slots_for(x.task.min_portion)) if x.split else x.length
        starts = run_starts(inside, least)
        if x.split:
            starts = cover(starts, least)  # it is counted by the slots that it uses, not by where it starts
        found = []
        for b, part in enumerate(self.days):
            here = starts & part
            if here:
                low, high = (_first(here) - first, here.bit_length() - 1 + (0 if x.split else x.length - 1) - first + 1)
                found.append((k, b, min(x.length, here.bit_count() if x.split else last - first), low, high))
        return found

    # ---------------------------------------------------------------- points of single jobs

    def given(self, job: Job) -> float:
        """The points that a job has here at its soonest, if hours were free."""
        j, last = self.whole_jobs[job.id]
        lost = min((self.k.late[last, b] for b in range(len(self.days)) if self.k.room[last, b] > 0), default=0.0) if last >= 0 else 0.0
        return float(self.k.value[j] - lost)

    def cap(self, job: Job, points: float) -> None:
        """No place of the job is worth more than these points."""
        j, last = self.whole_jobs[job.id]
        lost = max(0.0, self.k.value[j] - points)
        if last >= 0:
            self.k.late[last] = np.maximum(self.k.late[last], lost)
        else:
            self.k.value[j] -= lost

    # ---------------------------------------------------------------- prices

    def _start_prices(self) -> None:
        """At first a slot of a seat costs what the last job that still finds hours of its craft brings for a slot."""
        k = self.k
        seats = self.prices[: len(k.people) * len(self.days)].reshape(len(k.people), len(self.days))
        own = [range(k.tasks[f, T_FIRST], k.tasks[f + n - 1, T_FIRST] + k.tasks[f + n - 1, T_COUNT]) for f, n, _ in k.jobs]
        slots = [sum(self.seats[i][1].length * float(k.people[i]) for i in ks) for ks in own]
        left = {c: float(max(0, n)) for c, n in self.board.budget.items()}
        price: dict[str, float] = {}
        for j in sorted(range(len(own)), key=lambda j: (-k.value[j] / slots[j], j)):
            needs = [(self.seats[i][0].craft, self.seats[i][1].length * float(k.people[i])) for i in own[j]]
            full = {c for c, _ in needs if left.get(c, 0.0) <= 0}
            for c in full:
                price.setdefault(c, k.value[j] / slots[j])
            for c, n in needs if not full else ():
                left[c] -= n
        for i, (need, x) in enumerate(self.seats):
            seats[i, :] = price.get(need.craft, 0.0) * (1 if x.split else x.length)

    def lower(self, steps: int, known: float) -> float:
        """Some steps of prices; gives the best bound so far. `known` is the value of a plan, at which steps aim."""
        from nundine.core.week.build import pricing

        found = pricing.descend(self.k, self.prices, self._moves, self.step, steps, known - self.constant)
        self.best = min(self.best, found + self.constant)
        return self.best
