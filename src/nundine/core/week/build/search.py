"""Dispatch by value per hour, then ruin and recreate with annealed acceptance (Schrimpf et al. 2000)."""

from __future__ import annotations

import math
from collections.abc import Callable
from random import Random

from nundine.core.week.build.bits import span
from nundine.core.week.build.board import Board, Portion
from nundine.core.week.build.fit import EMPTY_WEEK, Fitter, Freedom
from nundine.core.week.build.worth import Worth
from nundine.core.week.problem import Job

REGULAR, WITH_OVERTIME = Freedom(overtime=False), Freedom()


class Search:
    """Places and replaces the free jobs of a board. Fixed portions (the first `kept` of a job) never move."""

    def __init__(self, board: Board, jobs: list[Job], kept: dict[str, int], seed: int) -> None:
        self.board, self.jobs, self.kept = board, jobs, kept
        self.fitter, self.worth = Fitter(board), Worth(board)
        self.random = Random(seed)
        self.value_of = {j.id: self.worth.of(j, board.placed.get(j.id, [])) for j in board.problem.jobs if j.id in board.placed}
        self.value = sum(self.value_of.values())
        self.by_id = {j.id: j for j in jobs}
        self.rank = sorted(jobs, key=lambda j: (-j.must, -self.worth.per_hour(j), j.id))
        self.crafts = {j.id: {n.craft for t in j.tasks for n in t.needs} for j in jobs}
        self.neighbours = self._neighbours()
        self.hopeless: set[str] = set()

    def _neighbours(self) -> dict[str, list[str]]:
        by_craft: dict[str, list[str]] = {}
        for j in self.jobs:
            for c in sorted(self.crafts[j.id]):
                by_craft.setdefault(c, []).append(j.id)
        return by_craft

    def try_place(self, job: Job, not_before: int = 0) -> bool:
        """Place the job where it is worth most among few tries; regular hours before overtime."""
        before = self.board.placed.get(job.id, [])
        partly = job.divisible or bool(self.kept.get(job.id))
        for freedom in (REGULAR, WITH_OVERTIME):
            f = Freedom(overtime=freedom.overtime, not_before=not_before)
            found = self.fitter.fit(job, f, before, partly)
            if not found:
                continue
            value = self.worth.of(job, before + found)
            if value > self.value_of.get(job.id, 0.0):
                self._put(job, found)
                return True
        return False

    def _put(self, job: Job, portions: list[Portion]) -> None:
        self.board.add(job, portions)
        value = self.worth.of(job, self.board.placed[job.id])
        self.value += value - self.value_of.get(job.id, 0.0)
        self.value_of[job.id] = value

    def _take(self, job: Job) -> list[Portion]:
        taken = self.board.remove(job, self.kept.get(job.id, 0))
        value = self.worth.of(job, self.board.placed.get(job.id, []))
        self.value += value - self.value_of.pop(job.id, 0.0)
        if value:
            self.value_of[job.id] = value
        return taken

    def movable(self, job_id: str) -> bool:
        return len(self.board.placed.get(job_id, ())) > self.kept.get(job_id, 0)

    def dispatch(self) -> None:
        """Must-work first, then by points an hour, each at its earliest place."""
        for job in self.rank:
            self.try_place(job)
        self.hopeless = {j.id for j in self.jobs if not self.movable(j.id) and not self.fitter.fit(j, EMPTY_WEEK, None, j.divisible)}

    def place_previous(self, previous: dict[str, list[Portion]]) -> None:
        """Take over what still fits of the draft before."""
        for job_id, portions in previous.items():
            job = self.by_id.get(job_id)
            if job is None or self.movable(job_id) or not self._still_fits(job, portions):
                continue
            self._put(job, portions)

    def _still_fits(self, job: Job, portions: list[Portion]) -> bool:
        """Whether exactly these portions break no rule, by asking the fitter for each at its own slots."""
        board, need = self.board, {t.id: self.fitter.grid.slots_for(t.hours) for t in job.tasks}
        if self.kept.get(job.id) or any(n is None for p in portions for n in p.people):
            return False
        have: dict[str, int] = {}
        ends: dict[str, int] = {}
        spent: dict[str, int] = {}
        others = board.others_on_asset(job)
        touching = [p for p in portions if p.task.asset_state != "any"]
        if touching and span(min(p.start for p in touching), max(p.end for p in touching)) & others:
            return False
        for p in sorted(portions, key=lambda p: p.start):
            m, task = p.mask, p.task
            first = max([ends[a.task] + self.fitter.grid.slots_for(a.lag) for a in task.after if a.task in ends], default=0)
            if p.start < max(first, ends.get(task.id, 0)) or any(a.task not in ends for a in task.after):
                return False
            if job.earliest is not None and p.start < self.fitter.grid.ceil(job.earliest):
                return False
            if job.latest is not None and p.end > self.fitter.grid.floor(job.latest):
                return False
            if m & ~(board.asset_mask(job, task) & board.tool_free(task)) or len(set(p.people)) != len(task.seat_needs):
                return False
            for n, seat in zip(p.people, task.seat_needs, strict=True):
                able = dict(board.qualified(seat))
                if n not in able or m & ~(board.free[n] & able[n]):
                    return False
                spent[board.main[n]] = spent.get(board.main[n], 0) + board.regular_slots(n, m)
            have[task.id] = have.get(task.id, 0) + p.end - p.start
            ends[task.id] = p.end
        return have == need and all(u <= board.budget[c] for c, u in spent.items())

    def _victims(self, wanted: Job | None, count: int) -> list[Job]:
        """Placed jobs around one craft and one stretch of the week."""
        random = self.random
        crafts = sorted(self.crafts[wanted.id]) if wanted else []
        pool = self.neighbours[random.choice(crafts)] if crafts else [j.id for j in self.jobs]
        placed = [j for j in pool if self.movable(j)]
        if wanted is not None and wanted.asset in self.board.spans:
            placed += [j for j in self.board.spans[wanted.asset] if j in self.by_id and self.movable(j) and j not in placed]
        if not placed:
            return []
        centre = self.board.placed[random.choice(placed)][0].start
        placed.sort(key=lambda j: (abs(self.board.placed[j][-1].start - centre) + random.randrange(24), j))
        return [self.by_id[j] for j in placed[:count]]

    def step(self, temperature: float) -> None:
        """One ruin and recreate; undone if it is not accepted."""
        random, before = self.random, self.value
        waiting = [j for j in self.rank if not self.movable(j.id) and j.id not in self.kept and j.id not in self.hopeless]
        wanted = None
        if waiting and random.random() < 0.8:
            wanted = waiting[min(int(random.expovariate(6 / len(waiting))), len(waiting) - 1)]
        victims = self._victims(wanted, random.randint(1, 7))
        if not victims:
            return
        taken = [(j, self._take(j)) for j in victims]
        again = [j for j, _ in taken]
        if wanted is not None:
            again.append(wanted)
        crafts = set().union(*(self.crafts[j.id] for j in again))
        near = [j for j in waiting if self.crafts[j.id] & crafts and j is not wanted][:60]
        again += random.sample(near, min(len(near), 12))
        again.sort(key=lambda j: (-self.worth.per_hour(j) * (0.7 + 0.6 * random.random()), j.id))
        if wanted is not None and random.random() < 0.5:
            again.remove(wanted)
            again.insert(0, wanted)
        put: list[Job] = []
        for job in again:
            late_start = random.randrange(self.board.week_end) if random.random() < 0.15 else 0
            if self.try_place(job, late_start) or (late_start and self.try_place(job)):
                put.append(job)
        change = self.value - before
        if change < 0 and random.random() >= math.exp(change / max(temperature, 1e-9)):
            for job in put:
                self._take(job)
            for job, portions in taken:
                self._put(job, portions)

    def snapshot(self) -> dict[str, list[Portion]]:
        return {j: list(p) for j, p in self.board.placed.items()}

    def restore(self, best: dict[str, list[Portion]]) -> None:
        """Bring the board back to a snapshot."""
        for job in self.jobs:
            if self.movable(job.id):
                self._take(job)
        for job_id, portions in best.items():
            rest = portions[self.kept.get(job_id, 0) :]
            if rest and job_id in self.by_id:
                self._put(self.by_id[job_id], rest)

    def improve(self, go_on: Callable[[int, float], bool], heat: Callable[[int], float]) -> None:
        """Ruin and recreate while `go_on(steps, best value)`; ends on the best plan found.

        `heat(step)` in 0..1 scales the temperature: a tenth of the mean job value when hot, none when cold.
        """
        mean = self.value / max(1, len(self.value_of))
        best_value, best, step = self.value, self.snapshot(), 0
        while go_on(step, best_value):
            self.step(0.1 * mean * heat(step))
            step += 1
            if self.value > best_value + 1e-6:
                best_value, best = self.value, self.snapshot()
            elif step % 400 == 0 and self.value < best_value * 0.985:
                self.restore(best)
        if self.value < best_value - 1e-6:
            self.restore(best)
