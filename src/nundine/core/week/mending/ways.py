"""Ways in which a portion that lost its place finds another, from the smallest change to the largest."""

from __future__ import annotations

from dataclasses import replace

from nundine.core.week.board.board import Portion
from nundine.core.week.mending.standing import Key, Standing
from nundine.core.week.places import on_their_seats
from nundine.core.week.problem import Job, Placement


class Ways:
    """Each changes the week and says so, or leaves it as it was."""

    def __init__(self, week: Standing) -> None:
        self.week = week

    def near(self, one: Placement, below: int | None = None) -> bool:
        """The cheapest change of this portion alone: people, start, start and people, day, day and people; if
        asked, only below a cost."""
        if one.start is None:
            there = self.week.day_alone.other_day(self.week.before_known[one.key])
            if there is not None:
                self.week.on(one.job, there)
            return there is not None
        found = self.week.places.cheapest(
            self.week.p.job_by_id[one.job], self.week.promised(one.key), one.day
        )
        if found is None or (below is not None and found[0] >= below):
            return False
        self.week.on(one.job, found[1])
        return True

    def swap(self, one: Placement) -> bool:
        """At the same time with a person who is on cheaper work that can itself change a little."""
        if one.start is None:
            return False
        job, was = self.week.p.job_by_id[one.job], self.week.promised(one.key)
        missing = [n for n, who in enumerate(self.week.places.able_now(job, was)) if who is None]
        if len(missing) != 1:
            return False
        seat = missing[0]
        need = replace(was.task.seat_needs[seat], people=1)
        for n, mask in self.week.board.qualified(need):
            if was.mask & ~(self.week.board.there[n] & mask) or n in was.people:
                continue
            blocking = [
                (j, p)
                for j, ps in self.week.board.placed.items()
                for p in ps
                if n in p.people and p.mask & was.mask
            ]
            if len(blocking) != 1:
                continue
            other_id, other = blocking[0]
            key = (other_id, other.task.id, other.number)
            if (
                key in self.week.stay
                or key not in self.week.before
                or self.week.value.get(other_id, 0.0) >= self.week.value[one.job]
                or other_id == one.job
            ):
                continue
            self.week.off(key)
            people = tuple(n if k == seat else who for k, who in enumerate(was.people))
            starts, _ = self.week.places.starts(job, was, people)
            if starts >> was.start & 1 and self.week.places.span_free(job, was, was.start):
                self.week.on(one.job, Portion(was.task, was.number, was.start, was.end, people))
                if self.near(self.week.before[key]):
                    return True
                self.week.off(one.key)
            self.week.on(other_id, other)
        return False

    def with_rest(self, one: Placement) -> bool:
        """This portion and all that follows it in its job, one after another; all or nothing."""
        job = self.week.p.job_by_id[one.job]
        rank = {t.id: n for n, t in enumerate(job.ordered_tasks)}
        later = [
            p
            for p in self.week.board.placed.get(job.id, [])
            if (rank[p.task.id], p.number) > (rank[one.task], one.portion)
        ]
        keys = [(job.id, p.task.id, p.number) for p in later]
        if not keys or any(k in self.week.stay for k in keys):
            return False
        taken = [self.week.off(k) for k in keys]
        mine = [self.week.before[one.key]] + [self.week.before[k] for k in keys if k in self.week.before]
        done = []
        for part in sorted(mine, key=lambda p: (rank[p.task], p.portion)):
            if not self.near(part):
                break
            done.append(part.key)
        if len(done) == len(mine):
            return True
        for key in done:
            self.week.off(key)
        for portion in taken:
            if portion is not None:
                self.week.on(job.id, portion)
        return False

    def anew(self, job_id: str, before: Key | None = None) -> bool:
        """The job, but for what stays and what comes before a portion of it, placed as if it were new;
        without that portion, all of it."""
        job = self.week.p.job_by_id[job_id]
        if any(k[0] == job_id for k in self.week.loose):
            return False  # what has no time anywhere is not told apart from what is still to be placed
        portions = self.week.board.remove(job)
        rank = {t.id: n for n, t in enumerate(job.ordered_tasks)}
        first = (rank[before[1]], before[2]) if before else (0, 0)
        have = [
            p
            for p in portions
            if (job_id, p.task.id, p.number) in self.week.stay or (rank[p.task.id], p.number) < first
        ]
        if have:
            self.week.board.add(job, have)
        for overtime in (False, True):
            found = self.week.fitter.fit(job, replace(self.week.freedom, overtime=overtime), have)
            if found:
                self.week.board.add(job, [self._seated(job, p) for p in found])
                self.week.settled.add(job_id)
                return True
        self.week.board.remove(job)
        self.week.board.add(job, portions)
        if not portions:
            self.week.board.remove(job)
        return False

    def _seated(self, job: Job, portion: Portion) -> Portion:
        """The same people, but whoever was promised on it on the seat they had, as far as the needs are the
        same."""
        was, needs = (
            self.week.before_known.get((job.id, portion.task.id, portion.number)),
            portion.task.seat_needs,
        )
        if was is None or was.start is None:
            return portion
        can = [{n for n, need in zip(portion.people, needs, strict=True) if need == own} for own in needs]
        return replace(portion, people=on_their_seats(portion.people, self.week.portion(was).people, can))

    def instead(self, one: Placement) -> bool:
        """In place of a job worth much less, which then finds another place or leaves."""
        job = self.week.p.job_by_id[one.job]
        mine = self.week.value.get(one.job, 0.0)
        for value, other_id in self.cheaper(job):
            if value > mine - 20 or value > 0.7 * mine:
                return False
            other = self.week.p.job_by_id[other_id]
            taken = self.week.board.remove(other)
            if self.near(one):
                if not self.anew(other_id):
                    self.week.leave(other_id)
                return True
            self.week.board.add(other, taken)
        return False

    def cheaper(self, job: Job) -> list[tuple[float, str]]:
        """Placed jobs of which nothing stays that share a craft or the asset with a job, cheapest first."""
        crafts = {n.craft for t in job.tasks for n in t.needs}
        found = []
        for other_id, portions in self.week.board.placed.items():
            shares = self.week.p.job_by_id[other_id].asset == job.asset or crafts & {
                n.craft for p in portions for n in p.task.needs
            }
            if (
                shares
                and other_id != job.id
                and not any((other_id, p.task.id, p.number) in self.week.stay for p in portions)
            ):
                found.append((self.week.value.get(other_id, 0.0), other_id))
        return sorted(found)
