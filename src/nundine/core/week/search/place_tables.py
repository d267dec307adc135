"""The part of the search's tables that says where people and assets are: areas, ways, shifts, stretches out
of service."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, Any

import numpy as np

from nundine.core.week.board.bits import first_bit
from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.frequencies import MOST_LATER
from nundine.core.week.problem import Job, Need, Task, WeekProblem

if TYPE_CHECKING:
    from nundine.core.week.search.tables import _Lists


class Places:
    """Columns and rows of one board. With `blank` nothing stands on it, and loose ends cost nothing."""

    def __init__(
        self, board: Board, problem: WeekProblem, jobs: list[Job], index: dict[str, int], blank: bool
    ) -> None:
        self.board, self.problem, self.blank = board, problem, blank
        self.areas = sorted({a for j in jobs if (a := problem.area_of(j)) is not None})
        number = {a: n for n, a in enumerate(self.areas)}
        self.area = {j.id: number.get(problem.area_of(j) or "", -1) for j in jobs}
        names = sorted(a for a in board.service.shared if a is not None)
        self.shared = {a: n for n, a in enumerate(names)}
        self.on_shared: list[list[int]] = [[] for _ in names]
        for j in jobs:
            if j.asset in self.shared:
                self.on_shared[self.shared[j.asset]].append(index[j.id])

    def chain(self, job: Job, have: list[Portion]) -> int:
        """Whether the job may come to more than one portion."""
        return int(bool(have) or len(job.tasks) > 1 or any(t.splittable for t in job.tasks))

    def stretches(self, job: Job, have: list[Portion], lists: _Lists) -> list[int]:
        """J_STAYS_OUT to J_SHARED of a job; what others run on its asset is left to the search."""
        service = self.board.service
        found = service.stretches(job, have, False)
        if found is None and job.asset in self.shared and job.stays_out:
            held = service.span_of(job, have)
            torn = held is not None and service.stretch_of(job, *held) is None
            stops = any(t.asset_state == "stopped" for t in job.tasks)
            found = None if torn or not stops else service.all_stretches(job)
        pairs = [v for pair in found or [] for v in pair]
        since = service.since(job)
        return [
            int(job.stays_out),
            int(found is not None),
            lists.add(pairs),
            len(found or []),
            -1 if since is None else since,
            self.shared.get(job.asset or "", -1),
        ]

    def rows(self) -> Iterable[list[int]]:
        """Sets of slots of each person and area: busy, where seats begin, shut, shut by seats off the grid,
        away."""
        board, people = self.board, range(len(self.board.people))
        areas = board.areas
        nothing = [0] * (len(people) * len(self.areas))
        pairs = [(n, a) for n in people for a in self.areas]
        yield nothing if self.blank else [areas.busy[n].get(a, 0) for n, a in pairs]
        yield nothing if self.blank else [areas.starts[n].get(a, 0) for n, a in pairs]
        yield nothing
        yield nothing if self.blank else [areas.shut_exactly(n, a) for n, a in pairs]
        yield [areas.away(n, a, board.there[n]) for n, a in pairs]

    def shifts(self, lists: _Lists) -> list[tuple[int, int]]:
        """P_SHIFTS and P_NSHIFTS of each person: the first and last slot of each of their shifts, one after
        another in the lists."""
        found = []
        for its in self.board.areas.shifts:
            bounds = [v for m in its if m for v in (first_bit(m), m.bit_length())]
            found.append((lists.add(bounds), len(bounds) // 2))
        return found

    def seats(self, person: int) -> int:
        """Seats of a person that lie in some area."""
        return 0 if self.blank else sum(m.bit_count() for m in self.board.areas.starts[person].values())

    def figures(self) -> list[int]:
        """S_AREAS, S_FOLLOWS, S_TIDY, S_CHANGES."""
        w = self.problem.weights
        follows = bool(self.board.areas.ways) or w.area_change > 0
        return [
            len(self.areas),
            int(follows),
            int(w.has_prices and not self.blank),
            0 if self.blank else self.board.areas.changes,
        ]

    def tables(self, shared: Any, tasks: list[Task]) -> tuple[Any, Any, Any, Any]:
        """G, D, H and E."""
        board, people = self.board, len(self.board.people)
        seats = [
            [-1, 0 if self.blank else board.areas.starts[n].get(a, 0).bit_count()]
            for n in range(people)
            for a in self.areas
        ]
        ways = [
            [board.areas.slots_of_way.get((a, b), 0) for b in self.areas] or [0] for a in self.areas or [""]
        ]
        return (
            np.array(seats or [[0, 0]], dtype=np.int64),
            np.array(ways, dtype=np.int64),
            shared,
            self._able_later(tasks, people),
        )

    def _able_later(self, tasks: list[Task], people: int) -> Any:
        """For each task and person how many of the job's tasks to come the person could do."""
        later = np.zeros((max(1, len(tasks)), max(1, people)), dtype=np.int8)
        able: dict[tuple[Need, ...], Any] = {}
        row = 0
        position = {id(t): n for n, t in enumerate(tasks)}
        for job in self.problem.jobs:
            count = np.zeros(max(1, people), dtype=np.int8)
            for task in reversed(job.ordered_tasks):
                row = position[id(task)]
                later[row] = count
                if task.needs not in able:
                    who = np.zeros(max(1, people), dtype=np.int8)
                    for need in task.needs:
                        who[[n for n, _ in self.board.qualified(need)]] = 1
                    able[task.needs] = who
                count = np.minimum(MOST_LATER, count + able[task.needs])
        return later
