"""The course of a build: one search or several side by side, told about, stopped, ending on the best plan
found."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass
from time import perf_counter, sleep

from nundine.core.week.board.board import Portion
from nundine.core.week.problem import Job
from nundine.core.week.search import compiled
from nundine.core.week.search.compiled import Compiled
from nundine.core.week.search.neighbourhoods import Polish
from nundine.core.week.search.plain import Search

CHUNK, CHUNK_SECONDS, LONGEST_CHUNK = 50, 0.01, 2000
"""Steps at one temperature; by the clock as many as take a hundredth of a second, for after each chunk a
search waits until it may run Python again, up to half as long where another thread lays out or proves."""
HOT, MANY_JOBS = 0.2, 300
"""A search begins at a fifth of the mean job value; where there are more jobs it has fewer steps for each,
and begins colder."""
EXACT_BELOW, POLISH_BELOW, SOON_PROVEN_BELOW = 2500, 6000, 20000
"""Decisions on people up to which a week is solved as one exact model, by neighbourhoods, and up to which its
bound soon stands still."""


@dataclass(frozen=True)
class Progress:
    """How a build stands: points, bound (None until proven), jobs placed of jobs offered, seconds, steps.

    Points are told to a millionth: one plan's sum differs by less with the order in which it was added up.
    """

    value: float
    bound: float | None
    placed: int
    jobs: int
    seconds: float
    steps: int

    def __post_init__(self) -> None:
        object.__setattr__(self, "value", round(self.value, 6))


@dataclass(frozen=True)
class Limits:
    """When to end: `seconds` of the clock, or `iterations` of each search for a repeatable result.

    `aside` is called between steps, on each thread; it may take its time when others need the processor.
    """

    seconds: float = 20.0
    iterations: int | None = None
    every: float = 0.25
    aside: Callable[[], None] = lambda: None


class _Runner:
    """One search on its way: steps in chunks, cooling down with its steps or with the clock."""

    def __init__(
        self, search: Search | Compiled, limits: Limits, started: float, seconds: float, hot: float
    ) -> None:
        self.search, self.limits, self.started, self.seconds, self.hot = search, limits, started, seconds, hot
        self.done, self.count = 0, CHUNK
        self.split_with: int | None = None
        """A seed: between two chunks another search is made, which goes on from here by other dice."""
        self.other: Compiled | None = None

    def finished(self) -> bool:
        if self.limits.iterations is not None:
            return self.done >= self.limits.iterations
        return perf_counter() - self.started >= self.seconds

    def chunk(self) -> None:
        """Some steps at one temperature, which falls evenly to nothing."""
        if self.limits.iterations is not None:
            count, gone = (
                min(CHUNK, self.limits.iterations - self.done),
                self.done / max(1, self.limits.iterations),
            )
        else:
            count = self.count if isinstance(self.search, Compiled) else 2
            gone = (perf_counter() - self.started) / max(self.seconds, 0.01)
        if isinstance(self.search, Search) and compiled.ready():
            self.search = Compiled(self.search)
        began = perf_counter()
        self.search.steps(count, self.hot * max(0.0, 1 - gone))
        self.done += count
        wished = count * CHUNK_SECONDS / max(1e-6, perf_counter() - began)
        self.count = int(min(LONGEST_CHUNK, 2 * self.count, max(CHUNK, wished)))

    def run(self, end: threading.Event) -> None:
        while not end.is_set() and not self.finished():
            self.limits.aside()
            self.chunk()
            if self.split_with is not None and isinstance(self.search, Compiled):
                self.other, self.split_with = self.search.split(self.split_with), None


class Course:
    """Improves a plan that was dispatched, until time, steps, the bound or somebody says so."""

    def __init__(
        self,
        search: Search,
        limits: Limits,
        tell: Callable[[Progress], None],
        stop: Callable[[], bool],
        started: float,
        whole_week: bool,
    ) -> None:
        self.search, self.limits, self.tell, self.stop, self.started = search, limits, tell, stop, started
        self.whole_week = whole_week
        """Whether all that the week may hold may be built, and what is fixed is finished."""
        self.bound: float | None = None
        self.best_value, self.best = search.best_value, search.best()
        self.steps = 0
        self.stopped = False
        self.exact_bound: float | None = None
        """Proven by the exact model of all that may be built, with what stands for good."""
        self._told = 0.0

    def report(self, value: float, placed: int | None = None) -> None:
        """Tell how it stands, and ask whether to stop; a few times a second."""
        now = perf_counter() - self.started
        if now - self._told < self.limits.every:
            return
        self._told = now
        count = len(self.best) if placed is None else placed
        self.tell(Progress(value, self.bound, count, len(self.search.rank), now, self.steps))
        self.stopped = self.stopped or self.stop()

    def bounded(self, found: float) -> None:
        """No plan is worth more than this."""
        self.bound = found if self.bound is None else min(self.bound, found)

    def at_bound(self, value: float) -> bool:
        return self.bound is not None and value >= self.bound - 1e-6 * max(1.0, abs(self.bound))

    def improve(self, seconds: float, count: int, spare: Callable[[], bool] | None = None) -> None:
        """Ruin and recreate with so many searches of different seeds side by side (one where the search is
        not compiled).

        As soon as `spare` says that a processor is free, one more goes on from where the first is.
        """
        seed = self.search.dice.state
        mean = self.search.value / max(1, sum(1 for v in self.search.value_of.values() if v))
        hot = HOT * mean * min(1.0, (MANY_JOBS / max(1, len(self.search.rank))) ** 0.5)
        began = perf_counter()
        first: Search | Compiled = Compiled(self.search) if compiled.ready() else self.search
        limits = self.limits
        searches = [first] + (
            [Compiled(self.search, seed + n) for n in range(1, count)] if isinstance(first, Compiled) else []
        )
        runners = [_Runner(s, limits, began, seconds, hot) for s in searches]
        if len(runners) == 1 and spare is None:
            while not self._over(runners) and not runners[0].finished():
                limits.aside()
                runners[0].chunk()
        else:
            self._side_by_side(runners, spare or (lambda: False))
        self._collect(runners)

    def _over(self, runners: list[_Runner]) -> bool:
        first = max(runners, key=lambda r: r.search.best_value)
        best = first.search.best_value
        self.steps = sum(r.done for r in runners)
        self.report(max(best, self.best_value), first.search.placed)
        return self.stopped or self.at_bound(best)

    def _side_by_side(self, runners: list[_Runner], spare: Callable[[], bool]) -> None:
        end = threading.Event()
        threads = [threading.Thread(target=r.run, args=(end,), daemon=True) for r in runners]
        for t in threads:
            t.start()
        first, asked = runners[0], False
        try:
            while any(t.is_alive() for t in threads) and not self._over(runners):
                sleep(0.01)
                if not asked and spare():
                    first.split_with, asked = self.search.dice.state + len(runners), True
                if first.other is not None:
                    runners.append(
                        _Runner(first.other, first.limits, first.started, first.seconds, first.hot)
                    )
                    first.other = None
                    threads.append(threading.Thread(target=runners[-1].run, args=(end,), daemon=True))
                    threads[-1].start()
        finally:
            end.set()
            for t in threads:
                t.join()

    def _collect(self, runners: list[_Runner]) -> None:
        self.steps = sum(r.done for r in runners)
        for r in runners:
            r.search.finish()
            if r.search.best_value > self.best_value + 1e-6:
                self.best_value, self.best = r.search.best_value, r.search.best()

    def run(self, seconds: float, workers: int, proving: Callable[[], bool] = lambda: False) -> None:
        """All of it: search, and what exact methods add where the week is small enough for them.

        With a budget of steps there is the search alone, which is repeatable; exact methods end by the clock.
        In large weeks one of the workers proves for as long as `proving`, and then searches too; where the
        bound soon stands still all of them search, and proving has its share of them at first.
        """
        from nundine.core.week.search import exact  # its solver takes a second to load

        size = exact.literals(self.search.board, self.search.rank)
        alone = self.limits.iterations is not None or size < SOON_PROVEN_BELOW or workers < 2
        searching = workers if alone else workers - 1
        if self.limits.iterations is not None or seconds < 1 or size >= POLISH_BELOW:
            self.improve(seconds, searching, None if alone else lambda: not proving())
            self.put_best_on_board()
            return
        began = perf_counter()
        self.improve(min(3.0, 0.2 * seconds) if size < EXACT_BELOW else 0.85 * seconds, searching)
        self.put_best_on_board()
        left = seconds - (perf_counter() - began)
        if self.stopped or self.at_bound(self.best_value) or left < 0.2:
            return
        if size < EXACT_BELOW:
            self.solve_whole(left, workers)
        else:
            Polish(self.search).run(left, self._told_and_over)
            self.best_value, self.best = self.search.best_value, self.search.best()

    def _told_and_over(self, value: float) -> bool:
        self.report(value)
        return self.stopped or self.at_bound(value)

    def solve_whole(self, seconds: float, workers: int) -> None:
        """Every job that may move at once, from the best plan so far; what is proven is a bound of the week
        if nothing is fixed."""
        from nundine.core.week.search import exact

        search = self.search
        jobs = [j for j in search.rank if not search.kept.get(j.id)]
        taken = {j.id: search._take(j) for j in jobs if search.movable(j.id)}
        rest = search.value
        proves = self.whole_week and all(self._done(j) for j in search.rank if search.kept.get(j.id))

        def over(value: float, bound: float) -> bool:
            if proves and bound < float("inf"):
                self.exact_bound = rest + bound
                self.bounded(rest + bound)
            return self._told_and_over(max(self.best_value, rest + value))

        found = exact.solve(
            search.board, jobs, taken, seconds=seconds, workers=workers, prove=True, stop=over
        )
        if search.put_if_better(jobs, found.placed, taken, self.best_value):
            self.best_value, self.best = search.best_value, search.best()
        self.exact_bound = rest + found.bound if proves and found.whole else None

    def _done(self, job: Job) -> bool:
        """Whether what stands for good is the whole job."""
        grid, stands = (
            self.search.board.problem.grid,
            self.search.board.placed[job.id][: self.search.kept[job.id]],
        )
        return all(
            sum(p.end - p.start for p in stands if p.task.id == t.id) >= grid.slots_for(t.hours)
            for t in job.tasks
        )

    def put_best_on_board(self) -> dict[str, list[Portion]]:
        """The search's board as it was at the best value."""
        self.search.best_placed, self.search.best_value = self.best, self.best_value
        self.search.restore_best()
        return self.best
