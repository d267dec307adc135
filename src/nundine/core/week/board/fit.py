"""Finding a place for a job on the board: earliest start, best people, rule by rule."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from nundine.core.week.board.beginnings import Beginnings
from nundine.core.week.board.bits import first_bit, run_length, run_starts, runs, span, union
from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.dice import Dice
from nundine.core.week.board.freedom import Freedom, JobState, Window
from nundine.core.week.board.frequencies import (
    FLUSH,
    MOST_LATER,
    SNUG,
    STARTS,
    STARTS_OF_STRETCH,
    TRIES,
)
from nundine.core.week.board.heads import at_least, enough_heads
from nundine.core.week.board.loose_ends import handed_over, longest_lag, waiting
from nundine.core.week.board.seating import Seating, Wish
from nundine.core.week.board.worth import Worth
from nundine.core.week.problem import Job, Task


class Fitter:
    """Searches places on one board."""

    def __init__(self, board: Board) -> None:
        self.board = board
        self.grid = board.problem.grid
        self.weights = board.problem.weights
        self.worth = Worth(board)
        self.seating, self.beginnings = Seating(board), Beginnings(self)
        self._later: dict[tuple[str, str], dict[int, int]] = {}
        self._more_changes = 0

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
        if self.weights.has_prices and not freedom.loose:
            return self._tidiest(job, freedom, have, partly)
        for window in self.windows(job, freedom, have):
            found = self._tasks(job, freedom, have, window, partly)
            if found:
                return found
        return None

    def windows(self, job: Job, freedom: Freedom, have: list[Portion]) -> Iterator[Window]:
        """Where the job's tasks may be on its asset: between other jobs, in one stretch while it is out of
        service."""
        board, parts = self.board, [(0, self.board.slots)]
        if (
            job.asset in board.spans
            and not freedom.other_jobs
            and any(t.asset_state != "any" for t in job.tasks)
        ):
            touching = [p for p in have if p.task.asset_state != "any"]
            first, last = (
                min((p.start for p in touching), default=None),
                max((p.end for p in touching), default=0),
            )
            parts = [
                (a, b)
                for a, b in runs(board.everything & ~board.others_on_asset(job))
                if first is None or (a <= first and last <= b)
            ]
        whole = freedom.in_pieces or freedom.windows
        stretches = None if whole else board.service.stretches(job, have, not freedom.other_jobs)
        for a, b in parts:
            if stretches is None:
                yield Window(span(a, b))
            else:
                yield from (
                    Window(span(a, b), span(max(a, c), min(b, d)))
                    for c, d in stretches
                    if max(a, c) < min(b, d)
                )

    def _tidiest(self, job: Job, freedom: Freedom, have: list[Portion], partly: bool) -> list[Portion] | None:
        """The best of some places by points less prices; the first without loose ends is good enough."""
        best, most, tries = None, 0.0, 0
        stays = self.worth.of(job, have) if have else 0.0
        for window in self.windows(job, freedom, have):
            its, before = 0, -1
            for start in self.beginnings.of(job, freedom, have, window):
                if tries == STARTS or its == (STARTS if window.stopped == -1 else STARTS_OF_STRETCH):
                    break
                if start == before:
                    continue
                tries, its = tries + 1, its + 1
                changes = self.board.areas.changes
                found = self._tasks(job, replace(freedom, not_before=start), have, window, partly, changes)
                if not found:
                    continue
                before = found[0].start
                net = self.worth.of(job, have + found) - self.weights.area_change * self._more_changes
                clean = self._more_changes <= 0 and self.worth.ends.of(job, have + found) <= 0
                if clean and net > stays:
                    return found
                if best is None or net > most + 1e-9:
                    best, most = found, net
        return best

    def state(self, job: Job, have: list[Portion], window: Window, freedom: Freedom) -> JobState:
        """The job before any of its tasks is put down, beside what it has."""
        state = JobState(window=window, have=have)
        for p in have:
            state.ends[p.task.id] = max(state.ends.get(p.task.id, 0), p.end)
            state.starts[p.task.id] = min(state.starts.get(p.task.id, p.start), p.start)
        state.tidy = self.weights.has_prices and not freedom.loose
        state.chain = state.tidy and (
            bool(have) or len(job.tasks) > 1 or any(t.splittable for t in job.tasks)
        )
        return state

    def _tasks(
        self,
        job: Job,
        freedom: Freedom,
        have: list[Portion],
        window: Window,
        partly: bool,
        changes: int = 0,
    ) -> list[Portion] | None:
        """Portions for all tasks, one after another; notes how many more changes of area they make."""
        state = self.state(job, have, window, freedom)
        try:
            return self._one_after_another(job, freedom, have, partly, state)
        finally:
            self._more_changes = self.board.areas.changes - changes
            self._lift(job, state.portions)

    def _one_after_another(
        self, job: Job, freedom: Freedom, have: list[Portion], partly: bool, state: JobState
    ) -> list[Portion] | None:
        done: dict[str, int] = {}
        for p in have:
            done[p.task.id] = done.get(p.task.id, 0) + p.end - p.start
        for task in job.ordered_tasks:
            left = self.grid.slots_for(task.hours) - done.get(task.id, 0)
            if left <= 0:
                continue
            number = 1 + max((p.number for p in have if p.task.id == task.id), default=0)
            if task.id in done and not task.splittable:
                continue
            before = state.copy() if partly and task.splittable else None
            if any(a.task not in state.ends for a in task.after) or not self._task(
                job, task, left, number, freedom, state
            ):
                if not partly:
                    return None
                if before is not None:
                    self._lift(job, state.portions[len(before.portions) :])
                    for name in ("ends", "portions", "busy", "budget"):
                        setattr(state, name, getattr(before, name))
        return state.portions or None

    def _seat(self, job: Job, portion: Portion) -> None:
        """The people of a portion that is not on the board yet are where the job is."""
        area = self.board.problem.area_of(job)
        for n in portion.people:
            if n is not None:
                self.board.areas.begin(n, area, portion.start, portion.end)

    def _lift(self, job: Job, portions: list[Portion]) -> None:
        area = self.board.problem.area_of(job)
        for portion in reversed(portions):
            for n in portion.people:
                if n is not None:
                    self.board.areas.end(n, area, portion.start, portion.end)

    def bounds(self, job: Job, task: Task, freedom: Freedom, state: JobState) -> int:
        """Slots that the task may use at all, people aside."""
        board = self.board
        mask = board.everything if freedom.windows else board.asset_mask(job, task)
        if task.asset_state != "any":
            mask &= state.window.asset
        if task.asset_state == "stopped":
            mask &= state.window.stopped
        elif task.asset_state == "running" and not freedom.other_jobs:
            mask &= ~board.service.out_of_others(job)
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

    def _task(self, job: Job, task: Task, left: int, number: int, freedom: Freedom, state: JobState) -> bool:
        least = (
            min(self.grid.slots_for(task.hours), self.grid.slots_for(task.min_portion))
            if task.splittable
            else left
        )
        if left < least:
            return False
        while left > 0:
            allowed = self.bounds(job, task, freedom, state)
            found = self._portion(job, task, left, number, allowed, freedom, state)
            length = left
            if found is None and task.splittable and left >= 2 * least:
                length = least
                found = self._portion(job, task, length, number, allowed, freedom, state)
                if found is not None:
                    found = self._stretch(job, task, found, left, least, allowed, freedom, state)
                    length = found.end - found.start
            if found is None:
                return False
            for n in found.people:
                if n is not None:
                    state.busy[n] = state.busy.get(n, 0) | found.mask
                    main = self.board.main[n]
                    state.budget[main] = state.budget.get(main, 0) + self.board.regular_slots(n, found.mask)
            state.portions.append(found)
            self._seat(job, found)
            state.ends[task.id] = found.end
            left -= length
            number += 1
        return True

    def _stretch(
        self,
        job: Job,
        task: Task,
        found: Portion,
        left: int,
        least: int,
        allowed: int,
        freedom: Freedom,
        state: JobState,
    ) -> Portion:
        """The longest portion with the same people from the same start that leaves nothing or at least
        `least`."""
        common = allowed
        for n in found.people:
            if n is not None:
                common &= self._free(n, 1, freedom, state, self.board.problem.area_of(job))
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

    def _free(self, n: int, length: int, freedom: Freedom, state: JobState, area: str | None) -> int:
        board = self.board
        if freedom.busy:
            mask = board.there[n]
        elif freedom.travel:
            mask = board.free[n]
        else:
            mask = board.open_for(n, area)
        if not freedom.overtime:
            mask &= board.regular[n]
        if (
            not freedom.held_back
            and board.budget[board.main[n]] - state.budget.get(board.main[n], 0) < length
        ):
            mask &= ~board.regular[n]
        return mask & ~state.busy.get(n, 0)

    def starts(
        self, job: Job, task: Task, length: int, allowed: int, freedom: Freedom, state: JobState
    ) -> tuple[int, list[list[tuple[int, int]]]]:
        """Slots from which the task may run so long with enough people, and for each need who is able from
        where."""
        starts, area = run_starts(allowed, length), self.board.problem.area_of(job)
        runs_of: list[list[tuple[int, int]]] = []
        for need in task.needs:
            if not starts:
                return 0, []
            able = [
                (n, run_starts(self._free(n, length, freedom, state, area) & mask & allowed, length))
                for n, mask in self.board.qualified(need)
            ]
            able = [(n, m) for n, m in able if m & starts]
            starts &= at_least([m for _, m in able], need.people)
            runs_of.append(able)
        if len(task.needs) > 1:
            starts &= enough_heads(runs_of, task.people)
        return starts, runs_of

    def _portion(
        self, job: Job, task: Task, length: int, number: int, allowed: int, freedom: Freedom, state: JobState
    ) -> Portion | None:
        """The earliest start at which every seat can be filled, and the people for it.

        By dice, a start at which somebody's free stretch is filled, or the people of whose free stretches the
        least is left. Where handing over costs more than waiting for them, the earliest at which one of those
        before goes on.
        """
        starts, runs_of = self.starts(job, task, length, allowed, freedom, state)
        if not task.needs:
            s = first_bit(starts)
            return Portion(task, number, s, s + length, ()) if s >= 0 else None
        if not starts:
            return None
        flush, snug = by_chance(freedom.dice, state.chain)
        wish = self._wish(job, task, state) if state.tidy else None
        busy = state.busy if snug else None

        def earliest(those: int) -> Portion | None:
            for _ in range(TRIES):
                s = first_bit(those)
                if s < 0:
                    return None
                people = self.seating.seats(task.needs, runs_of, s, length, freedom, state.budget, busy, wish)
                if people is not None:
                    return Portion(task, number, s, s + length, people)
                those &= those - 1
            return None

        found = earliest(starts & self._flush(runs_of, length, state)) if flush else None
        found = found or earliest(starts)
        last = state.last
        if found is None or wish is None or not wish.before or last is None or not handed_over(last, found):
            return found
        those = starts & union(m for able in runs_of for n, m in able if n in wish.before)
        those &= ~span(0, found.start + 1)
        same = earliest(those)
        if same is None or handed_over(last, same):
            return found
        return same if self._gap(same, state) <= self._gap(found, state) + self.weights.handover else found

    def _gap(self, portion: Portion, state: JobState) -> float:
        """Points for the hours from the end of all that stands of the job to a portion."""
        end = max(p.end for p in [*state.have, *state.portions])
        if portion.start <= end:
            return 0.0
        hours = (portion.start - end) * self.board.problem.slot_minutes / 60
        return waiting(self.weights, hours, longest_lag(portion))

    def _wish(self, job: Job, task: Task, state: JobState) -> Wish:
        """Who should rather take the seats of a task."""
        last, before = state.last, frozenset[int]()
        if last is not None and any(n.craft == m.craft for n in last.task.needs for m in task.needs):
            before = frozenset(n for n in last.people if n is not None)
        return Wish(before, self.board.problem.area_of(job), self._able_later(job, task))

    def _able_later(self, job: Job, task: Task) -> dict[int, int]:
        """How many of the job's tasks to come each person could work on."""
        key = (job.id, task.id)
        if key not in self._later:
            count: dict[int, int] = {}
            order = job.ordered_tasks
            for later in order[order.index(task) + 1 :]:
                for n in {n for need in later.needs for n, _ in self.board.qualified(need)}:
                    count[n] = min(MOST_LATER, count.get(n, 0) + 1)
            self._later[key] = count
        return self._later[key]

    def _flush(self, runs_of: list[list[tuple[int, int]]], length: int, state: JobState) -> int:
        """Starts at which somebody able is free neither just before nor just after."""
        found = 0
        for able in runs_of:
            for n, m in able:
                free = self.board.free[n] & ~state.busy.get(n, 0)
                found |= m & ~(free << 1) & ~(free >> length)
        return found


def by_chance(dice: Dice | None, chain: bool = False) -> tuple[bool, bool]:
    """Whether a portion is to fill a free stretch, and whether it is to go to the people of whose free
    stretches it leaves least.

    One of a chain goes where the others are.
    """
    if dice is None:
        return False, False
    flush = not chain and dice.unit() < FLUSH
    return flush, flush or dice.unit() < SNUG
