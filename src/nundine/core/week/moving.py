"""Placements on another day by hand: some of them, or whole jobs so that the order of their tasks holds."""

from __future__ import annotations

from collections.abc import Set
from dataclasses import dataclass, replace
from datetime import date, timedelta

from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.draft import Draft
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.building.build import placement_of
from nundine.core.week.problem import Job, Placement, Seat, Task, WeekProblem
from nundine.core.week.value import points_per_hour
from nundine.core.work import tasks_before

Key = tuple[str, str, int]


def elapsed_hours(one: Placement, task: Task) -> float:
    """Hours that a placement takes, exact across a clock change; those of its task where it has none of its
    own."""
    return one.elapsed or task.hours


class _Mover:
    """A week without what moves; each placement is laid beside all that stands already."""

    def __init__(self, problem: WeekProblem, rest: tuple[Placement, ...]) -> None:
        self.p = problem
        self.board = Board(problem.with_placements(rest))
        self.draft = Draft(self.board, complete=False)

    def lay(self, job: Job, one: Placement, day: date) -> Portion | None:
        """A time on the day, the same people before others; on the board if there is one.

        Where the job would have to keep its asset out of service past its windows, it gets a time all the
        same: a hand may do that, and the broken rule is told.
        """
        bare = self.bare(job, one, day)
        for freedom in (Freedom(), Freedom(in_pieces=True)):
            for people in dict.fromkeys((one.people, bare.people)):
                found = self.draft.give_time(replace(bare, people=people), freedom)
                if found is not None:
                    self.board.add(job, [found])
                    return found
        return None

    def bare(self, job: Job, one: Placement, day: date) -> Placement:
        """The placement with the day alone and open seats."""
        seats = tuple(Seat(None, s.craft) for s in one.people)
        hours = elapsed_hours(one, job.task(one.task))
        return Placement(one.job, one.task, one.portion, day, None, None, seats, hours)

    def placement(self, job: Job, one: Placement, day: date) -> Placement:
        """The placement as it stands on the day: with times and people where they fit, else bare."""
        found = self.lay(job, one, day)
        if found is None:
            return self.bare(job, one, day)
        return replace(placement_of(self.p, self.board, job.id, found, None), day=day, hours=None)


def in_task_order(problem: WeekProblem, placements: tuple[Placement, ...]) -> list[Placement]:
    """By job, then as tasks and portions follow one another."""
    rank = {
        (p.job, t.id): n for p in placements for n, t in enumerate(problem.job_by_id[p.job].ordered_tasks)
    }
    return sorted(placements, key=lambda p: (p.job, rank[p.key[:2]], p.portion))


def move_to_day(
    problem: WeekProblem, placements: tuple[Placement, ...], moved: tuple[Placement, ...], day: date
) -> tuple[Placement, ...]:
    """`moved` on another day: with times and people where they fit beside all others, else with the day alone
    and open seats.

    The same people are tried first.
    """
    keys = {p.key for p in moved}
    mover = _Mover(problem, tuple(p for p in placements if p.key not in keys))
    return tuple(
        mover.placement(problem.job_by_id[one.job], one, day) for one in in_task_order(problem, moved)
    )


def move_jobs(
    problem: WeekProblem,
    placements: tuple[Placement, ...],
    chosen: tuple[Placement, ...],
    day: date,
    stay: Set[Key] = frozenset(),
) -> tuple[Placement, ...]:
    """The whole jobs of `chosen` moved so that these land on the day and tasks stay in their order.

    The other placements of a job go by as many days as its first chosen one, as far as the week goes; what is
    in `stay` does not move. Gives every placement that moves, chosen ones included.
    """
    keys = {p.key for p in chosen}
    jobs = {p.job for p in chosen}
    moved = tuple(p for p in placements if p.job in jobs and (p.key in keys or p.key not in stay))
    moving = {p.key for p in moved}
    mover = _Mover(problem, tuple(p for p in placements if p.key not in moving))
    out: list[Placement] = []
    days: dict[tuple[str, str], date] = {}
    ahead: dict[str, set[str]] = {}
    for j in jobs:
        tasks = {p.task for p in chosen if p.job == j}
        ahead[j] = {*tasks, *tasks_before(problem.job_by_id[j].tasks, tasks)}
    for one in in_task_order(problem, moved):
        job = problem.job_by_id[one.job]
        by = day - min(p.day for p in chosen if p.job == one.job)
        before = [days[(one.job, a.task)] for a in job.task(one.task).after if (one.job, a.task) in days]
        before += [days[one.key[:2]]] if one.key[:2] in days else []
        target = day if one.key in keys else _within(problem, one.day + by)
        target = max([target, *before])
        found = mover.placement(job, one, target)
        last = day if one.task in ahead[one.job] else problem.days[-1]
        for later in problem.days if one.key not in keys and found.start is None else ():
            if target < later <= last and (again := mover.placement(job, one, later)).start is not None:
                found = again
                break
        days[one.key[:2]] = max(found.day, *before) if before else found.day
        out.append(found)
    return tuple(out)


def _within(problem: WeekProblem, day: date) -> date:
    return min(max(day, problem.days[0]), problem.days[-1])


@dataclass(frozen=True)
class Relief:
    """A move that takes load off a tank: its placements of a job, and with them the whole job, where all
    fits."""

    job: str
    day: date
    hours: float


def relief(
    problem: WeekProblem,
    placements: tuple[Placement, ...],
    craft: str,
    day: date,
    stay: Set[Key] = frozenset(),
    most: int = 4,
) -> tuple[Relief, ...]:
    """Jobs that could leave a tank for another day, whole, with times and people, least valuable first; each
    one tried."""
    here: dict[str, list[Placement]] = {}
    for p in placements:
        mains = {problem.person_by_id[s.id].main_craft if s.id else s.craft for s in p.people}
        if p.day == day and craft in mains:
            here.setdefault(p.job, []).append(p)
    worth = {j: points_per_hour(problem.job_by_id[j], problem.weights) for j in here}
    mover = _Mover(problem, placements)
    others = sorted(problem.days, key=lambda d: (d < day, d))
    found: list[Relief] = []
    for job_id in sorted(here, key=lambda j: (worth[j], j)):
        if len(found) >= most:
            break
        whole = tuple(p for p in placements if p.job == job_id)
        if any(p.key in stay or p.start is None for p in whole):
            continue
        to = next((d for d in others if d != day and _fits_whole(mover, whole, d - day)), None)
        if to is not None:
            tasks = problem.task_by_id
            hours = sum(elapsed_hours(p, tasks[p.key[:2]]) * len(p.people) for p in here[job_id])
            found.append(Relief(job_id, to, hours))
    return tuple(found)


def _fits_whole(mover: _Mover, whole: tuple[Placement, ...], by: timedelta) -> bool:
    """Whether a job fits, each placement so many days from where it is; the board is left as it was."""
    job = mover.p.job_by_id[whole[0].job]
    taken = mover.board.remove(job)
    fits = all(
        one.day + by in mover.p.days and mover.lay(job, one, one.day + by) is not None
        for one in in_task_order(mover.p, whole)
    )
    mover.board.remove(job)
    mover.board.add(job, taken)
    return fits
