"""Dispatch by value per hour: jobs put on a board and taken off it, with what each is worth.

This is the plain reading of it; `kernel/` makes the very same moves, compiled, and a test compares them.
"""

from __future__ import annotations

from nundine.core.week.board.bits import run_starts, span
from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.dice import Dice
from nundine.core.week.board.fit import Fitter
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.board.worth import Worth
from nundine.core.week.problem import RUNNING, Job
from nundine.core.week.search.tables import LEVELS


def in_rank(board: Board, jobs: list[Job]) -> list[Job]:
    """The order of dispatch: must-work first, then by points an hour."""
    worth = Worth(board)
    return sorted(jobs, key=lambda j: (-j.must, -worth.per_hour(j), j.id))


class Dispatch:
    """Places the free jobs of a board. Fixed portions (the first `kept` of a job) never move."""

    def __init__(self, board: Board, jobs: list[Job], kept: dict[str, int], seed: int) -> None:
        self.board, self.kept = board, kept
        self.fitter, self.worth, self.dice = Fitter(board), Worth(board), Dice(seed)
        self.rank = in_rank(board, jobs)
        self.base = {
            j.id: self.worth.of(j, board.placed.get(j.id, [])[: kept.get(j.id, 0)])
            for j in board.problem.jobs
        }
        self.value_of = {j.id: self.worth.of(j, board.placed.get(j.id, [])) for j in board.problem.jobs}
        self.total = sum(self.value_of.values())
        """Points of all jobs less the prices of their own loose ends."""
        self.area_change = board.problem.weights.area_change
        self.best_value = self.value
        self.crafts = {j.id: self._crafts(j) for j in jobs}
        self.order = {j.id: self.worth.per_hour(j) for j in jobs}
        self.hopeless: set[str] = set()
        self.best_placed = self._placed()
        self.before: dict[str, list[Portion]] = {}

    @property
    def value(self) -> float:
        """What the plan on the board is worth: points less all prices."""
        return self.total - self.area_change * self.board.areas.changes

    def _crafts(self, job: Job) -> list[int]:
        at = {c.id: n for n, c in enumerate(self.board.problem.crafts)}
        return sorted({at[n.craft] for t in job.tasks for n in t.needs})

    def _free_portions(self, job_id: str) -> list[Portion]:
        return self.board.placed.get(job_id, [])[self.kept.get(job_id, 0) :]

    def _placed(self) -> dict[str, list[Portion]]:
        return {j.id: found for j in self.rank if (found := self._free_portions(j.id))}

    @property
    def placed(self) -> int:
        """Jobs of the search that stand on the board."""
        return sum(self.movable(j.id) for j in self.rank)

    def movable(self, job_id: str) -> bool:
        return len(self.board.placed.get(job_id, ())) > self.kept.get(job_id, 0)

    def best(self) -> dict[str, list[Portion]]:
        """Portions of the jobs that may move, as they stood at the best value."""
        return self.best_placed

    def restore_best(self) -> None:
        """Bring the board back to the best."""
        for job in self.rank:
            if self.movable(job.id):
                self._take(job)
        for job in self.rank:
            if job.id in self.best_placed:
                self._put(job, self.best_placed[job.id])
        self.total = self.best_value + self.area_change * self.board.areas.changes

    def _keep_best(self) -> None:
        self.best_value, self.best_placed = self.value, self._placed()

    def _put(self, job: Job, portions: list[Portion]) -> None:
        self.board.add(job, portions)
        value = self.worth.of(job, self.board.placed[job.id])
        self.total += value - self.value_of[job.id]
        self.value_of[job.id] = value

    def _take(self, job: Job) -> list[Portion]:
        taken = self.board.remove(job, self.kept.get(job.id, 0))
        self.total += self.base[job.id] - self.value_of[job.id]
        self.value_of[job.id] = self.base[job.id]
        return taken

    def put_if_better(
        self,
        jobs: list[Job],
        found: dict[str, list[Portion]],
        taken: dict[str, list[Portion]],
        than: float,
    ) -> bool:
        """Put jobs that are off the board as they were found, where that breaks no rule and is worth more;
        else as they were taken."""
        sound, put = True, []
        for job in jobs:
            if sound and found.get(job.id):
                sound = self._still_fits(job, found[job.id])
                if sound:
                    self._put(job, found[job.id])
                    put.append(job)
        if sound and self.value > than + 1e-6:
            if self.value > self.best_value + 1e-6:
                self._keep_best()
            return True
        for job in put:
            self._take(job)
        for job in jobs:
            if taken.get(job.id):
                self._put(job, taken[job.id])
        return False

    def _note(self, job: Job) -> None:
        """Remember how the job stood before this step, so that the step can be undone."""
        self.before.setdefault(job.id, self._free_portions(job.id))

    def try_place(self, job: Job, not_before: int = 0, dice: Dice | None = None) -> bool:
        """Place the job if that is worth more than without; regular hours before overtime."""
        self._note(job)
        have = list(self.board.placed.get(job.id, []))
        for overtime in (False, True):
            if overtime and not self._overtime_may_help(job):
                return False
            found = self.fitter.fit(
                job,
                Freedom(overtime=overtime, not_before=not_before, dice=dice),
                have,
                job.divisible or bool(have),
            )
            if not found:
                continue
            changes = self.board.areas.changes
            self._put(job, found)
            more = self.board.areas.changes - changes
            if self.value_of[job.id] - self.area_change * more > self.base[job.id]:
                return True
            self._take(job)
        return False

    def _overtime_may_help(self, job: Job) -> bool:
        """Whether anybody able has free overtime, with the hours beside it, for a portion of one of the job's
        tasks."""
        board, grid = self.board, self.fitter.grid
        have = board.placed.get(job.id, [])
        for task in job.tasks:
            length = grid.slots_for(task.hours)
            least = min(length, grid.slots_for(task.min_portion)) if task.splittable else length
            least = min(least, length - sum(p.end - p.start for p in have if p.task.id == task.id))
            for n in {n for need in task.needs for n, _ in board.qualified(need)}:
                if board.free[n] & ~board.regular[n] and (
                    least < 1 or run_starts(board.free[n], 1 << min(LEVELS, least.bit_length()) - 1)
                ):
                    return True
        return False

    def finish(self) -> None:
        """Go back to the best, and put in what still fits."""
        self.restore_best()
        for job in self.rank:
            if not self.movable(job.id) and job.id not in self.hopeless:
                self.try_place(job)
        self._keep_best()

    def dispatch(self) -> None:
        """Each job in the order of rank at its earliest place; jobs that fit into no empty week are not tried
        again."""
        for job in self.rank:
            if not self.movable(job.id):
                self.try_place(job)
        empty = Fitter(Board(self.board.problem.with_placements(), self.board.days))
        alone = Freedom(held_back=True, loose=True)
        self.hopeless = {
            j.id for j in self.rank if not self.movable(j.id) and not empty.fit(j, alone, None, j.divisible)
        }
        self._keep_best()

    def place_previous(self, previous: dict[str, list[Portion]]) -> None:
        """Take over what still fits of the draft before."""
        for job in self.rank:
            portions = previous.get(job.id)
            if portions and not self.movable(job.id) and self._still_fits(job, portions):
                self._put(job, portions)

    def _still_fits(self, job: Job, portions: list[Portion]) -> bool:
        """Whether exactly these portions break no rule, by asking the fitter for each at its own slots."""
        board, need = self.board, {t.id: self.fitter.grid.slots_for(t.hours) for t in job.tasks}
        if self.kept.get(job.id) or any(n is None for p in portions for n in p.people):
            return False
        have: dict[str, int] = {}
        ends: dict[str, int] = {}
        spent: dict[str, int] = {}
        others = board.others_on_asset(job)
        touching = [p for p in portions if p.task.asset_state != "any"]
        if touching and span(min(p.start for p in touching), max(p.end for p in touching)) & others:
            return False
        if not self._in_service(job, portions):
            return False
        area = board.problem.area_of(job)
        in_order = sorted(portions, key=lambda p: p.start)
        for k, p in enumerate(in_order):
            m, task = p.mask, p.task
            first = max(
                [ends[a.task] + self.fitter.grid.slots_for(a.lag) for a in task.after if a.task in ends],
                default=0,
            )
            if p.start < max(first, ends.get(task.id, 0)) or any(a.task not in ends for a in task.after):
                return False
            if job.earliest is not None and p.start < self.fitter.grid.ceil(job.earliest):
                return False
            if job.latest is not None and p.end > self.fitter.grid.floor(job.latest):
                return False
            there = board.asset_mask(job, task) & board.tool_free(task, in_order[:k])
            if m & ~there or len(set(p.people)) != len(task.seat_needs):
                return False
            for n, seat in zip(p.people, task.seat_needs, strict=True):
                able = dict(board.qualified(seat))
                if n not in able or m & ~(board.open_for(n, area) & able[n]):
                    return False
                spent[board.main[n]] = spent.get(board.main[n], 0) + board.regular_slots(n, m)
            have[task.id] = have.get(task.id, 0) + p.end - p.start
            ends[task.id] = p.end
        complete = all(n == need[t] for t, n in have.items()) if job.divisible else have == need
        return complete and all(u <= board.budget[c] for c, u in spent.items())

    def _in_service(self, job: Job, portions: list[Portion]) -> bool:
        """Whether the job's asset is in one stretch while these portions keep it out of service, and none of
        them runs one that is out."""
        service = self.board.service
        have = self.board.placed.get(job.id, [])
        stretches = service.stretches(job, have)
        held = service.span_of(job, portions)
        if (
            stretches is not None
            and held is not None
            and not any(a <= held[0] and held[1] <= b for a, b in stretches)
        ):
            return False
        out = service.out_of_others(job)
        return not out or not any(p.mask & out for p in portions if p.task.asset_state == RUNNING)

    def _still_free(self, job: Job) -> bool:
        """Whether the job would fit back exactly as it was before the step."""
        board, portions = self.board, self.before[job.id]
        spent: dict[str, int] = {}
        area = board.problem.area_of(job)
        for k, p in enumerate(portions):
            m = p.mask
            if m & ~board.tool_free(p.task, portions[:k]) or any(
                m & ~board.open_for(n, area) for n in p.people if n is not None
            ):
                return False
            for n in p.people:
                if n is not None:
                    spent[board.main[n]] = spent.get(board.main[n], 0) + board.regular_slots(n, m)
        if any(s > 0 and s > board.budget[c] for c, s in spent.items()):
            return False
        if job.asset in board.service.shared and not self._in_service(job, portions):
            return False
        touching = [p for p in board.placed.get(job.id, []) + portions if p.task.asset_state != "any"]
        if not touching or job.asset not in board.spans:
            return True
        return not span(min(p.start for p in touching), max(p.end for p in touching)) & board.others_on_asset(
            job
        )
