"""The one door of building: `build(problem) -> WeekPlan`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date
from time import perf_counter

from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.draft import Draft
from nundine.core.week.bound.prove import Prover
from nundine.core.week.check import check
from nundine.core.week.explain import Explainer
from nundine.core.week.plan import NotPlaced, WeekPlan
from nundine.core.week.problem import Job, Placement, Seat, WeekProblem
from nundine.core.week.search import compiled
from nundine.core.week.search.plain import Search
from nundine.core.week.search.second_aims import Settling
from nundine.core.week.search.side_by_side import Course, Limits, Progress

__all__ = ["Limits", "Progress", "Scope", "build"]


@dataclass(frozen=True)
class Scope:
    """What a build may place: jobs with any of these crafts, of these areas, on these days; None = all.

    Without `new_jobs` it finishes what is fixed (open seats, times) and places nothing else. With `days_only`
    what it places gets its day alone, without times and people, for later crewing to refine.
    """

    crafts: frozenset[str] | None = None
    areas: frozenset[str] | None = None
    days: frozenset[date] | None = None
    new_jobs: bool = True
    days_only: bool = False

    def takes(self, job: Job) -> bool:
        if not self.new_jobs:
            return False
        if self.areas is not None and job.area not in self.areas:
            return False
        return self.crafts is None or any(n.craft in self.crafts for t in job.tasks for n in t.needs)


def build(
    problem: WeekProblem,
    *,
    limits: Limits | None = None,
    seed: int = 1,
    workers: int = 1,
    scope: Scope | None = None,
    tell: Callable[[Progress], None] = lambda _: None,
    stop: Callable[[], bool] = lambda: False,
    known_bound: float | None = None,
    helps: bool = True,
) -> WeekPlan:
    """Build the week around `problem.fixed`, starting from what still fits of `problem.previous`.

    Parameters
    ----------
    limits
        Seconds or iterations of the search; the first complete plan is always finished.
    seed
        The same seed, iterations and workers give the same plan.
    workers
        Where the search is compiled: that many search side by side, each with a seed of its own; in
        large weeks, by the clock, one proves instead.
    tell, stop
        Called a few times a second with the progress; asked as often whether to end with the best so far.
    known_bound
        A proven bound of this problem, to spare computing it.
    helps
        Whether to try what would let each job in that is left out; else only the reasons are given.
    """
    started = perf_counter()
    limits, scope = limits or Limits(), scope or Scope()
    board = Board(problem, scope.days)
    draft = Draft(board)
    jobs = [j for j in problem.jobs if scope.takes(j) and j.id not in draft.loose_jobs and j.tasks]
    search = Search(board, jobs, draft.kept, seed)
    previous = _previous(board)
    search.place_previous(previous)
    compiled.dispatch(search)
    course = Course(
        search, limits, tell, stop, started, whole_week=scope == Scope() and finished_by_hand(problem)
    )
    tell(Progress(search.value, known_bound, len(course.best), len(jobs), perf_counter() - started, 0))
    prover = Prover(
        problem,
        known_bound,
        lambda: course.best_value,
        course.bounded,
        limits.aside,
        lambda: course.exact_bound is not None,
    )
    course.run(max(0.0, limits.seconds - (perf_counter() - started)), workers, lambda: prover.busy)
    Settling(search, previous).run()
    tell(
        Progress(search.value, course.bound, search.placed, len(jobs), perf_counter() - started, course.steps)
    )
    top = prover.end()
    if course.exact_bound is not None:
        top = min(top, course.exact_bound)
    return finished(problem, board, draft, top, course.stopped, started, helps, scope.days_only)


def finished_by_hand(problem: WeekProblem) -> bool:
    """Whether nothing of what is fixed is left to the engine: what it would decide there is one choice among
    many."""
    return all(one.start is not None and all(seat.id for seat in one.people) for one in problem.fixed)


def finished(
    problem: WeekProblem,
    board: Board,
    draft: Draft,
    top: float,
    stopped: bool,
    started: float,
    helps: bool,
    days_only: bool = False,
) -> WeekPlan:
    """The plan that stands on a board, checked and explained."""
    placements = plan_placements(problem, board, draft)
    if days_only:
        given = {f.key for f in problem.fixed}
        placements = tuple(p if p.key in given else with_day_alone(p) for p in placements)
    checked = check(problem, placements)
    explainer = Explainer(board, draft.kept)
    held = {p.job for p in placements}
    left: list[NotPlaced] = [
        explainer.explain(j, helps) for j in problem.jobs if j.id not in held and j.tasks
    ]
    best = checked.value >= top - 1e-6 * max(1.0, abs(top))
    status = "optimal" if best else "stopped" if stopped else "feasible"
    conflicts = tuple(b.finding() for b in checked.conflicts)
    return WeekPlan(
        problem.week,
        status,
        checked.value,
        max(top, checked.value if best else top),
        perf_counter() - started,
        placements,
        tuple(left),
        conflicts,
    )


def plan_placements(problem: WeekProblem, board: Board, draft: Draft) -> tuple[Placement, ...]:
    """Placements of a board; those that are fixed with times keep their own."""
    given = {f.key: f for f in problem.fixed}
    out = [*draft.loose]
    for job_id, portions in board.placed.items():
        out += [
            placement_of(problem, board, job_id, p, given.get((job_id, p.task.id, p.number)))
            for p in portions
        ]
    return tuple(sorted(out, key=lambda p: (p.job, p.task, p.portion)))


def with_day_alone(one: Placement) -> Placement:
    """The placement with its day and hours, without times and people."""
    if one.start is None or one.end is None:
        return one
    seats = tuple(Seat(None, s.craft) for s in one.people)
    return replace(one, start=None, end=None, people=seats, hours=one.elapsed)


def placement_of(
    problem: WeekProblem, board: Board, job_id: str, p: Portion, given: Placement | None
) -> Placement:
    """A portion of a board as a placement; a fixed one keeps the times that it was given."""
    people = tuple(
        Seat(board.people[n].id if n is not None else None, need.craft)
        for n, need in zip(p.people, p.task.seat_needs, strict=True)
    )
    start, end = problem.grid.moment(p.start), problem.grid.moment(p.end)
    if given is not None:
        start, end = given.start or start, given.end or end
        return Placement(job_id, p.task.id, p.number, given.day, start, end, people, given.hours)
    first = next((n for n in p.people if n is not None), None)
    day = board.day_at(first, p.start) if first is not None else None
    return Placement(job_id, p.task.id, p.number, day or start.date(), start, end, people)


def _previous(board: Board) -> dict[str, list[Portion]]:
    """The draft before as portions, for jobs that it places with all their times and people."""
    out: dict[str, list[Portion]] = {}
    grid = board.problem.grid
    unusable = set()
    for one in board.problem.previous:
        job = board.problem.job_by_id.get(one.job)
        task = next((t for t in job.tasks if t.id == one.task), None) if job else None
        people = [board.position.get(s.id or "") for s in one.people]
        if (
            task is None
            or one.start is None
            or one.end is None
            or None in people
            or grid.floor(one.start) < 0
        ):
            unusable.add(one.job)
            continue
        out.setdefault(one.job, []).append(
            Portion(task, one.portion, grid.floor(one.start), grid.ceil(one.end), tuple(people))
        )
    return {j: p for j, p in out.items() if j not in unusable}
