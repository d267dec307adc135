"""A week while it is mended: what was promised, what stands on the board, and what may not be touched."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from datetime import datetime

from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.fit import Fitter
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.board.worth import Worth
from nundine.core.week.check import Broken, check
from nundine.core.week.day_alone import DayAlone
from nundine.core.week.places import Places
from nundine.core.week.problem import Placement, WeekProblem

Key = tuple[str, str, int]


class Standing:
    """Placements are known by job, task and number of the portion. `before`: what was promised, and
    `before_known` the same with seats of people who are gone as open ones; `stay`: what may not be touched;
    `loose`: work with its day alone for which no time was found; `left`: jobs that had to leave; `settled`:
    those placed as if they were new; `value`: what an hour of a job is worth."""

    def __init__(
        self,
        problem: WeekProblem,
        placements: tuple[Placement, ...],
        stay: set[Key],
        now: datetime | None,
    ) -> None:
        self.p = problem
        self.before = {p.key: p for p in placements if (p.job, p.task) in problem.task_by_id}
        self.before_known = {p.key: p for p in self.known()}
        self.board = Board(problem)
        self.fitter, self.worth = Fitter(self.board), Worth(self.board)
        self.grid = problem.grid
        self.now = self.grid.ceil(now) if now is not None else 0
        self.freedom = Freedom(held_back=True, not_before=self.now)
        self.places = Places(self.board, self.fitter, self.freedom)
        self.day_alone = DayAlone(self.board, self.freedom)
        # Moments of one zone compare by their clocks, which a clock change repeats.
        begun = {
            k
            for k, p in self.before.items()
            if p.start is not None and now is not None and p.start.timestamp() < now.timestamp()
        }
        self.stay = (stay | begun) & set(self.before)
        self.value = {j.id: self.worth.per_hour(j) for j in problem.jobs if j.tasks}
        self.left: list[str] = []
        self.settled: set[str] = set()
        self.loose: dict[Key, Placement] = {}

    def portion(self, one: Placement) -> Portion:
        assert one.start is not None and one.end is not None
        people = tuple(self.board.position.get(s.id or "") for s in one.people)
        task = self.p.task_by_id[(one.job, one.task)]
        return Portion(task, one.portion, self.grid.floor(one.start), self.grid.ceil(one.end), people)

    def promised(self, key: Key) -> Portion:
        """Where a placement with a time stood."""
        return self.portion(self.before_known[key])

    def broken(self, placements: tuple[Placement, ...]) -> tuple[Broken, ...]:
        return check(self.p.with_placements(placements), placements).conflicts

    def known(self) -> tuple[Placement, ...]:
        """What was promised, with seats of people who are gone for good as open ones."""
        known = self.p.person_by_id
        out = []
        for one in self.before.values():
            seats = tuple(replace(s, id=s.id if s.id in known else None) for s in one.people)
            out.append(replace(one, people=seats))
        return tuple(out)

    def in_order(self, keys: Iterable[Key]) -> list[Key]:
        """Dearest job first, tasks of a job in their order."""
        keys = set(keys)
        order = {
            (j, t.id): n
            for j in {k[0] for k in keys}
            for n, t in enumerate(self.p.job_by_id[j].ordered_tasks)
        }
        return sorted(keys, key=lambda k: (-self.value.get(k[0], 0.0), k[0], order[k[:2]], k[2]))

    def changed(self) -> list[Key]:
        """Placements on the board that are not where, when and with whom they were promised, but for what
        stays."""
        found = {
            (job_id, p.task.id, p.number): p
            for job_id, portions in self.board.placed.items()
            for p in portions
        }
        promised = (
            (key, self.before_known[key], p)
            for key, p in found.items()
            if key in self.before_known and key not in self.stay
        )
        return [key for key, was, p in promised if was.start is not None and not self.same(was, p)]

    def same(self, was: Placement, p: Portion) -> bool:
        before = self.portion(was)
        return (before.start, before.end, before.people) == (p.start, p.end, p.people)

    def on(self, job_id: str, portion: Portion) -> None:
        self.board.add(self.p.job_by_id[job_id], [portion])

    def off(self, key: Key) -> Portion | None:
        """Take one portion off the board."""
        self.loose.pop(key, None)
        job = self.p.job_by_id[key[0]]
        portions = self.board.remove(job)
        mine = [p for p in portions if (p.task.id, p.number) == key[1:]]
        self.board.add(job, [p for p in portions if (p.task.id, p.number) != key[1:]])
        if not self.board.placed[job.id]:
            self.board.remove(job)
        return mine[0] if mine else None

    def leave(self, job_id: str) -> None:
        """The job leaves the week, but for what stays."""
        job = self.p.job_by_id[job_id]
        portions = self.board.remove(job)
        kept = [p for p in portions if (job_id, p.task.id, p.number) in self.stay]
        if kept:
            self.board.add(job, kept)
        self.loose = {k: p for k, p in self.loose.items() if k[0] != job_id or k in self.stay}
        self.left.append(job_id)
