"""Some jobs beside all that stands on a board, as a model for CP-SAT (OR-Tools): each rule one short
method."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from ortools.sat.python import cp_model

from nundine.core.week.board.bits import first_bit, run_starts, runs, span
from nundine.core.week.board.board import Board
from nundine.core.week.board.heads import starts_with_people
from nundine.core.week.board.worth import Worth
from nundine.core.week.problem import STOPPED, Job, Task
from nundine.core.week.search.exact_prices import SCALE, count_loose_ends

FEW_PORTIONS, MOST_PORTIONS = 4, 20
MIXED = -1
"""A seat of a portion of any length in hours that are partly overtime: its overtime costs nothing in the
model."""


@dataclass
class Part:
    """A portion in the model: whether it is there, when it starts and ends, who sits on its seats (with the
    soonest end there)."""

    task: Task
    number: int
    here: Any
    start: Any
    end: Any
    size: Any
    seats: list[Sits] = field(default_factory=list)


@dataclass
class Sits:
    """A person on a seat of a portion, in one stretch of the person's hours."""

    need: int
    person: int
    literal: Any
    first: int
    last: int
    soonest_end: int
    outside: int
    slots: Any


class ExactModel:
    """Jobs, seats, shared limits and points as variables and constraints; `whole` is False where it is
    stricter than the rules."""

    def __init__(self, board: Board, jobs: list[Job], portions: int) -> None:
        self.board, self.jobs, self.grid, self.most_portions = board, jobs, board.problem.grid, portions
        self.m = cp_model.CpModel()
        self.worth = Worth(board)
        self.whole, self.mixed = True, board.problem.weights.has_prices
        self.hints: list[tuple[str, Any, Any]] = []
        """Variables of a job's loose ends, each with what it is in a plan."""
        self.where: dict[int, dict[str, list[tuple[Any, Any, Any, Any]]]] = {}
        """Seats of each person by area: start, size, end, literal."""
        self.parts: dict[str, list[Part]] = {}
        self.on: dict[int, list[Any]] = {}
        self.hours: dict[tuple[int, int, int], list[Any]] = {}
        self.lates: list[tuple[Job, int, Any]] = []
        self.spans: dict[str, tuple[Any, Any, Any, list[Part]]] = {}
        self.counts: list[tuple[Any, Part]] = []
        self.asset_spans: dict[str, list[Any]] = {}
        self.tool_use: dict[str, list[Any]] = {}
        self.regular: dict[str, list[Any]] = {}
        self.points: list[tuple[int, Any]] = []
        for job in jobs:
            self._job(job)
        self._shared()
        self.m.maximize(sum(c * v for c, v in self.points))

    # ---------------------------------------------------------------- jobs

    def _job(self, job: Job) -> None:
        m = self.m
        there = m.new_bool_var(job.id)
        of_task: dict[str, tuple[Any, list[Part]]] = {}
        gains: list[tuple[float, Any]] = []
        self.parts[job.id] = []
        for task in job.ordered_tasks:
            here = m.new_bool_var("") if job.divisible else there
            parts = self._task(job, task, here)
            of_task[task.id] = (here, parts)
            self.parts[job.id] += parts
            for after in task.after:
                before_here, before = of_task[after.task]
                if job.divisible:
                    m.add_implication(here, before_here)
                lag = self.grid.slots_for(after.lag)
                for b in before:
                    m.add(parts[0].start >= b.end + lag).only_enforce_if(b.here, parts[0].here)
            gains.append((self.worth.rate(job) * task.hours * task.people, here))
        if job.divisible:
            for here, _ in of_task.values():
                m.add_implication(here, there)
            m.add(sum(h for h, _ in of_task.values()) >= 1).only_enforce_if(there)
            if job.must:
                whole = m.new_bool_var("")
                for here, _ in of_task.values():
                    m.add_implication(whole, here)
                gains.append((self.board.problem.weights.must_per_job, whole))
        else:
            gains = [(self.worth.most(job), there)]
        for points, literal in gains:
            self._gain(points, literal)
        self._late(job, gains)
        self._span(job, there)
        self._out_of_service(job, there)
        count_loose_ends(self, job, there, {name: parts for name, (_, parts) in of_task.items()})

    def _gain(self, points: float, literal: Any) -> None:
        if points:
            self.points.append((round(points * SCALE), literal))

    def _late(self, job: Job, gains: list[tuple[float, Any]]) -> None:
        """Each day, or part of one, past max(due, start) takes a share of the points of what is placed of the
        job."""
        if job.due is None:
            return
        m, due, per_day = self.m, max(self.grid.ceil(job.due), 0), int(self.worth.per_day)
        before: Any = None
        for day in range((self.board.slots - due + per_day - 1) // per_day):
            late = m.new_bool_var("")
            self.lates.append((job, due + day * per_day, late))
            for p in self.parts[job.id]:
                m.add(p.end <= due + day * per_day).only_enforce_if(p.here, ~late)
                for sits in p.seats:
                    if sits.soonest_end > due + day * per_day:
                        m.add_implication(sits.literal, late)
            if before is not None:
                m.add_implication(late, before)
            before = late
            for points, literal in gains:
                counts = late
                if job.divisible:
                    counts = m.new_bool_var("")
                    m.add_bool_or(~late, ~literal, counts)
                self._gain(-self.board.problem.weights.late_share_per_day * points, counts)

    def _out_of_service(self, job: Job, there: Any) -> None:
        """All stopped portions lie in one stretch of the asset's work windows."""
        stretches = self.board.service.stretches(job)
        if stretches is None:
            return
        stopped = [p for p in self.parts[job.id] if p.task.asset_state == STOPPED]
        chosen = [self.m.new_bool_var("") for _ in stretches]
        self.m.add(sum(chosen) == there)
        since = self.board.service.since(job)
        for (first, last), literal in zip(stretches, chosen, strict=True):
            for p in stopped:
                self.m.add(p.start >= first).only_enforce_if(literal, p.here)
                self.m.add(p.end <= last).only_enforce_if(literal, p.here)

            def inside(held: dict[tuple[str, int], Any], first: int = first, last: int = last) -> int:
                its = [q for q in held.values() if q.task.asset_state == STOPPED]
                begun = min((q.start for q in its), default=0) if since is None else since
                return int(bool(its) and first <= begun and max(q.end for q in its) <= last)

            self.hints.append((job.id, literal, inside))

    def _span(self, job: Job, there: Any) -> None:
        """On an asset that takes one job at a time: from the first start to the last end of tasks that touch
        it."""
        if job.asset not in self.board.spans:
            return
        touching = [p for p in self.parts[job.id] if p.task.asset_state != "any"]
        if not touching:
            return
        slots = self.board.slots
        start, end, size = (self.m.new_int_var(0, slots, "") for _ in range(3))
        for p in touching:
            self.m.add(start <= p.start).only_enforce_if(p.here)
            self.m.add(end >= p.end).only_enforce_if(p.here)
        self.spans[job.id] = (start, end, size, touching)
        self.asset_spans.setdefault(job.asset, []).append(
            self.m.new_optional_interval_var(start, size, end, there, "")
        )

    # ---------------------------------------------------------------- tasks

    def _task(self, job: Job, task: Task, here: Any) -> list[Part]:
        board, m = self.board, self.m
        length = self.grid.slots_for(task.hours)
        allowed = board.asset_mask(job, task)
        for tool in task.tools:
            allowed &= ~board.tool_levels[tool][-1] if len(board.tool_levels[tool]) > 1 else 0
        first = self.grid.ceil(job.earliest) if job.earliest is not None else 0
        last = self.grid.floor(job.latest) if job.latest is not None else board.slots
        if not task.needs:
            last = min(last, board.week_end)
        allowed &= span(first, last)
        least = min(length, self.grid.slots_for(task.min_portion)) if task.splittable else length
        starts = starts_with_people(board, task, allowed, least)
        count = length // least if task.splittable else 1
        if count == 1:
            if not starts:
                m.add(here == 0)
                return [Part(task, 1, here, m.new_constant(0), m.new_constant(length), length)]
            start = m.new_int_var_from_domain(_domain(starts), "")
            part = Part(task, 1, here, start, start + length, length)
            self._seats(job, part, allowed, length)
            self._use_tools(part)
            return [part]
        return self._portions(job, task, here, allowed, starts, length, least, count)

    def _portions(
        self, job: Job, task: Task, here: Any, allowed: int, starts: int, length: int, least: int, count: int
    ) -> list[Part]:
        m = self.m
        if count > self.most_portions:
            self.whole = False
        if not starts:
            m.add(here == 0)
            return [Part(task, 1, here, m.new_constant(0), m.new_constant(length), length)]
        parts: list[Part] = []
        closed = [
            m.new_fixed_size_interval_var(a, b - a, "") for a, b in runs(self.board.everything & ~allowed)
        ]
        for n in range(min(count, self.most_portions)):
            there = here if n == 0 else m.new_bool_var("")
            start = m.new_int_var_from_domain(_domain(starts), "")
            size, end = m.new_int_var(least, length, ""), m.new_int_var(0, self.board.slots, "")
            part = Part(task, n + 1, there, start, end, size)
            m.add_no_overlap([m.new_optional_interval_var(start, size, end, there, ""), *closed])
            if parts:
                m.add_implication(there, parts[-1].here)
                m.add(start >= parts[-1].end).only_enforce_if(there)
            self._seats(job, part, allowed, least)
            self._use_tools(part)
            parts.append(part)
        counted = [m.new_int_var(0, length, "") for _ in parts]
        self.counts += zip(counted, parts, strict=True)
        for c, p in zip(counted, parts, strict=True):
            m.add(c == p.size).only_enforce_if(p.here)
            m.add(c == 0).only_enforce_if(~p.here)
        m.add(sum(counted) == length).only_enforce_if(here)
        return parts

    def _seats(self, job: Job, part: Part, allowed: int, length: int) -> None:
        """Who sits on the seats, and in which stretch of hours: for each seat one person who is free for all
        of it, nobody twice."""
        m, board, area = self.m, self.board, self.board.problem.area_of(job)
        on_part: dict[int, list[Any]] = {}
        for i, need in enumerate(part.task.needs):
            chosen = []
            for n, mask in board.qualified(need):
                opened = board.open_for(n, area)
                for first, last in runs(board.free[n]):
                    free = span(first, last) & mask & allowed & opened
                    for outside, starts in self._classes(
                        n, run_starts(free, length), length, isinstance(part.size, int)
                    ):
                        sits = self._sits(part, i, n, (first, last), outside, starts, free, length)
                        chosen.append(sits)
                        self._whereabouts(part, n, (first, last), sits, area)
                        on_part.setdefault(n, []).append(sits)
            m.add(sum(chosen) == need.people * part.here)
        for literals_n in on_part.values():
            if len(literals_n) > 1:
                m.add_at_most_one(literals_n)

    def _sits(
        self,
        part: Part,
        need: int,
        n: int,
        stretch: tuple[int, int],
        outside: int,
        starts: int,
        free: int,
        length: int,
    ) -> Any:
        """One literal: person n takes the seat, with a start among `starts`."""
        m, fixed = self.m, isinstance(part.size, int)
        sits = m.new_bool_var("")
        m.add_linear_expression_in_domain(part.start, _domain(starts)).only_enforce_if(sits)
        if not fixed:
            m.add(part.end <= free.bit_length()).only_enforce_if(sits)
        slots = self._cost(n, part, sits, stretch, outside, length)
        part.seats.append(Sits(need, n, sits, *stretch, first_bit(starts) + length, outside, slots))
        self.on.setdefault(n, []).append(
            m.new_optional_interval_var(part.start, part.size, part.end, sits, "")
        )
        self.hours.setdefault((n, *stretch), []).append(length * sits if fixed else slots)
        return sits

    def _whereabouts(self, part: Part, n: int, stretch: tuple[int, int], sits: Any, area: str | None) -> None:
        """In which area the person is on this seat, and what it costs if all these hours are worked away from
        there."""
        if area is None:
            return
        board, price = self.board, self.board.problem.weights.away_per_hour
        self.where.setdefault(n, {}).setdefault(area, []).append((part.start, part.size, part.end, sits))
        hours = span(*stretch) & board.there[n]
        if price and hours and not hours & ~board.areas.away(n, area, board.there[n]):
            cost, slots = price * board.problem.slot_minutes / 60, part.seats[-1].slots
            if isinstance(slots, int):
                self.points.append((-round(cost * slots * SCALE), sits))
            else:
                self.points.append((-round(cost * SCALE), slots))

    def _ways(self) -> None:
        """Time for the way: seats in one area, as much longer on both sides, meet none in the other. Those
        that are longer may meet one another."""
        for of_area in self.where.values():
            for (here, there), way in self.board.areas.slots_of_way.items():
                if here < there and of_area.get(here) and of_area.get(there):
                    wide = [
                        self.m.new_optional_interval_var(start - way, size + 2 * way, end + way, sits, "")
                        for start, size, end, sits in of_area[here]
                    ]
                    others = [
                        self.m.new_optional_interval_var(start, size, end, sits, "")
                        for start, size, end, sits in of_area[there]
                    ]
                    room = len(wide)
                    self.m.add_cumulative([*wide, *others], [1] * room + [room] * len(others), room)

    def _classes(self, n: int, starts: int, length: int, fixed: bool) -> list[tuple[int, int]]:
        """Starts of a person by how many slots of the portion would be overtime; for portions of any length
        by whether all would."""
        extra = self.board.there[n] & ~self.board.regular[n]
        if not extra or not starts:
            return [(0, starts)] if starts else []
        if not fixed:
            if extra & (self.board.regular[n] << 1) or extra & (self.board.regular[n] >> 1):
                self.mixed = True
                return [(MIXED, starts)]
            return [(k, s) for k, s in ((0, starts & ~extra), (1, starts & extra)) if s]
        by_count: dict[int, int] = {}
        for a, b in runs(starts):
            for s in range(a, b):
                k = (extra & span(s, s + length)).bit_count()
                by_count[k] = by_count.get(k, 0) | 1 << s
        return sorted(by_count.items())

    def _cost(
        self, n: int, part: Part, sits: Any, stretch: tuple[int, int], outside: int, length: int
    ) -> Any:
        """Overtime costs points; regular hours count against what the craft may use. Gives the slots of a
        portion of any length.

        Where both are mixed, overtime costs nothing and hours count as overtime as far as there is any: never
        stricter than the rules.
        """
        price = self.board.problem.weights.overtime_per_hour * self.board.problem.slot_minutes / 60
        main = self.board.main[n]
        if isinstance(part.size, int):
            if outside:
                self.points.append((-round(price * outside * SCALE), sits))
            self.regular.setdefault(main, []).append((length - outside) * sits)
            return length
        longest = self.grid.slots_for(part.task.hours)
        slots = self.m.new_int_var(0, longest, "")
        self.m.add(slots >= part.size).only_enforce_if(sits)
        self.m.add(slots >= length * sits)
        if outside == MIXED:
            beyond = (span(*stretch) & self.board.there[n] & ~self.board.regular[n]).bit_count()
            regular = self.m.new_int_var(0, longest, "")
            self.m.add(regular >= slots - beyond)
            self.regular.setdefault(main, []).append(regular)
        elif outside:
            self.points.append((-round(price * SCALE), slots))
        else:
            self.regular.setdefault(main, []).append(slots)
        return slots

    def _use_tools(self, part: Part) -> None:
        for tool in part.task.tools:
            use = self.m.new_optional_interval_var(part.start, part.size, part.end, part.here, "")
            self.tool_use.setdefault(tool, []).append(use)

    # ---------------------------------------------------------------- what jobs share

    def _shared(self) -> None:
        m, board = self.m, self.board
        self._ways()
        for intervals in self.on.values():
            m.add_no_overlap(intervals)
        for (_, first, last), used in self.hours.items():
            m.add(sum(used) <= last - first)
        for asset, spans in self.asset_spans.items():
            others = [
                m.new_fixed_size_interval_var(a, b - a, "")
                for mask in board.spans[asset].values()
                for a, b in runs(mask)
            ]
            m.add_no_overlap([*spans, *others])
        for tool, uses in self.tool_use.items():
            levels = board.tool_levels[tool]
            taken = [
                m.new_fixed_size_interval_var(a, b - a, "") for level in levels[1:] for a, b in runs(level)
            ]
            m.add_cumulative([*uses, *taken], [1] * (len(uses) + len(taken)), len(levels) - 1)
        total: dict[str, int] = {}
        for n, main in enumerate(board.main):
            total[main] = total.get(main, 0) + (board.regular[n] & board.free[n]).bit_count()
        for craft, used in self.regular.items():
            if board.budget[craft] < total[craft]:
                m.add(sum(used) <= max(0, board.budget[craft]))


def _domain(mask: int) -> cp_model.Domain:
    return cp_model.Domain.from_intervals([[a, b - 1] for a, b in runs(mask)])
