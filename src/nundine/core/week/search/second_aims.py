"""The second aims, once the value is found, in their order and without losing any of it: few changes from the
draft before; main craft before secondary and the same people on one job; even load over the days; people
of one crew on a team's task."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import date

from nundine.core.week.board.board import Portion
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.problem import Job, Need
from nundine.core.week.search.plain import Search

MOST_TO_EVEN = 80


class Settling:
    """Works on the board of a search, which must stand at its best."""

    def __init__(self, search: Search, previous: dict[str, list[Portion]]) -> None:
        self.search, self.board, self.previous = search, search.board, previous
        self.floor = search.value - 1e-9

    def run(self) -> None:
        self._as_before()
        self._main_craft_and_same_people()
        self._even_load()
        self._crews_together()
        self.search._keep_best()

    def _movable(self) -> list[Job]:
        return [j for j in self.search.rank if self.search.movable(j.id) and not self.search.kept.get(j.id)]

    def _as_before(self) -> None:
        """Jobs go back to where the draft before had them, wherever that is still free; twice, for one makes
        room for another."""
        for _ in range(2):
            for job in self._movable():
                wished = self.previous.get(job.id)
                if wished and _where(wished) != _where(self.board.placed[job.id]):
                    self._exchange(job, wished)

    def _exchange(self, job: Job, wished: list[Portion]) -> bool:
        """The job at other places, if they are free and no value is lost."""
        search = self.search
        taken = search._take(job)
        if search._still_fits(job, wished):
            search._put(job, wished)
            if search.value >= self.floor:
                return True
            search._take(job)
        search._put(job, taken)
        return False

    def _main_craft_and_same_people(self) -> None:
        for job in self._movable():
            if _where(self.board.placed[job.id]) == _where(self.previous.get(job.id, [])):
                continue
            portions = list(self.board.placed[job.id])
            for n, portion in enumerate(portions):
                others = {
                    who for k, p in enumerate(portions) if k != n for who in p.people if who is not None
                }
                better = self._reseated(portion, others)
                if better is not portion and self._exchange(job, [*portions[:n], better, *portions[n + 1 :]]):
                    portions[n] = better

    def _reseated(self, portion: Portion, others: set[int]) -> Portion:
        """The portion with better people: of the main craft, then those who are on the job anyway."""
        people = list(portion.people)
        for k, need in enumerate(portion.task.seat_needs):
            now = people[k]
            if now is None:
                continue
            rank = (self.board.main[now] != need.craft, now not in others)
            for n, rest in self._able(need, portion, people):
                if rest < rank:
                    people[k], rank = n, rest
        return replace(portion, people=tuple(people)) if tuple(people) != portion.people else portion

    def _able(
        self, need: Need, portion: Portion, people: list[int | None]
    ) -> list[tuple[int, tuple[bool, bool]]]:
        mask, others = portion.mask, {n for n in people if n is not None}
        found = []
        for n, able in self.board.qualified(replace(need, people=1)):
            if n not in others and not mask & ~(self.board.free[n] & able & self.board.regular[n]):
                found.append((n, (self.board.main[n] != need.craft, True)))
        return found

    def _crews_together(self) -> None:
        """On a team's task people of one crew: who is of another makes room for somebody of the crew that
        most of the others are of."""
        for job in self._movable():
            if _where(self.board.placed[job.id]) == _where(self.previous.get(job.id, [])):
                continue
            portions = list(self.board.placed[job.id])
            for n, portion in enumerate(portions):
                for better in self._of_one_crew(portion):
                    if self._exchange(job, [*portions[:n], better, *portions[n + 1 :]]):
                        portions[n] = better
                        break

    def _of_one_crew(self, portion: Portion) -> Iterator[Portion]:
        """The portion with one person more of the crew that most are of, main craft kept."""
        crews = [self.board.people[n].crew for n in portion.people if n is not None]
        named = [c for c in crews if c is not None]
        if len(crews) < 2 or not named:
            return
        most = max(sorted(set(named)), key=named.count)
        people = list(portion.people)
        for k, need in enumerate(portion.task.seat_needs):
            now = people[k]
            if now is None or self.board.people[now].crew == most:
                continue
            for n, (other_craft, _) in self._able(need, portion, people):
                if self.board.people[n].crew == most and other_craft <= (self.board.main[now] != need.craft):
                    yield replace(portion, people=(*people[:k], n, *people[k + 1 :]))

    def _even_load(self) -> None:
        """Jobs of one task leave the fullest day of their craft for the emptiest, as long as the draft before
        did not have them."""
        tried = 0
        for job in self._movable():
            portions = self.board.placed[job.id]
            if (
                job.id in self.previous
                or len(portions) != 1
                or len(job.tasks) != 1
                or not portions[0].people
                or tried >= MOST_TO_EVEN
            ):
                continue
            first = portions[0].people[0]
            assert first is not None
            craft, day = self.board.main[first], self.board.day_at(first, portions[0].start)
            free = self._free_share(craft)
            if day is None or not free:
                continue
            emptiest = max(free, key=lambda d: (free[d], d))
            if free[emptiest] - free.get(day, 0.0) < 0.15:
                continue
            tried += 1
            self._to_day(job, emptiest)

    def _free_share(self, craft: str) -> dict[date, float]:
        """Share of a craft's hours that is free, by shift day."""
        there: dict[date, int] = {}
        free: dict[date, int] = {}
        for n, main in enumerate(self.board.main):
            if main == craft:
                for day, mask in self.board.day_of[n].items():
                    there[day] = there.get(day, 0) + (mask & self.board.there[n]).bit_count()
                    free[day] = free.get(day, 0) + (mask & self.board.free[n]).bit_count()
        return {d: free[d] / n for d, n in there.items() if n}

    def _to_day(self, job: Job, day: date) -> None:
        search = self.search
        taken = search._take(job)
        starts = [m & -m for days in self.board.day_of for d, m in days.items() if d == day and m]
        if starts:
            found = search.fitter.fit(job, Freedom(overtime=False, not_before=min(starts).bit_length() - 1))
            if (
                found
                and found[0].people
                and found[0].people[0] is not None
                and self.board.day_at(found[0].people[0], found[0].start) == day
            ):
                search._put(job, found)
                if search.value >= self.floor:
                    return
                search._take(job)
        search._put(job, taken)


def _where(portions: list[Portion]) -> list[tuple[str, int, int, int, tuple[int | None, ...]]]:
    return sorted((p.task.id, p.number, p.start, p.end, p.people) for p in portions)
