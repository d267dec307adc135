"""After dispatch, ruin and recreate (Schrimpf et al. 2000) and displacement, with annealed acceptance.

This is the plain reading of the search; `kernel/` makes the very same moves, compiled, and a test compares
them step by step. It is used where the compiled one is not there.
"""

from __future__ import annotations

import math

from nundine.core.week.board import frequencies
from nundine.core.week.problem import Job
from nundine.core.week.search.dispatch import Dispatch


class Search(Dispatch):
    """Replaces jobs of a board by others, as long as a week gets better by it."""

    def _shares(self, a: Job, b: Job) -> bool:
        """Whether two jobs want a craft, or an asset that takes one job at a time, in common."""
        if a.asset is not None and a.asset == b.asset and a.asset in self.board.spans:
            return True
        return any(c in self.crafts[b.id] for c in self.crafts[a.id])

    def _start_of(self, job: Job) -> int:
        return self.board.placed[job.id][self.kept.get(job.id, 0)].start

    def _take_out(self, jobs: list[Job]) -> None:
        for job in jobs:
            self._note(job)
            self._take(job)

    def _some(self, waiting: list[Job], near: Job, most: int, share: float, wanted: Job | None) -> list[Job]:
        """Some waiting jobs that share something with one, better ranked ones first."""
        found: list[Job] = []
        for job in waiting:
            if (
                job is not wanted
                and len(found) < most
                and self._shares(near, job)
                and self.dice.unit() < share
            ):
                found.append(job)
        return found

    def _by_noisy_order(self, jobs: list[Job], first: Job | None = None) -> list[Job]:
        keys = [
            self.order[j.id] * (1 - frequencies.NOISE + 2 * frequencies.NOISE * self.dice.unit())
            for j in jobs
        ]
        if first is not None and self.dice.unit() < 0.5:
            keys[jobs.index(first)] = 1e30
        return [jobs[n] for n in sorted(range(len(jobs)), key=lambda n: -keys[n])]

    def _ruin(self, wanted: Job | None, waiting: list[Job]) -> None:
        """Take out jobs around one craft and time, then put in a wanted job and others by value an hour with
        noise."""
        dice, craft = self.dice, -1
        if wanted is not None and self.crafts[wanted.id]:
            craft = self.crafts[wanted.id][dice.below(len(self.crafts[wanted.id]))]
        pool = []
        for job in self.rank:
            if self.movable(job.id):
                same = (
                    wanted is not None
                    and job.asset is not None
                    and job.asset == wanted.asset
                    and job.asset in self.board.spans
                )
                if craft < 0 or same or craft in self.crafts[job.id]:
                    pool.append(job)
        if not pool:
            return
        lead = pool[dice.below(len(pool))]
        if dice.unit() < frequencies.OF_PEOPLE:
            pool = self._of_people(pool, lead)
        centre = self._start_of(lead)
        far = [abs(self._start_of(j) - centre) + dice.below(24) for j in pool]
        size = min(1 + dice.below(frequencies.MOST_VICTIMS), len(pool))
        victims = [pool[n] for n in sorted(range(len(pool)), key=lambda n: far[n])[:size]]
        self._take_out(victims)
        again = victims + ([wanted] if wanted is not None else [])
        again += self._some(waiting, again[-1], frequencies.BESIDE, frequencies.BESIDE_SHARE, wanted)
        for job in self._by_noisy_order(again, wanted):
            late = dice.below(self.board.week_end) if dice.unit() < frequencies.LATER else 0
            if not self.try_place(job, late, dice) and late:
                self.try_place(job, 0, dice)

    def _one_of(self, job: Job) -> set[int]:
        """Somebody who works on the job, by dice."""
        portions = self._free_portions(job.id)
        portion = portions[self.dice.below(len(portions))]
        return (
            {n for n in [portion.people[self.dice.below(len(portion.people))]] if n is not None}
            if portion.people
            else set()
        )

    def _of_people(self, pool: list[Job], lead: Job) -> list[Job]:
        """The work of a few people: of one on the leading job, and of some on jobs of the pool at about the
        same time."""
        people = self._one_of(lead)
        more = self.dice.below(frequencies.MOST_PEOPLE)
        for _ in range(frequencies.PEOPLE_TRIES):
            if more == 0:
                break
            job = pool[self.dice.below(len(pool))]
            if abs(self._start_of(job) - self._start_of(lead)) <= frequencies.SAME_TIME:
                people |= self._one_of(job)
                more -= 1
        return [
            j
            for j in self.rank
            if j is lead or any(n in people for p in self._free_portions(j.id) for n in p.people)
        ]

    def _displace(self, wanted: Job, waiting: list[Job]) -> None:
        """Place a wanted job as if cheaper ones (at times all around) were not there, put back what still
        fits, refill."""
        dice = self.dice
        late = 0 if dice.unit() < 0.4 else dice.below(self.board.week_end)
        most = self.order[wanted.id] * (0.8 + 0.5 * dice.unit())
        if dice.unit() < frequencies.ANY:
            most = frequencies.FAR
        width = 96 + dice.below(288)
        cheaper = [
            j for j in self.rank if self.movable(j.id) and self.order[j.id] < most and self._shares(wanted, j)
        ]
        if late:
            cheaper = [j for j in cheaper if late - 48 <= self._start_of(j) < late + width]
        if not cheaper:
            return
        self._take_out(cheaper)
        self._in_place_of(wanted, cheaper, late, waiting)

    def _in_place_of(
        self, wanted: Job, others: list[Job], not_before: int, waiting: list[Job] | None = None
    ) -> None:
        """Place a job, put back those of the others that still fit where they were, then the rest and some
        that wait."""
        if not self.try_place(wanted, not_before, self.dice):
            for job in [wanted, *others]:
                if self.before[job.id]:
                    self._put(job, self.before[job.id])
            return
        out = []
        for job in others:
            if self._still_free(job):
                self._put(job, self.before[job.id])
            else:
                out.append(job)
        out += self._some(waiting or [], wanted, frequencies.AFTER, frequencies.AFTER_SHARE, wanted)
        for job in self._by_noisy_order(out):
            self.try_place(job, 0, self.dice)

    def _late(self) -> list[Job]:
        """Jobs that end after they are due."""
        free = {
            j.id: max(self.fitter.grid.ceil(j.due), 0)
            for j in self.rank
            if j.due is not None and self.movable(j.id)
        }
        return [
            j
            for j in self.rank
            if j.id in free and max(p.end for p in self._free_portions(j.id)) > free[j.id]
        ]

    def _as_if_gone(self, job: Job, when: int) -> None:
        """Place a job anew from some time on as if those that start about then were not there; they go back,
        or where they can."""
        width = 16 + self.dice.below(64)
        around = [
            j
            for j in self.rank
            if j is not job and self.movable(j.id) and when - 16 <= self._start_of(j) < when + width
        ]
        around = [j for j in around if self._shares(job, j)]
        self._take_out([job, *around])
        self._in_place_of(job, around, when)

    def _hasten(self) -> bool:
        """Place a late job sooner as if those around that time were not there, put back what still fits, the
        rest where it can."""
        dice, late = self.dice, self._late()
        if not late:
            return False
        job = late[dice.below(len(late))]
        sooner = dice.below(self._start_of(job) + 1)
        self._as_if_gone(job, sooner)
        return True

    def _untidy(self) -> list[Job]:
        """Jobs that wait, hand over, are away, or on which somebody changes area."""
        board = self.board
        return [
            j
            for j in self.rank
            if self.movable(j.id)
            and (
                self.worth.ends.of(j, board.placed[j.id]) > 0
                or any(
                    board.areas.changes_at(n, board.problem.area_of(j), p.start)
                    for p in self._free_portions(j.id)
                    for n in p.people
                    if n is not None
                )
            )
        ]

    def _tidy_up(self) -> bool:
        """Place a job with loose ends anew: where it finds a place, or at some time as if those around were
        not there."""
        dice, pool = self.dice, self._untidy()
        if not pool:
            return False
        job = pool[dice.below(len(pool))]
        if dice.unit() < 0.5:
            self._take_out([job])
            self._in_place_of(job, [], 0)
            return True
        when = dice.below(self.board.week_end)
        self._as_if_gone(job, when)
        return True

    def _ruin_or_displace(self) -> None:
        dice, wanted = self.dice, None
        waiting = [j for j in self.rank if not self.movable(j.id) and j.id not in self.hopeless]
        if waiting and dice.unit() < frequencies.WANT:
            u = dice.unit()
            wanted = waiting[int(len(waiting) * (u * u))]
        if wanted is not None and dice.unit() < frequencies.DISPLACE:
            self._displace(wanted, waiting)
        else:
            self._ruin(wanted, waiting)

    def step(self, temperature: float) -> None:
        """One move; undone if it is not accepted (annealing: worse by d with probability exp(-d /
        temperature))."""
        dice, before, total = self.dice, self.value, self.total
        self.before = {}
        if not (
            self.board.problem.weights.has_prices
            and dice.unit() < frequencies.TIDY
            and self._tidy_up()
            or dice.unit() < frequencies.HASTEN
            and self._hasten()
        ):
            self._ruin_or_displace()
        change = self.value - before
        if change >= -1e-6 or (temperature > 0 and dice.unit() < math.exp(change / temperature)):
            if self.value > self.best_value + 1e-6:
                self._keep_best()
            return
        jobs = [self.board.problem.job_by_id[j] for j in self.before]
        for job in jobs:
            self._take(job)
        for job in jobs:
            if self.before[job.id]:
                self._put(job, self.before[job.id])
        self.total = total

    def steps(self, count: int, temperature: float) -> None:
        for _ in range(count):
            self.step(temperature)
