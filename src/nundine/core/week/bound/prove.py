"""Proving the bound of a week: hours as a linear programme where it is small enough, and seats packed into
shifts."""

from __future__ import annotations

import threading
from collections.abc import Callable
from time import perf_counter

from nundine.core.week.bound.hours import bound as by_hours
from nundine.core.week.problem import WeekProblem
from nundine.core.week.search import compiled
from nundine.core.week.value import points

MOST_JOBS_BY_HOURS = 450
STEPS = 5
"""Steps of prices between two looks at the clock."""
MOST_SHARE, SHARE_OF_JOBS = 0.5, 300
"""Of the time, how much may go into looking at jobs alone: half, in large weeks 300 / jobs, for there each of
them says less."""


def proven(
    problem: WeekProblem,
    *,
    known: Callable[[], float] = lambda: 0.0,
    tell: Callable[[float], None] = lambda _: None,
    over: Callable[[], bool] = lambda: False,
) -> float:
    """The least bound found until `over` says so; each better one is told, the first as soon as it is there.

    Parameters
    ----------
    known
        The value of a plan so far; prices aim at it, and nothing below it is looked for.
    """
    best = float("inf")

    def better(found: float) -> None:
        nonlocal best
        if found < best:
            best = found
            tell(best)

    if len(problem.jobs) <= MOST_JOBS_BY_HOURS or not compiled.ready():
        better(by_hours(problem))
    if compiled.ready() and (not over() or best == float("inf")):
        first = [True]

        def ended() -> bool:
            if first[0]:
                first[0] = False
                return False
            return over()

        better(lower_until(problem, known, better, ended))
    return best


def lower_until(
    problem: WeekProblem, known: Callable[[], float], tell: Callable[[float], None], over: Callable[[], bool]
) -> float:
    """Lower the bound until `over` says so or nothing more comes of it; each better bound is told."""
    from nundine.core.week.bound.packing import Relaxation  # with numba, which takes half a second to load
    from nundine.core.week.bound.single_jobs import Alone

    relaxation = Relaxation(problem)
    if not len(relaxation.k.jobs):
        tell(relaxation.constant)
        return relaxation.constant
    alone, spent, began = Alone(relaxation), 0.0, perf_counter()
    share = min(MOST_SHARE, SHARE_OF_JOBS / len(relaxation.k.jobs))
    told = float("inf")
    while not over():
        best = relaxation.lower(STEPS, known())
        if best < told:
            told = best
            tell(best)
        if best <= known() + 1e-6 or (relaxation.step[0] < 0.01 and not alone.left):
            break
        while (
            alone.left
            and (spent < share * (perf_counter() - began) or relaxation.step[0] < 0.01)
            and not over()
        ):
            since = perf_counter()
            alone.some(1)
            spent += perf_counter() - since
    return relaxation.best


def proven_within(problem: WeekProblem, seconds: float) -> float:
    """The bound found in about so many seconds."""
    end = perf_counter() + seconds
    return proven(problem, over=lambda: perf_counter() > end)


def soon(problem: WeekProblem, seconds: float) -> float:
    """A bound for who waits for it: of a large week, whose first bound takes a minute, what all of its work
    together would be worth."""
    if len(problem.jobs) <= MOST_JOBS_BY_HOURS:
        return proven_within(problem, seconds)
    return sum(points(job, problem.weights) for job in problem.jobs)


class Prover:
    """Proves beside a search until it is told to end, or takes a bound that is known."""

    def __init__(
        self,
        problem: WeekProblem,
        given: float | None,
        known: Callable[[], float],
        then: Callable[[float], None],
        aside: Callable[[], None] = lambda: None,
        enough: Callable[[], bool] = lambda: False,
    ) -> None:
        self._best = float("inf") if given is None else given
        self._failed: BaseException | None = None
        self._over = threading.Event()
        self._thread: threading.Thread | None = None
        if given is not None:
            then(given)
            return

        def better(found: float) -> None:
            self._best = min(self._best, found)
            then(self._best)

        def over() -> bool:
            aside()
            return self._over.is_set() or enough()

        def prove() -> None:
            try:
                better(proven(problem, known=known, tell=better, over=over))
            except BaseException as bad:
                self._failed = bad

        self._thread = threading.Thread(target=prove, daemon=True)
        self._thread.start()

    @property
    def busy(self) -> bool:
        """Whether it still proves."""
        return self._thread is not None and self._thread.is_alive()

    def end(self) -> float:
        """The best bound so far; waits for the first one."""
        self._over.set()
        if self._thread is not None:
            self._thread.join()
        if self._failed is not None:
            raise self._failed
        return self._best
