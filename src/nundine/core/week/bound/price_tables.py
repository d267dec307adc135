"""The relaxed week of `packing.py` in arrays, and how jobs become rows of them."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Mapping
from typing import Any, NamedTuple

import numpy as np

from nundine.core.week.board.bits import first_bit, runs, span
from nundine.core.week.board.board import Board
from nundine.core.week.board.worth import Worth
from nundine.core.week.bound.possible_starts import (
    Laid,
    in_order,
    lag_after,
    lay,
    longest_path,
    on_asset,
    paths,
    together,
)
from nundine.core.week.bound.stretches import SeatSold, Stretches
from nundine.core.week.problem import Job, Need

FAR = 1e15
J_PATHS, J_NPATHS, J_DIVISIBLE = range(3)
P_TASKS, P_NTASKS, P_PARENT = range(3)
T_LENGTH, T_SPLIT, T_SEATS, T_NSEATS, T_LIMIT, T_OPTIONS, T_NOPTIONS, T_TOGETHER, T_NTOGETHER = range(9)
G_LAST, G_DAY, G_PICKS = range(3)
R_FIRST, R_COUNT, R_SIZE, R_TIMES, R_CRAFT, R_OVERTIME = range(6)
N_FIRST, N_COUNT, N_SPLIT, N_SIZE, N_PARENT = range(5)
LONGEST_OPEN = 96
"""Slots of an asset's windows up to which its hours are sold like a person's."""


class Priced(NamedTuple):
    """The relaxed week in arrays: jobs j, their paths p of tasks t in order, options o of a task to start,
    seats k (a need of a task), days b, tasks of a path that start on one day g, stretches of hours r."""

    jobs: Any  # int64 (j, 3): first path, paths, divisible
    value: Any  # float64 (j,): points of the whole job at its soonest
    paths: Any  # int64 (p, 3): first task, tasks, the path whose last task comes before (-1: none)
    # int64 (p, b): the soonest day on which its first task may start when the task before it starts (a
    # splittable one: ends) in b
    then: Any
    tasks: Any  # int64 (t, 9)
    gain: Any  # float64 (t,): points of the task alone, for divisible jobs
    # float64 (o,): points lost by lateness if the task starts so; a splittable one: if it ends on that day
    late: Any
    room: Any  # float64 (o,): of a splittable task the slots on that day
    together: Any  # int64 (g, 3): the last task, the day, where the options of its tasks are listed
    picks: Any  # int64: options
    people: Any  # float64 (k,)
    at: Any  # int64 (k,): where the prices of the seat begin, one for each option of its task
    days: Any  # int64 (1,)
    runs: (
        Any  # int64 (r, 6): first part, parts, slots, how many alike, craft, whether in overtime (2: neither)
    )
    # int64 (n, 5): parts of a stretch from the narrowest to the whole: first item, items of whole tasks, then
    # of splittable ones, slots, the part around it
    nodes: Any
    # int32 (i, 3): the price, slots it takes (of a splittable one, which sells by the slot, the most), the
    # least of a splittable one
    items: Any
    budget: Any  # float64 (c,): regular slots of crafts
    limit: Any  # float64 (a,): slots of limits on assets
    price_over: Any  # float64 (1,): points a slot of overtime
    unit: Any  # float64 (prices,): slots that one of each price is for


class Rows:
    """Rows of jobs, one job after another; `tables` makes arrays of them."""

    def __init__(self, board: Board, cuts: list[int], fixed: Mapping[tuple[str, str], float]) -> None:
        self.board, self.cuts, self.fixed = board, cuts, fixed
        self.p, self.grid, self.worth = board.problem, board.problem.grid, Worth(board)
        self.days = [span(a, b) for a, b in zip(cuts, cuts[1:], strict=False)]
        self.constant = 0.0
        """Points of what is fixed."""
        self.whole_jobs: dict[str, tuple[int, int]] = {}
        """Where jobs stand that are placed whole or not at all: their row, and that of the task whose end
        may be late."""
        self.jobs: list[list[int]] = []
        self.value: list[float] = []
        self.paths: list[list[int]] = []
        self.then: list[list[int]] = []
        self.tasks: list[list[int]] = []
        self.gain: list[float] = []
        self.late: list[float] = []
        self.room: list[float] = []
        self.together: list[list[int]] = []
        self.picks: list[int] = []
        self.people: list[float] = []
        self.seats: list[SeatSold] = []
        self.seats_of: list[tuple[int, int]] = []
        """Of each job its first seat and the one after its last."""
        self.prices = 0
        """How many prices of seats there are."""
        self.limits: dict[str, int] = {}
        self.limit_size: list[float] = []
        self.opened: dict[str, int] = {}
        """Assets that take one job at a time whose hours are sold: slots in which they are open."""
        fixed_jobs = {j for j, _ in fixed}
        for job in self.p.jobs:
            first = len(self.seats)
            if job.id in fixed_jobs:
                self._rest_of(job)
            else:
                self._job(job)
            self.seats_of += [(first, len(self.seats))] * (len(self.jobs) - len(self.seats_of))

    def tables(self) -> Priced:
        stretches = Stretches(self.board, self.seats)
        stretches.of_people()
        for asset, opened in self.opened.items():
            stretches.of_asset(asset, opened)
        budget = [float(max(0, self.board.budget.get(c.id, 0))) for c in self.p.crafts] or [0.0]
        price = self.p.weights.overtime_per_hour * self.p.slot_minutes / 60
        seat_units = [1.0 if s.task.split else float(s.task.length) for s in self.seats for _ in s.options]
        limit = self.limit_size or [0.0]

        def table(rows: list[Any], columns: int, kind: Any = np.int64) -> Any:
            return np.array(rows, dtype=kind).reshape(len(rows), columns)

        def row(values: list[Any], kind: Any = np.float64) -> Any:
            return np.array(values, dtype=kind)

        return Priced(
            table(self.jobs, 3), row(self.value), table(self.paths, 3), table(self.then, len(self.days)),
            table(self.tasks, 9), row(self.gain),
            row(self.late), row(self.room), table(self.together, 3), row(self.picks, np.int64),
            row(self.people), row([s.prices for s in self.seats], np.int64),
            row([len(self.days)], np.int64), table(stretches.runs, 6), table(stretches.nodes, 5),
            table(stretches.items, 3, np.int32),
            row(budget), row(limit), row([price]), row(seat_units + [1.0] * (len(budget) + len(limit))),
        )  # fmt: skip

    def _rest_of(self, job: Job) -> None:
        """What is left of a job that is fixed in part: each task for itself."""
        rate = self.worth.rate(job)
        self.constant += rate * sum(min(t.hours, self.fixed[(job.id, t.id)]) * t.people for t in job.tasks)
        self.constant += self.p.weights.must_per_job if job.must else 0.0
        for task in job.tasks:
            left = task.hours - self.fixed[(job.id, task.id)]
            if left > 1e-9:
                laid = lay(self.board, job, task, left)
                if laid.starts:
                    self._add(job, [laid], rate * left * task.people, False, [-1], touching=set())

    def _job(self, job: Job) -> None:
        laid = [lay(self.board, job, t, t.hours) for t in job.ordered_tasks]
        if not laid or (
            not job.divisible and any(not x.starts or x.allowed.bit_count() < x.length for x in laid)
        ):
            return
        in_order(self.board, laid, not job.divisible)
        if not job.divisible and any(not x.starts for x in laid):
            return
        at = {x.task.id: n for n, x in enumerate(laid)}
        parents = [at[x.task.after[0].task] if x.task.after else -1 for x in laid]
        last = self._add(job, laid, self.worth.most(job), job.divisible, parents, on_asset(laid))
        if not job.divisible:
            self.whole_jobs[job.id] = (len(self.jobs) - 1, last)

    def _add(
        self,
        job: Job,
        laid: list[Laid],
        value: float,
        divisible: bool,
        parents: list[int],
        touching: set[int],
    ) -> int:
        """Add the rows of a job; gives the row of the task whose end may be late. `touching` tasks take
        hours of its asset."""
        extra = self.p.weights.must_per_job / len(laid) if job.must and divisible else 0.0
        followed = {p for p in parents if p >= 0} | {
            n for n, y in enumerate(laid) if any(a.task == y.task.id for x in laid for a in x.task.after)
        }
        last = next(n for n in range(len(laid) - 1, -1, -1) if n not in followed)
        found = paths(laid, parents, longest_path(len(self.p.jobs)))
        self.jobs.append([len(self.paths), len(found), int(divisible)])
        self.value.append(value)
        of: dict[int, int] = {}
        row_of: dict[int, int] = {}
        for path in found:
            before = parents[path[0]]
            for at, n in enumerate(path, len(self.tasks)):
                of[n], row_of[n] = len(self.paths), at
            self.paths.append([len(self.tasks), len(path), of[before] if before >= 0 else -1])
            self.then.append(self._then(laid[before] if before >= 0 else None, laid[path[0]]))
            self._path(job, laid, path, touching, last if not divisible else -1, value, extra)
        return row_of[last]

    def _path(
        self,
        job: Job,
        laid: list[Laid],
        path: list[int],
        touching: set[int],
        last: int,
        value: float,
        extra: float,
    ) -> None:
        """Add the tasks of a path: options to start by the day and by which of its tasks start on the same
        one."""
        chain = [laid[n] for n in path]
        masks: list[list[int]] = [[] for _ in chain]
        groups: list[list[tuple[int, int, list[int]]]] = [[] for _ in chain]
        if chain[0].split:
            masks[0] = [chain[0].allowed & day for day in self.days]
        else:
            for first, end, b, starts in together(self.board, chain, self.days):
                picked = []
                for n, mask in enumerate(starts, first):
                    if mask not in masks[n]:
                        masks[n].append(mask)
                    picked.append(masks[n].index(mask))
                groups[first].append((end, b, picked))
        first_task, first_option = len(self.tasks), len(self.late)
        starts_at = [first_option + sum(len(m) for m in masks[:n]) for n in range(len(chain))]
        for n, x in enumerate(chain):
            self.tasks.append(
                [
                    x.length,
                    int(x.split),
                    len(self.seats),
                    0,
                    -1,
                    starts_at[n],
                    len(masks[n]),
                    len(self.together),
                    len(groups[n]),
                ]
            )
            self.gain.append(self.worth.rate(job) * x.task.hours * x.task.people + extra)
            for mask in masks[n]:
                self.room.append(float(mask.bit_count()) if x.split else 0.0)
                days = self.worth.late_days(job, first_bit(mask) + x.least) if path[n] == last and mask else 0
                self.late.append(min(value, self.p.weights.late_share_per_day * value * days))
            for end, b, picked in groups[n]:
                self.together.append([first_task + end, b, len(self.picks)])
                self.picks += [starts_at[m] + o for m, o in enumerate(picked, n)]
            for need in x.task.needs:
                self._seat(need, x, float(need.people), masks[n])
            if path[n] in touching:
                self._touch(job, x, masks[n])
            self.tasks[-1][T_NSEATS] = len(self.seats) - self.tasks[-1][T_SEATS]

    def _seat(self, need: Need | str, x: Laid, people: float, masks: list[int]) -> None:
        self.people.append(people)
        self.seats.append(SeatSold(need, x, self.prices, masks))
        self.prices += len(masks)

    def _then(self, before: Laid | None, x: Laid) -> list[int]:
        """For each part of the week in which the task before may start, or, if it may be cut, end, the
        first in which this one may start."""
        if before is None:
            return [0] * len(self.days)
        lag = lag_after(self.board, x, before)
        out = []
        for b, part in enumerate(self.days):
            here = before.starts & part
            since = (
                self.cuts[b]
                if before.split
                else first_bit(here) + before.length + lag
                if here
                else self.board.slots
            )
            left = (x.allowed if x.split else x.starts) & ~span(0, since)
            out.append(bisect_right(self.cuts, first_bit(left)) - 1 if left else len(self.days))
        return out

    def _touch(self, job: Job, x: Laid, masks: list[int]) -> None:
        """The task takes hours of an asset that takes one job at a time: a seat of its own, or, where it
        is open for long, counted over the week."""
        asset = job.asset or ""
        if asset not in self.board.spans:
            return
        if asset not in self.opened and asset not in self.limits:
            opened = self._opened(asset)
            if all(last - first <= LONGEST_OPEN for first, last in runs(opened)):
                self.opened[asset] = opened
            else:
                self.limits[asset] = len(self.limit_size)
                self.limit_size.append(float(opened.bit_count()))
        if asset in self.opened:
            self._seat(asset, x, 1.0, masks)
        else:
            self.tasks[-1][T_LIMIT] = self.limits[asset]

    def _opened(self, asset: str) -> int:
        """Slots in which jobs may touch an asset, but for what is fixed there."""
        taken = self.board.everything
        for one in self.p.fixed:
            state = self.p.task_by_id[(one.job, one.task)].asset_state
            if self.p.job_by_id[one.job].asset == asset and state != "any" and one.start and one.end:
                taken &= ~span(self.grid.floor(one.start), self.grid.ceil(one.end))
        states = {t.asset_state for j in self.p.jobs if j.asset == asset for t in j.tasks}
        opened = (self.board.stopped[asset] if "stopped" in states else 0) | (
            self.board.running[asset] if "running" in states else 0
        )
        return opened & taken
