"""What a scheduler does by hand, one question at a time: where does this fit on that day, who can take this
seat."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta

from nundine.core.finding import Finding
from nundine.core.week.board.bits import span
from nundine.core.week.board.board import Board
from nundine.core.week.board.draft import Draft
from nundine.core.week.board.fit import Fitter
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.building.build import placement_of
from nundine.core.week.moving import elapsed_hours, move_to_day
from nundine.core.week.problem import Need, Placement, Seat, Task, WeekProblem


@dataclass(frozen=True)
class Candidate:
    """A person who might take a seat: what speaks for and against it, free hours of the day, and what stands
    in the way: away, certificate, same job, hours, busy, travel or short; None if nothing does."""

    person: str
    why: tuple[Finding, ...]
    free_hours: float
    blocked: Finding | None = None

    @property
    def fits(self) -> bool:
        return self.blocked is None


def put_in(
    problem: WeekProblem, placements: tuple[Placement, ...], job_id: str, day: date | None
) -> tuple[Placement, ...]:
    """Placements for a job that is not in the week: on `day`, or where it fits best; by hand even where it
    does not fit."""
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
        blocked = None
        if not day & board.there[n]:
            blocked = Finding("away")
        elif need.certificate and not dict(board.qualified(replace(need, people=1))).get(n, 0) & day:
            blocked = Finding("certificate", {"certificate": need.certificate})
        elif any(s.id == person.id for k, s in enumerate(one.people) if k != seat):
            blocked = Finding("same job")
        elif part and part & ~board.there[n] & mask:
            blocked = Finding("hours")
        elif part and part & ~board.free[n]:
            others = sorted(
                {
                    p.job
                    for p in rest
                    if p.start and any(s.id == person.id for s in p.people) and _part(board, p) & part
                }
            )
            blocked = Finding("busy", {"jobs": others})
        elif part and part & board.areas.shut(n, problem.area_of(job)):
            blocked = Finding("travel")
        elif not part and free + 1e-9 < (one.hours or task.hours):
            blocked = Finding("short", {"free": free})
        main = person.main_craft == need.craft
        why = [*([blocked] if blocked else []), Finding("free", {"free": free})]
        if not main:
            why.append(Finding("second craft"))
        if person.area == job.area:
            why.append(Finding("same area"))
        if part and part & ~board.regular[n] & board.there[n]:
            why.append(Finding("overtime"))
        rank = (blocked is not None, not main, person.area != job.area, board.breadth[n], -free, person.id)
        ranked.append((rank, Candidate(person.id, tuple(why), free, blocked)))
    return tuple(c for _, c in sorted(ranked, key=lambda r: r[0]))


def _part(board: Board, one: Placement) -> int:
    grid = board.problem.grid
    return span(grid.floor(one.start), grid.ceil(one.end)) if one.start and one.end else 0


def starting_at(one: Placement, start: datetime, task: Task) -> Placement:
    """The placement from another start on, as long as before."""
    hours = elapsed_hours(one, task)
    end = (start.astimezone(UTC) + timedelta(hours=hours)).astimezone(start.tzinfo)
    return replace(one, start=start, end=end, hours=None)
