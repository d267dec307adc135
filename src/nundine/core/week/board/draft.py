"""Putting fixed placements, finished or not, on the board; the engine keeps what is given and decides the
rest."""

from __future__ import annotations

from dataclasses import replace

from nundine.core.week.board.bits import first_bit, run_starts, span, union
from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.fit import Fitter
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.board.frequencies import TRIES
from nundine.core.week.board.heads import enough_heads
from nundine.core.week.problem import Job, Need, Placement, Task
from nundine.core.week.value import points_per_hour


class Draft:
    """The fixed part of a week: portions on the board, and placements that could not get a time."""

    def __init__(self, board: Board, complete: bool = True) -> None:
        """Put all fixed placements on the board; with `complete`, fill their open seats and give them
        times."""
        self.board = board
        self.fitter = Fitter(board)
        self.kept: dict[str, int] = {}
        self.loose: list[Placement] = []
        problem = board.problem
        timed = [p for p in problem.fixed if p.start is not None]
        for one in timed:
            job = problem.job_by_id[one.job]
            board.add(job, [self._portion(one, job.task(one.task))])
        if complete:
            self._fill_open_seats(timed)
        for one in sorted((p for p in problem.fixed if p.start is None), key=self._urgency):
            job = problem.job_by_id[one.job]
            portion = self.give_time(one) if complete else None
            if portion is None:
                self.loose.append(one)
            else:
                board.add(job, [portion])
        self.kept = {j: len(portions) for j, portions in board.placed.items()}
        self.loose_jobs = {p.job for p in self.loose}

    def _urgency(self, one: Placement) -> tuple[float, str, str]:
        job = self.board.problem.job_by_id[one.job]
        order = [t.id for t in job.ordered_tasks]
        return (-points_per_hour(job, self.board.problem.weights), job.id, f"{order.index(one.task):04}")

    def _portion(self, one: Placement, task: Task) -> Portion:
        grid = self.board.problem.grid
        assert one.start is not None and one.end is not None
        people = tuple(self.board.position[s.id] if s.id is not None else None for s in one.people)
        start, end = grid.floor(one.start), grid.ceil(one.end)
        on_grid = start == grid.ceil(one.start) and end == grid.floor(one.end)
        return Portion(task, one.portion, start, end, people, None if on_grid else (one.start, one.end))

    def _fill_open_seats(self, timed: list[Placement]) -> None:
        board = self.board
        for one in sorted(timed, key=self._urgency):
            if all(s.id is not None for s in one.people):
                continue
            job = board.problem.job_by_id[one.job]
            portions = board.remove(job)
            for n, p in enumerate(portions):
                if p.task.id == one.task and p.number == one.portion:
                    portions[n] = replace(p, people=self._people(job, p))
            board.add(job, portions)

    def _people(self, job: Job, p: Portion) -> tuple[int | None, ...]:
        """The portion's people with open seats filled by whoever is free, one seat after another."""
        board, length, freedom = self.board, p.end - p.start, Freedom()
        area = board.problem.area_of(job)
        people = list(p.people)
        for k, need in enumerate(p.task.seat_needs):
            if people[k] is not None:
                continue
            able = [
                (n, run_starts(board.open_for(n, area) & mask, length))
                for n, mask in board.qualified(need)
                if n not in people
            ]
            spent: dict[str, int] = {}
            for n in people:
                if n is not None:
                    spent[board.main[n]] = spent.get(board.main[n], 0) + board.regular_slots(n, p.mask)
            found = self.fitter.seating.seats((_single(need),), [able], p.start, length, freedom, spent)
            if found:
                people[k] = found[0]
        return tuple(people)

    def give_time(self, one: Placement, freedom: Freedom | None = None) -> Portion | None:
        """A start on the given day for a placement that has only its day; given people stay."""
        freedom = freedom or Freedom()
        board, grid = self.board, self.board.problem.grid
        job = board.problem.job_by_id[one.job]
        task = job.task(one.task)
        length = grid.slots_for(one.hours or task.hours)
        day = union(days.get(one.day, 0) for days in board.day_of)
        area = board.problem.area_of(job)
        allowed = board.asset_mask(job, task) & board.tool_free(task) & day
        if not freedom.in_pieces:
            allowed &= board.service.slots_for(job, task, board.placed.get(job.id, ()))
        if task.asset_state != "any":
            allowed &= ~board.others_on_asset(job)
        ends: dict[str, int] = {}
        for p in board.placed.get(job.id, ()):
            ends[p.task.id] = max(ends.get(p.task.id, 0), p.end)
        first = max([freedom.not_before] + [ends.get(a.task, 0) + grid.slots_for(a.lag) for a in task.after])
        mine = [p for p in board.placed.get(job.id, ()) if p.task.id == task.id and p.number != one.portion]
        first = max([first] + [p.end for p in mine if p.number < one.portion])
        if job.earliest is not None:
            first = max(first, grid.ceil(job.earliest))
        begun = {p.task.id: p.start for p in sorted(board.placed.get(job.id, ()), key=lambda p: -p.start)}
        last = min(
            grid.floor(job.latest) if job.latest else board.slots,
            self.fitter.before_followers(job, task, begun),
        )
        last = min([last] + [p.start for p in mine if p.number > one.portion])
        starts = run_starts(allowed & span(first, last), length)
        given = [board.position[s.id] for s in one.people if s.id is not None]
        for n in given:
            starts &= run_starts(board.open_for(n, area) & board.day_of[n].get(one.day, 0), length)
        runs_of, open_needs = [], []
        for need, seat in zip(task.seat_needs, one.people, strict=True):
            if seat.id is not None:
                continue
            able = [
                (n, run_starts(board.open_for(n, area) & mask & board.day_of[n].get(one.day, 0), length))
                for n, mask in board.qualified(need)
                if n not in given
            ]
            runs_of.append(able)
            open_needs.append(_single(need))
        if runs_of:
            starts &= enough_heads(runs_of, len(runs_of))
        for _ in range(TRIES):
            s = first_bit(starts)
            if s < 0:
                return None
            filled = self.fitter.seating.seats(tuple(open_needs), runs_of, s, length, freedom, {})
            if filled is not None:
                rest = iter(filled)
                people = tuple(
                    board.position[seat.id] if seat.id is not None else next(rest) for seat in one.people
                )
                return Portion(task, one.portion, s, s + length, people)
            starts &= starts - 1
        return None


def _single(need: Need) -> Need:
    return replace(need, people=1)
