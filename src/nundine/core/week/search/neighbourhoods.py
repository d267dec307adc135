"""Exact neighbourhoods: some jobs around one craft and time, and some that wait, placed anew in the best way
there is."""

from __future__ import annotations

from collections.abc import Callable
from time import perf_counter

from nundine.core.week.problem import Job
from nundine.core.week.search.plain import Search

PLACED, WAITING = 10, 10
MOST_SECONDS = 1.0


class Polish:
    """Improves the plan on a search's board, which must stand at its best."""

    def __init__(self, search: Search) -> None:
        self.search, self.board, self.dice = search, search.board, search.dice

    def run(self, seconds: float, report: Callable[[float], bool]) -> int:
        """Neighbourhood after neighbourhood until the time is over or `report(value)` says so; gives how many
        were better."""
        began, better = perf_counter(), 0
        while perf_counter() - began < seconds and not report(self.search.value):
            better += self.once(min(MOST_SECONDS, seconds - (perf_counter() - began)))
        return better

    def once(self, seconds: float) -> bool:
        """One neighbourhood; whether the plan got better. The board never gets worse."""
        from nundine.core.week.search.exact import solve  # its solver takes a second to load

        search = self.search
        free = self._neighbourhood()
        if not free:
            return False
        before = search.value
        taken = {j.id: search._take(j) for j in free if search.movable(j.id)}
        found = solve(self.board, free, taken, seconds=seconds, seed=self.dice.below(1 << 30))
        return search.put_if_better(free, found.placed, taken, before)

    def _neighbourhood(self) -> list[Job]:
        search, dice = self.search, self.dice
        able = [j for j in search.rank if not search.kept.get(j.id) and j.id not in search.hopeless]
        placed, waiting = (
            [j for j in able if search.movable(j.id)],
            [j for j in able if not search.movable(j.id)],
        )
        if not placed:
            return []
        wanted = waiting[int(len(waiting) * dice.unit() ** 2)] if waiting else placed[dice.below(len(placed))]
        near = [j for j in placed if search._shares(wanted, j)] or placed
        centre = search._start_of(near[dice.below(len(near))])
        near.sort(key=lambda j: abs(search._start_of(j) - centre) + dice.below(16))
        others = [j for j in waiting if j is not wanted and search._shares(wanted, j)]
        others.sort(key=lambda j: (search.rank.index(j) + 1) * (0.3 + dice.unit()))
        return near[:PLACED] + ([wanted] if waiting else []) + others[: WAITING - 1]
