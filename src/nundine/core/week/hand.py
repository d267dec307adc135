"""What a scheduler does by hand, one question at a time: where does this fit on that day, who can take this seat."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta

from nundine.core.timeline import Interval
from nundine.core.week.build.bits import span
from nundine.core.week.build.board import Board
from nundine.core.week.build.builder import placement_of
from nundine.core.week.build.draft import Draft
from nundine.core.week.build.fit import Fitter, Freedom
from nundine.core.week.problem import Need, Placement, Seat, Task, WeekProblem


@dataclass(frozen=True)
class Candidate:
    """A person who might take a seat: whether nothing stands in the way, in words why or why not, free hours of the day."""

    person: str
    fits: bool
    why: tuple[str, ...]
    free_hours: float


def elapsed_hours(one: Placement, task: Task) -> float:
    """Hours that a placement takes, exact across a clock change; those of its task where it has none of its own."""
    if one.start is not None and one.end is not None:
        return Interval(one.start, one.end).hours
    return one.hours or task.hours


def _open(placement: Placement) -> tuple[Seat, ...]:
    return tuple(Seat(None, s.craft) for s in placement.people)


def move_to_day(
    problem: WeekProblem, placements: tuple[Placement, ...], moved: tuple[Placement, ...], day: date
) -> tuple[Placement, ...]:
    """`moved` on another day: with times and people where they fit beside all others, else with the day alone and open seats.

    The same people are tried first.
    """
    keys = {p.key for p in moved}
    rest = tuple(p for p in placements if p.key not in keys)
    board = Board(problem.with_placements(rest))
    draft = Draft(board, complete=False)
    out = []
    rank = {t.id: n for p in moved for n, t in enumerate(problem.job_by_id[p.job].ordered_tasks)}
    for one in sorted(moved, key=lambda p: (p.job, rank[p.task], p.portion)):
        job = problem.job_by_id[one.job]
        hours = elapsed_hours(one, job.task(one.task))
        bare = Placement(one.job, one.task, one.portion, day, None, None, _open(one), hours)
        found = None
        for people in dict.fromkeys((one.people, bare.people)):
            found = draft.give_time(replace(bare, people=people))
            if found is not None:
                break
        if found is None:
            out.append(bare)
            continue
        board.add(job, [found])
        out.append(replace(placement_of(problem, board, one.job, found, None), day=day, hours=None))
    return tuple(out)


def put_in(
    problem: WeekProblem, placements: tuple[Placement, ...], job_id: str, day: date | None
) -> tuple[Placement, ...]:
    """Placements for a job that is not in the week: on `day`, or where it fits best; by hand even where it does not fit."""
    job = problem.job_by_id[job_id]
    bare = tuple(
        Placement(
            job_id,
            t.id,
            1,
            day or problem.days[0],
            None,
            None,
            tuple(Seat(None, n.craft) for n in t.seat_needs),
            t.hours,
        )
        for t in job.ordered_tasks
    )
    if day is not None:
        return move_to_day(problem, placements, bare, day)
    board = Board(problem.with_placements(placements))
    Draft(board, complete=False)
    found = Fitter(board).fit(job, Freedom(overtime=False)) or Fitter(board).fit(job, Freedom())
    if found:
        board.add(job, found)
        return tuple(placement_of(problem, board, job_id, p, None) for p in found)
    tries = [move_to_day(problem, placements, bare, d) for d in problem.days]
    return max(tries, key=lambda ps: sum(p.start is not None for p in ps))


def candidates(
    problem: WeekProblem, placements: tuple[Placement, ...], one: Placement, seat: int
) -> tuple[Candidate, ...]:
    """Everybody who has the craft at the seat's level, best first, each with why.

    Best: nothing in the way, main craft, same area, least more able than needed, most free that day.
    """
    job = problem.job_by_id[one.job]
    task: Task = job.task(one.task)
    need: Need = task.seat_needs[seat]
    rest = tuple(p for p in placements if p.key != one.key)
    board = Board(problem.with_placements(rest))
    Draft(board, complete=False)
    part = _part(board, one)
    ranked = []
    for n, mask in board.qualified(replace(need, certificate=None, people=1)):
        person = board.people[n]
        day = board.day_of[n].get(one.day, 0)
        free = (board.free[n] & day).bit_count() * problem.slot_minutes / 60
        why, fits = [], True
        if not day & board.there[n]:
            why, fits = ["no shift that day"], False
        elif need.certificate and not dict(board.qualified(replace(need, people=1))).get(n, 0) & day:
            why, fits = [f"no valid certificate {need.certificate}"], False
        elif any(s.id == person.id for k, s in enumerate(one.people) if k != seat):
            why, fits = ["already on this job"], False
        elif part and part & ~board.there[n] & mask:
            why, fits = ["not there for all of it"], False
        elif part and part & ~board.free[n]:
            others = sorted(
                {
                    p.job
                    for p in rest
                    if p.start and any(s.id == person.id for s in p.people) and _part(board, p) & part
                }
            )
            why, fits = ["busy with " + ", ".join(others)], False
        elif not part and free + 1e-9 < (one.hours or task.hours):
            why, fits = [f"only {free:g} h free"], False
        main = person.main_craft == need.craft
        why.append(f"{free:g} h free")
        if not main:
            why.append("second craft")
        if person.area == job.area:
            why.append("same area")
        if part and part & ~board.regular[n] & board.there[n]:
            why.append("in overtime")
        rank = (not fits, not main, person.area != job.area, board.breadth[n], -free, person.id)
        ranked.append((rank, Candidate(person.id, fits, tuple(why), free)))
    return tuple(c for _, c in sorted(ranked, key=lambda r: r[0]))


def _part(board: Board, one: Placement) -> int:
    grid = board.problem.grid
    return span(grid.floor(one.start), grid.ceil(one.end)) if one.start and one.end else 0


def starting_at(one: Placement, start: datetime, task: Task) -> Placement:
    """The placement from another start on, as long as before."""
    hours = elapsed_hours(one, task)
    end = (start.astimezone(UTC) + timedelta(hours=hours)).astimezone(start.tzinfo)
    return replace(one, start=start, end=end, hours=None)


@dataclass(frozen=True)
class Relief:
    """A move that takes load off a tank: the job's placements of that day on another day, where they fit."""

    job: str
    day: date
    hours: float


def relief(
    problem: WeekProblem, placements: tuple[Placement, ...], craft: str, day: date, most: int = 4
) -> tuple[Relief, ...]:
    """Jobs that could leave a tank for another day with times and people, least valuable first; each one tried."""
    board = Board(problem.with_placements(placements))
    draft = Draft(board, complete=False)
    worth = {
        j: problem.job_by_id[j].priority + 1000 * problem.job_by_id[j].must
        for j in {p.job for p in placements}
    }
    here: dict[str, list[Placement]] = {}
    for p in placements:
        mains = {problem.person_by_id[s.id].main_craft if s.id else s.craft for s in p.people}
        if p.day == day and craft in mains:
            here.setdefault(p.job, []).append(p)
    found: list[Relief] = []
    for job_id in sorted(here, key=lambda j: (worth[j], j)):
        if len(found) >= most:
            break
        job = problem.job_by_id[job_id]
        moved = {p.key[1:] for p in here[job_id]}
        taken = board.remove(job)
        board.add(job, [p for p in taken if (p.task.id, p.number) not in moved])
        later = [d for d in problem.days if d > day] + [d for d in problem.days if d < day]
        for other in later:
            put = []
            for one in here[job_id]:
                hours = elapsed_hours(one, job.task(one.task))
                portion = draft.give_time(
                    Placement(job_id, one.task, one.portion, other, None, None, _open(one), hours)
                )
                if portion is None:
                    break
                board.add(job, [portion])
                put.append(portion)
            fits = len(put) == len(here[job_id])
            hours = sum((p.end - p.start) * len(p.people) for p in put) * problem.slot_minutes / 60
            board.remove(job)
            board.add(job, [p for p in taken if (p.task.id, p.number) not in moved])
            if fits:
                found.append(Relief(job_id, other, hours))
                break
        board.remove(job)
        board.add(job, taken)
    return tuple(found)
