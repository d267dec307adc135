"""A board and its jobs as plain arrays for the compiled search, and back.

Columns of each table have names (`J_...` of jobs, `T_...` of tasks, `S_...` and `V_...` of single figures);
lists of any length lie one after another in `L`, and tables hold where they begin and how long they are.
Times are slots, sets of slots rows of 64-bit words.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, NamedTuple

import numpy as np

from nundine.core.week.board.bits import first_bit
from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.worth import Worth
from nundine.core.week.problem import Job, Need, Task
from nundine.core.week.search.place_tables import Places

(J_TASKS, J_NTASKS, J_EARLIEST, J_LATEST, J_ASSET, J_PARTLY, J_DUE, J_BLOCK, J_CRAFTS, J_NCRAFTS, J_MUST,
 J_TOUCHES, J_FIXED, J_FIXED_LAST,
 J_HOPELESS, J_FIRST, J_LAST, J_NOW, J_SAVED, J_BEST, J_TOUCHED, J_DIRTY, J_MARKS, J_START, J_PEOPLE, J_AREA,
 J_CHAIN, J_KEPT, J_NKEPT, J_STAYS_OUT,
 J_WINDOWED, J_STRETCHES, J_NSTRETCHES, J_SINCE, J_SHARED, J_OUT_FIRST, J_OUT_LAST,
 J_LIFTED) = range(38)  # fmt: skip
"""J_MARKS: a bit for each craft, J_PEOPLE: one for each of those on the job (of more than MARKS, some
share one). J_START: where its first portion starts. J_KEPT: its fixed portions among X. J_WINDOWED: its
stopped portions lie in one of the stretches listed. J_SHARED: its asset, if keeping it out of service and
running it may get in one another's way; J_OUT_FIRST, J_OUT_LAST: when the job keeps it out; J_LIFTED: it
stands aside for a moment."""
MARKS = 63
F_RATE, F_ORDER, F_BASE, F_FIXED, F_VALUE, F_KEY, F_LOOSE = range(7)
"""F_LOOSE: what the job's own loose ends cost."""
Z_RANK, Z_WAITING, Z_POOL, Z_AGAIN, Z_UNDO, Z_DIRTY = range(6)
(T_JOB, T_LENGTH, T_LEAST, T_SPLIT, T_STATE, T_TOUCHES, T_NEEDS, T_NNEEDS, T_TOOLS, T_NTOOLS, T_AFTER,
 T_NAFTER, T_PEOPLE, T_HAVE_END, T_HAVE_SLOTS,
 T_HAVE_START, T_HAVE_N, T_ENDS, T_OFFSET) = range(19)  # fmt: skip
IS_STOPPED, IS_RUNNING = 1, 2
"""Values of T_TOUCHES: whether the task needs the asset stopped or running; 0: neither."""
N_LIST, N_SIZE, N_CRAFT = range(3)
P_CRAFT, P_SEAT, P_TRIED, P_AROUND, P_SHIFTS, P_NSHIFTS, P_SEATS, P_LEVELS = range(8)
"""P_LEVELS and the two after it: how many of a person's rows of starts have any (-1: not known), in
regular hours, all hours, overtime alone."""
LEVELS, MANY_LEVELS = 6, 60
"""Rows of starts of a person and a kind of hours: slots from which 1, 2, 4 ... 32 are free."""
C_BUDGET, C_SPENT = range(2)
Q_CHOSEN, Q_NWANT, Q_STACK, Q_AT, Q_PICK, Q_HELD, Q_WANT = range(7)
(
    S_SLOTS,
    S_WEEK_END,
    S_TOUCHED,
    S_DIRTY,
    S_MOVABLE,
    S_WIDTH,
    S_THERE,
    S_REGULAR,
    S_FREE,
    S_TOOL_FREE,
    S_ROWS,
    S_ABLE,
    S_STARTS,
    S_BUSY,
    S_BEGUN,
    S_SHUT,
    S_EXACT,
    S_AWAY,
    S_TOGETHER,
    S_CHANCE,
    S_AREAS,
    S_FOLLOWS,
    S_TIDY,
    S_CHANGES,
    S_LAST,
    S_SAME_CRAFT,
    S_TRIES,
    S_FOUND,
    S_ZERO,
) = range(29)
"""S_BUSY to S_AWAY: rows for each person and area. S_FOLLOWS: whether it matters in which area people are.
S_LAST: the portion put down last. S_ZERO: nothing, as a number of the type that others have."""
(V_VALUE, V_BEST, V_HOURS, V_LATE, V_OVERTIME, V_MUST_JOB, V_PER_DAY, V_WAITING, V_CAP, V_HANDOVER, V_CHANGE,
 V_AWAY, V_MOST) = range(13)  # fmt: skip
G_SHUT, G_SEATS = range(2)
"""Of each person and area: whether anything is shut for the way (-1: not known), seats there."""
NEVER = 1 << 40
KINDS = {"any": 0, "stopped": IS_STOPPED, "running": IS_RUNNING}


class Tables(NamedTuple):
    """Everything that the compiled search reads and writes, in few arrays so that it compiles fast."""

    J: Any  # int64 (38, jobs): a row for each figure, for most loops look at one or two figures of every job
    F: Any  # float64 (7, jobs): points an hour, value an hour for the order, values now and of the fixed part
    Z: Any  # int64 (6, jobs): lists of jobs
    T: Any  # int64 (tasks, 19)
    TH: Any  # float64 (2, tasks): hours, longest lag in hours
    N: Any  # int64 (needs, 3)
    A: Any  # int64 (assets, 2): jobs of assets that take one at a time
    P: Any  # int64 (people, 10)
    C: Any  # int64 (crafts, 2)
    U: Any  # int64 (tools, 1 + slots): how many there are, how many are in use
    # int64 (portions, 4 x width): task, start, end, people: now, before the step, at the best value, best of
    # some tries; a block for each job
    X: Any
    Q: Any  # int64 (seats, 6 + people): filling of seats
    B: Any  # int64 (rows, 3): who is able, how many for each need, the row before of the same person
    L: Any  # int64: lists
    W: Any  # uint64 (rows, words): sets of slots
    S: Any  # int64: single figures
    V: Any  # float64: single figures
    G: Any  # int64 (people x areas, 2)
    D: Any  # int64 (areas, areas): slots of the way
    # int64 (assets, 2): jobs of assets that are shared between those who keep them out and those who run them
    H: Any
    E: Any  # int8 (tasks, people): how many tasks to come a person could do
    dice: Any  # uint64 (1,)


def words_of(masks: Iterable[int], words: int) -> Any:
    """Rows of words of the masks."""
    joined = b"".join((m & ((1 << (64 * words)) - 1)).to_bytes(8 * words, "little") for m in masks)
    return np.frombuffer(joined, dtype=np.uint64).reshape(-1, words).copy()


class _Lists:
    def __init__(self) -> None:
        self.all: list[int] = []

    def add(self, values: Iterable[int]) -> int:
        at = len(self.all)
        self.all.extend(values)
        return at


class Layer:
    """Tables of one board. `movable` are jobs of the search in the order of dispatch; `kept` fixed
    portions of each job."""

    def __init__(
        self, board: Board, movable: list[Job], kept: dict[str, int], seed: int, blank: bool = False
    ) -> None:
        self.board, self.kept = board, kept
        first = {j.id for j in movable}
        self.jobs = [*movable, *(j for j in board.problem.jobs if j.id not in first)]
        self.index = {j.id: n for n, j in enumerate(self.jobs)}
        self.tasks: list[Task] = [t for j in self.jobs for t in j.ordered_tasks]
        self.worth = Worth(board)
        self.k = self._tables(movable, seed, blank)

    def _tables(self, movable: list[Job], seed: int, blank: bool) -> Tables:
        board, problem, grid = self.board, self.board.problem, self.board.problem.grid
        words = (board.slots + 63) // 64
        lists = _Lists()
        masks: list[int] = []
        crafts = {c.id: n for n, c in enumerate(problem.crafts)}
        tools = {t.id: n for n, t in enumerate(problem.tools)}
        needs: dict[Need, int] = {}
        need_rows: list[tuple[int, int, int]] = []
        state_rows: dict[tuple[str, str], int] = {}

        def mask_row(mask: int) -> int:
            masks.append(mask)
            return len(masks) - 1

        def need_row(need: Need) -> int:
            one = Need(need.craft, need.level, 1, need.certificate)
            if one not in needs:
                needs[one] = len(need_rows)
                able = sorted(
                    board.qualified(one),
                    key=lambda a: (board.main[a[0]] != one.craft, board.breadth[a[0]], a[0]),
                )
                pairs = [(n, mask_row(m) if m != board.everything else -1) for n, m in able]
                need_rows.append(
                    (lists.add(v for pair in pairs for v in pair), len(pairs), crafts[one.craft])
                )
            return needs[one]

        places = Places(board, problem, self.jobs, self.index, blank)
        exclusive = {a.id: n for n, a in enumerate(a for a in problem.assets if a.one_job_at_a_time)}
        on_asset: dict[int, list[int]] = {n: [] for n in exclusive.values()}
        jobs: list[list[int]] = []
        tasks: list[list[int]] = []
        worths: list[list[float]] = []
        hours: list[float] = []
        lags: list[float] = []
        kept_rows: list[tuple[int, Portion]] = []
        fixed_cost, fixed_last, base = [], [], []
        blocks = 0
        widest = 1
        for n, job in enumerate(self.jobs):
            have = [] if blank else board.placed.get(job.id, [])[: self.kept.get(job.id, 0)]
            first_task, number = len(tasks), {}
            capacity = 0
            for task in job.ordered_tasks:
                number[task.id] = len(tasks)
                its = [p for p in have if p.task.id == task.id]
                length = grid.slots_for(task.hours)
                least = min(length, grid.slots_for(task.min_portion)) if task.splittable else length
                capacity += max(1, length // max(1, least)) + 1 if task.splittable else 1
                state = -1
                if job.asset is not None and task.asset_state != "any":
                    state = state_rows.setdefault((job.asset, task.asset_state), len(masks))
                    if state == len(masks):
                        mask_row(board.asset_mask(job, task))
                widest = max(widest, task.people)
                pairs = [v for need in task.needs for v in (need_row(need), need.people)]
                afters = [v for a in task.after for v in (number[a.task], grid.slots_for(a.lag))]
                tasks.append([
                    n, length, least, int(task.splittable), state, KINDS[task.asset_state], lists.add(pairs),
                    len(task.needs),
                    lists.add(tools[x] for x in task.tools), len(task.tools), lists.add(afters),
                    len(task.after), task.people,
                    max((p.end for p in its), default=-1), sum(p.end - p.start for p in its),
                    min((p.start for p in its), default=-1), max((p.number for p in its), default=0), -1, 0,
                ])  # fmt: skip
                hours.append(task.hours)
                lags.append(max((a.lag for a in task.after), default=0.0))
            own = sorted({crafts[d.craft] for t in job.tasks for d in t.needs})
            asset = exclusive.get(job.asset or "", -1)
            touches = any(t.asset_state != "any" for t in job.tasks)
            touching = [p for p in have if p.task.asset_state != "any"]
            first_fixed = min((p.start for p in touching), default=-1) if asset >= 0 else -1
            fixed_last.append(max((p.end for p in touching), default=-1) if asset >= 0 else -1)
            if asset >= 0 and touches:
                on_asset[asset].append(n)
            due = max(grid.ceil(job.due), 0) if job.due is not None else NEVER
            earliest = max(0, grid.ceil(job.earliest)) if job.earliest is not None else 0
            latest = grid.floor(job.latest) if job.latest is not None else board.slots
            jobs.append([
                first_task, len(job.tasks), earliest, latest, asset, int(job.divisible or bool(have)), due,
                blocks, lists.add(own), len(own),
                int(job.must), int(touches), first_fixed, *[0] * 9,
                sum(1 << c for c in {c % MARKS for c in own}), 0, 0,
                places.area[job.id], places.chain(job, have), len(kept_rows), len(have),
                *places.stretches(job, have, lists), -1, -1, 0,
            ])  # fmt: skip
            kept_rows += [(number[p.task.id], p) for p in have]
            worths.append([self.worth.rate(job), self.worth.per_hour(job)])
            fixed_cost.append(problem.weights.overtime_per_hour * self.worth.overtime_hours(have))
            base.append(self.worth.of(job, have))
            blocks += capacity
        people, seats, count = len(problem.people), widest, len(self.jobs)
        w = problem.weights
        single = [
            sum(base),
            sum(base),
            problem.slot_minutes / 60,
            w.late_share_per_day,
            w.overtime_per_hour,
            w.must_per_job,
            24 * 60 / problem.slot_minutes,
            w.waiting_per_hour,
            w.waiting_cap_hours,
            w.handover,
            w.area_change,
            w.away_per_hour,
            0.0,
        ]
        budget = [[NEVER if blank else board.budget.get(c.id, 0), 0] for c in problem.crafts] or [[0, 0]]
        in_use = np.zeros((max(1, len(tools)), 1 + board.slots), dtype=np.int64)
        in_use[: len(tools), 0] = [t.count for t in problem.tools]
        for p in [p for portions in board.placed.values() for p in portions] if not blank else []:
            for x in p.task.tools:
                in_use[tools[x], 1 + p.start : 1 + p.end] += 1
        tool_free = [sum(1 << s for s in range(board.slots) if row[1 + s] < row[0]) for row in in_use]
        longest = max((sum(len(board.qualified(d)) for d in t.needs) for t in self.tasks), default=0) + 1
        groups = max((len(t.needs) for t in self.tasks), default=0) + 1
        at, row_sets = len(masks), [masks]
        rows_at = []
        free, starts = board.there if blank else board.free, [0] * (3 * LEVELS * people)
        for rows in (
            board.there, board.regular, free, tool_free, [0] * (5 + widest), [0] * longest, starts,
            *places.rows(), [0],
        ):  # fmt: skip
            rows_at.append(at)
            at += len(rows)
            row_sets.append(rows)
        for row, f, last in zip(jobs, worths, fixed_last, strict=True):
            row[J_FIXED_LAST] = row[J_LAST] = last
            row[J_FIRST] = row[J_FIXED]
            f += [0.0] * 5
        floats = np.array(worths, dtype=np.float64).reshape(count, 7).T.copy()
        floats[F_BASE], floats[F_FIXED], floats[F_VALUE] = base, fixed_cost, base
        assets = [(lists.add(on_asset[n]), len(on_asset[n])) for n in range(len(exclusive))]
        shared = [(lists.add(its), len(its)) for its in places.on_shared]
        shifts = places.shifts(lists)
        z = np.zeros((6, count + 1), dtype=np.int64)
        z[Z_RANK, : len(movable)] = [self.index[j.id] for j in movable]

        def table(rows: list[Any], columns: int) -> Any:
            return np.array(rows, dtype=np.int64).reshape(len(rows), columns)

        def empty(*shape: int) -> Any:
            return np.zeros(shape, dtype=np.int64)

        x = empty(blocks + len(kept_rows) + 1, 4 * (3 + seats))
        for at_row, (number_of_task, p) in enumerate(kept_rows, blocks):
            people_on = [-1 if n is None else n for n in p.people]
            x[at_row, : 3 + len(people_on)] = (number_of_task, p.start, p.end, *people_on)
        for row in jobs:
            row[J_KEPT] += blocks
        return Tables(
            table(jobs, 38).T.copy(), floats, z, table(tasks, 19), np.array([hours, lags], dtype=np.float64),
            table(need_rows, 3), table(assets, 2),
            table([[crafts[c], 0, 0, 0, *shifts[n], places.seats(n), -1, -1, -1]
                   for n, c in enumerate(board.main)], 10), table(budget, 2), in_use, x,
            empty(seats + 1, 6 + max(1, people)), empty(max(longest, groups), 3),
            np.array(lists.all or [0], dtype=np.int64),
            words_of([m for rows in row_sets for m in rows], words),
            np.array([board.slots, board.week_end, 0, 0, len(movable), 3 + seats, *rows_at, 0,
            *places.figures(), -1, 0, 0, 0, 0], dtype=np.int64),
            np.array(single, dtype=np.float64), *places.tables(table(shared, 2), self.tasks),
            np.array([seed], dtype=np.uint64),
        )  # fmt: skip

    def best(self) -> dict[str, list[Portion]]:
        """Portions of the jobs that may move, as they stood at the best value."""
        k = self.k
        found: dict[str, list[Portion]] = {}
        width = 2 * int(k.S[S_WIDTH])
        for n in k.Z[Z_RANK, : k.S[S_MOVABLE]]:
            block = int(k.J[J_BLOCK, n])
            number: dict[int, int] = {}
            for x in range(block, block + int(k.J[J_BEST, n])):
                t, start, end = (int(v) for v in k.X[x, width : width + 3])
                number[t] = number.get(t, int(k.T[t, T_HAVE_N])) + 1
                people = tuple(int(v) for v in k.X[x, width + 3 : width + 3 + k.T[t, T_PEOPLE]])
                found.setdefault(self.jobs[n].id, []).append(
                    Portion(self.tasks[t], number[t], start, end, people)
                )
        return found

    def put(self, now: dict[str, list[Portion]], best: dict[str, list[Portion]], best_value: float) -> None:
        """Write portions of movable jobs as they stand (the board has them already) and as they stood at
        the best value."""
        k, width = self.k, int(self.k.S[S_WIDTH])
        position = {id(t): n for n, t in enumerate(self.tasks)}
        for n in k.Z[Z_RANK, : k.S[S_MOVABLE]]:
            job, block = self.jobs[n], int(k.J[J_BLOCK, n])
            for portions, first, column in (
                (now.get(job.id, []), 0, J_NOW),
                (best.get(job.id, []), 2 * width, J_BEST),
            ):
                for x, p in enumerate(portions, block):
                    k.X[x, first : first + 3 + len(p.people)] = (
                        position[id(p.task)],
                        p.start,
                        p.end,
                        *p.people,
                    )
                k.J[column, n] = len(portions)
            standing = self.board.placed.get(job.id, [])
            movable = now.get(job.id, [])
            k.J[J_START, n] = movable[0].start if movable else 0
            k.J[J_PEOPLE, n] = sum(
                1 << m for m in {m % MARKS for p in movable for m in p.people if m is not None}
            )
            k.F[F_VALUE, n] = self.worth.of(job, standing)
            k.F[F_LOOSE, n] = self.worth.ends.of(job, standing)
            touching = [p for p in standing if p.task.asset_state != "any"]
            if touching and k.J[J_ASSET, n] >= 0:
                k.J[J_FIRST, n], k.J[J_LAST, n] = min(p.start for p in touching), max(p.end for p in touching)
            if now.get(job.id) != best.get(job.id):
                k.J[J_DIRTY, n] = 1
                k.Z[Z_DIRTY, k.S[S_DIRTY]] = n
                k.S[S_DIRTY] += 1
        for job in self.jobs:
            if (n := self.index[job.id]) >= 0 and k.J[J_SHARED, n] >= 0:
                k.J[J_OUT_FIRST, n], k.J[J_OUT_LAST, n] = self._out(job)
        k.V[V_VALUE], k.V[V_BEST] = float(k.F[F_VALUE].sum()), best_value

    def _out(self, job: Job) -> tuple[int, int]:
        """The span in which the job keeps its asset out of service now; -1, -1 if it does not."""
        mask = self.board.service.out[job.asset or ""].get(job.id, 0)
        return (first_bit(mask), mask.bit_length()) if mask else (-1, -1)
