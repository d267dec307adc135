"""Finding a place for a job on the board: earliest start, best people, rule by rule."""

from __future__ import annotations

from dataclasses import dataclass, field

from nundine.core.week.board.bits import first_bit, run_length, run_starts, runs, span
from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.dice import Dice
from nundine.core.week.board.frequencies import AROUND, FLUSH, SNUG, TRIES
from nundine.core.week.problem import Job, Need, Task


@dataclass(frozen=True)
class Freedom:
    """Which rules a search may pass over; explanations relax one at a time. With `dice`, places are at times chosen to leave little free around."""

    overtime: bool = True
    held_back: bool = False
    windows: bool = False
    other_jobs: bool = False
    tools: bool = False
    busy: bool = False
    earliest: bool = False
    not_before: int = 0
    dice: Dice | None = None


EMPTY_WEEK = Freedom(held_back=True, other_jobs=True, tools=True, busy=True)


@dataclass
class _Job:
    """Where a job stands while its tasks are put down one after another."""

    ends: dict[str, int] = field(default_factory=dict)
    portions: list[Portion] = field(default_factory=list)
    busy: dict[int, int] = field(default_factory=dict)
    budget: dict[str, int] = field(default_factory=dict)
    asset: int = -1
    starts: dict[str, int] = field(default_factory=dict)

    def copy(self) -> _Job:
        return _Job(
            dict(self.ends), list(self.portions), dict(self.busy), dict(self.budget), self.asset, self.starts
        )


class Fitter:
    """Searches places on one board."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self.grid = board.problem.grid

    def fit(
        self, job: Job, freedom: Freedom, have: list[Portion] | None = None, partly: bool = False
    ) -> list[Portion] | None:
        """Portions for all tasks of the job that it has not yet, or None.

        Parameters
        ----------
        have
            Portions of the job that stay (fixed ones); the search goes on from them.
        partly
            A job that may be placed in part gives the tasks that found a place.
        """
        have = have or []
        touches = job.asset in self.board.spans and any(t.asset_state != "any" for t in job.tasks)
        if not touches or freedom.other_jobs:
            return self._tasks(job, freedom, have, self.board.everything, partly)
        free = self.board.everything & ~self.board.others_on_asset(job)
        touching = [p for p in have if p.task.asset_state != "any"]
        for first, last in runs(free):
            if touching and not (
                first <= min(p.start for p in touching) and max(p.end for p in touching) <= last
            ):
                continue
            found = self._tasks(job, freedom, have, span(first, last), partly)
            if found:
                return found
        return None

    def _tasks(
        self, job: Job, freedom: Freedom, have: list[Portion], asset: int, partly: bool
    ) -> list[Portion] | None:
        state = _Job(asset=asset)
        done: dict[str, int] = {}
        for p in have:
            state.ends[p.task.id] = max(state.ends.get(p.task.id, 0), p.end)
            done[p.task.id] = done.get(p.task.id, 0) + p.end - p.start
            state.starts[p.task.id] = min(state.starts.get(p.task.id, p.start), p.start)
        for task in job.ordered_tasks:
            left = self.grid.slots_for(task.hours) - done.get(task.id, 0)
            if left <= 0:
                continue
            number = 1 + max((p.number for p in have if p.task.id == task.id), default=0)
            if task.id in done and not task.splittable:
                continue
            before = state.copy() if partly and task.splittable else state
            if any(a.task not in state.ends for a in task.after) or not self._task(
                job, task, left, number, freedom, state
            ):
                if not partly:
                    return None
                state = before
        return state.portions or None

    def _bounds(self, job: Job, task: Task, freedom: Freedom, state: _Job) -> int:
        """Slots that the task may use at all, people aside."""
        board = self.board
        mask = board.everything if freedom.windows else board.asset_mask(job, task)
        if task.asset_state != "any":
            mask &= state.asset
        if not freedom.tools:
            mask &= board.tool_free(task, state.portions)
        first = freedom.not_before
        if job.earliest is not None and not freedom.earliest:
            first = max(first, self.grid.ceil(job.earliest))
        for after in task.after:
            first = max(first, state.ends[after.task] + self.grid.slots_for(after.lag))
        if task.id in state.ends:
            first = max(first, state.ends[task.id])
        last = self.grid.floor(job.latest) if job.latest is not None else board.slots
        last = min(last, self.before_followers(job, task, state.starts))
        if not task.needs:
            last = min(last, board.week_end)
        return mask & span(first, last)

    def before_followers(self, job: Job, task: Task, starts: dict[str, int]) -> int:
        """The slot by which a task must end because one that follows it already has its start."""
        limits = [
            starts[t.id] - self.grid.slots_for(a.lag)
            for t in job.tasks
            if t.id in starts
            for a in t.after
            if a.task == task.id
        ]
        return min(limits, default=self.board.slots)

    def _task(self, job: Job, task: Task, left: int, number: int, freedom: Freedom, state: _Job) -> bool:
        least = (
            min(self.grid.slots_for(task.hours), self.grid.slots_for(task.min_portion))
            if task.splittable
            else left
        )
        if left < least:
            return False
        while left > 0:
            allowed = self._bounds(job, task, freedom, state)
            found = self._portion(task, left, number, allowed, freedom, state)
            length = left
            if found is None and task.splittable and left >= 2 * least:
                length = least
                found = self._portion(task, length, number, allowed, freedom, state)
                if found is not None:
                    found = self._stretch(task, found, left, least, allowed, freedom, state)
                    length = found.end - found.start
            if found is None:
                return False
            for n in found.people:
                if n is not None:
                    state.busy[n] = state.busy.get(n, 0) | found.mask
                    main = self.board.main[n]
                    state.budget[main] = state.budget.get(main, 0) + self.board.regular_slots(n, found.mask)
            state.portions.append(found)
            state.ends[task.id] = found.end
            left -= length
            number += 1
        return True

    def _stretch(
        self, task: Task, found: Portion, left: int, least: int, allowed: int, freedom: Freedom, state: _Job
    ) -> Portion:
        """The longest portion with the same people from the same start that leaves nothing or at least `least`."""
        common = allowed
        for n in found.people:
            if n is not None:
                common &= self._free(n, 1, freedom, state)
        longest = min(left, run_length(common, found.start))
        if not freedom.held_back:
            for main in {self.board.main[n] for n in found.people if n is not None}:
                heads = sum(1 for n in found.people if n is not None and self.board.main[n] == main)
                longest = min(
                    longest,
                    max(
                        found.end - found.start,
                        (self.board.budget[main] - state.budget.get(main, 0)) // heads,
                    ),
                )
        if 0 < left - longest < least:
            longest = left - least
        return Portion(task, found.number, found.start, found.start + longest, found.people)

    def _free(self, n: int, length: int, freedom: Freedom, state: _Job) -> int:
        board = self.board
        mask = board.there[n] if freedom.busy else board.free[n]
        if not freedom.overtime:
            mask &= board.regular[n]
        if (
            not freedom.held_back
            and board.budget[board.main[n]] - state.budget.get(board.main[n], 0) < length
        ):
            mask &= ~board.regular[n]
        return mask & ~state.busy.get(n, 0)

    def _portion(
        self, task: Task, length: int, number: int, allowed: int, freedom: Freedom, state: _Job
    ) -> Portion | None:
        """The earliest start at which every seat can be filled, and the people for it.

        By dice, a start at which somebody's free stretch is filled, or the people of whose free stretches the least is left.
        """
        starts = run_starts(allowed, length)
        if not task.needs:
            s = first_bit(starts)
            return Portion(task, number, s, s + length, ()) if s >= 0 else None
        runs_of: list[list[tuple[int, int]]] = []
        for need in task.needs:
            if not starts:
                return None
            able = [
                (n, run_starts(self._free(n, length, freedom, state) & mask & allowed, length))
                for n, mask in self.board.qualified(need)
            ]
            able = [(n, m) for n, m in able if m & starts]
            starts &= at_least([m for _, m in able], need.people)
            runs_of.append(able)
        if len(task.needs) > 1:
            starts &= enough_heads(runs_of, task.people)
        if not starts:
            return None
        flush, snug = by_chance(freedom.dice)
        for those in ([starts & self._flush(runs_of, length, state)] if flush else []) + [starts]:
            for _ in range(TRIES):
                s = first_bit(those)
                if s < 0:
                    break
                people = self.seats(
                    task.needs, runs_of, s, length, freedom, state.budget, state.busy if snug else None
                )
                if people is not None:
                    return Portion(task, number, s, s + length, people)
                those &= those - 1
        return None

    def _flush(self, runs_of: list[list[tuple[int, int]]], length: int, state: _Job) -> int:
        """Starts at which somebody able is free neither just before nor just after."""
        found = 0
        for able in runs_of:
            for n, m in able:
                free = self.board.free[n] & ~state.busy.get(n, 0)
                found |= m & ~(free << 1) & ~(free >> length)
        return found

    def _around(self, n: int, part: int, busy: dict[int, int]) -> int:
        """Free slots of a person just before and just after a stretch; from `AROUND` on more is no matter."""
        free, start, end = self.board.free[n] & ~busy.get(n, 0), first_bit(part), part.bit_length()
        before = start - (~free & span(0, start)).bit_length()
        return min(AROUND, before + run_length(free, end))

    def seats(
        self,
        needs: tuple[Need, ...],
        runs_of: list[list[tuple[int, int]]],
        s: int,
        length: int,
        freedom: Freedom,
        spent: dict[str, int],
        snug_beside: dict[int, int] | None = None,
    ) -> tuple[int | None, ...] | None:
        """A person for each seat at start `s`: main craft first, the least able first; augmenting paths (Kuhn 1955).

        Given the slots that the job's other portions take of people, first whoever has the least free around.
        """
        board, part = self.board, span(s, s + length)
        wanted = []
        for need, able in zip(needs, runs_of, strict=True):
            here = [n for n, m in able if m >> s & 1]
            if not freedom.held_back:
                left = {c: b - spent.get(c, 0) for c, b in board.budget.items()}
                here = [n for n in here if left[board.main[n]] >= board.regular_slots(n, part)]
            around = (
                {n: self._around(n, part, snug_beside) for n in here}
                if snug_beside is not None
                else dict.fromkeys(here, 0)
            )
            here.sort(
                key=lambda n: (
                    board.regular_slots(n, part) < length,
                    around[n],
                    board.main[n] != need.craft,
                    board.breadth[n],
                    n,
                )
            )
            wanted += [here] * need.people
        chosen = match(wanted)
        if chosen is None:
            return None
        if not freedom.held_back:
            use: dict[str, int] = {}
            for n in chosen:
                use[board.main[n]] = use.get(board.main[n], 0) + board.regular_slots(n, part)
            if any(spent.get(c, 0) + u > board.budget[c] for c, u in use.items()):
                return None
        return tuple(chosen)


def by_chance(dice: Dice | None) -> tuple[bool, bool]:
    """Whether a portion is to fill a free stretch, and whether it is to go to the people of whose free stretches it leaves least."""
    if dice is None:
        return False, False
    flush = dice.unit() < FLUSH
    return flush, flush or dice.unit() < SNUG


def at_least(masks: list[int], count: int) -> int:
    """Slots at which at least `count` of the masks are set, by cascaded counters."""
    levels = [0] * count
    for m in masks:
        for k in range(count - 1, 0, -1):
            levels[k] |= levels[k - 1] & m
        levels[0] |= m
    return levels[-1]


def enough_heads(runs_of: list[list[tuple[int, int]]], people: int) -> int:
    """Slots at which as many people as there are seats are able to take one or another: Hall's condition for all seats together."""
    heads: dict[int, int] = {}
    for able in runs_of:
        for n, m in able:
            heads[n] = heads.get(n, 0) | m
    return at_least(list(heads.values()), people)


def starts_with_people(board: Board, task: Task, allowed: int, length: int) -> int:
    """Slots from which a task may run for `length` slots within `allowed`, enough people being free for all of it."""
    able = [
        [(n, run_starts(board.free[n] & mask & allowed, length)) for n, mask in board.qualified(need)]
        for need in task.needs
    ]
    starts = run_starts(allowed, length)
    for need, one in zip(task.needs, able, strict=True):
        starts &= at_least([m for _, m in one], need.people)
    return starts & enough_heads(able, task.people) if len(able) > 1 else starts


def match(wanted: list[list[int]]) -> list[int] | None:
    """One distinct person for each seat, earlier candidates preferred; None if some seat must stay empty."""
    seat_of: dict[int, int] = {}

    def give(seat: int, tried: set[int]) -> bool:
        for n in wanted[seat]:
            if n not in tried:
                tried.add(n)
                if n not in seat_of or give(seat_of[n], tried):
                    seat_of[n] = seat
                    return True
        return False

    for seat in sorted(range(len(wanted)), key=lambda k: len(wanted[k])):
        if not give(seat, set()):
            return None
    chosen = {seat: n for n, seat in seat_of.items()}
    return [chosen[k] for k in range(len(wanted))]
