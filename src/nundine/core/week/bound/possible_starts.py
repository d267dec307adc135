"""How the relaxation of `packing.py` sees a job: when its tasks may start, in which order, and which of them
together on one day."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from nundine.core.week.board.bits import cover, first_bit, run_starts, span
from nundine.core.week.board.board import Board
from nundine.core.week.board.heads import starts_with_people
from nundine.core.week.problem import Job, Task

FEW_JOBS = 450
LONGEST_PATH = 5
"""Tasks of a chain that are looked at together where there are few jobs; what follows waits for the day of
the last. It doubles what fits into stretches and brings little: in larger weeks more steps of prices bring
more."""


def longest_path(jobs: int) -> int:
    return LONGEST_PATH if jobs <= FEW_JOBS else 1


@dataclass
class Laid:
    """One task: slots it takes, those from which it may start, those it may use, whether it may be cut, slots
    of the least portion."""

    task: Task
    length: int
    starts: int
    allowed: int
    split: bool
    least: int


Together = tuple[int, int, int, list[int]]
"""The first and the last of some tasks of a path that start on one day, the day, the starts that each has
then."""


def lay(board: Board, job: Job, task: Task, hours: float) -> Laid:
    """So many hours of a task beside what is fixed."""
    grid = board.problem.grid
    length = grid.slots_for(hours)
    allowed = board.asset_mask(job, task)
    allowed &= span(
        grid.ceil(job.earliest) if job.earliest else 0, grid.floor(job.latest) if job.latest else board.slots
    )
    if any(len(board.tool_levels[t]) == 1 for t in task.tools):
        allowed = 0
    least = min(length, grid.slots_for(task.min_portion)) if task.splittable else length
    if 2 * least > length:
        least = length
    starts = starts_with_people(board, task, allowed, least)
    return Laid(task, length, starts, cover(starts, least), least < length, least)


def in_order(board: Board, laid: list[Laid], whole: bool) -> None:
    """Leave out slots that come before the soonest end of what a task waits for, or, of a whole job, after
    what waits for it must begin."""
    slots, at = board.problem.grid.slots_for, {x.task.id: x for x in laid}

    def within(x: Laid, first: int, last: int) -> None:
        x.allowed &= span(first, max(first, last))
        x.starts &= run_starts(x.allowed, x.least)

    end = board.slots
    for x in laid:
        before = [(at[a.task], slots(a.lag)) for a in x.task.after if a.task in at]
        within(
            x,
            max((first_bit(y.starts) + y.length + lag if y.starts else end for y, lag in before), default=0),
            end,
        )
    last = {x.task.id: end for x in laid}
    for x in reversed(laid if whole else []):
        within(x, 0, last[x.task.id])
        for a in x.task.after:
            last[a.task] = min(last[a.task], x.starts.bit_length() - 1 - slots(a.lag))


def paths(laid: list[Laid], parents: list[int], longest: int = LONGEST_PATH) -> list[list[int]]:
    """The tasks in chains: each the only one that waits for the one before; a splittable task stands alone.
    What a chain waits for comes before it."""
    children = [parents.count(n) for n in range(len(laid))]
    of: dict[int, list[int]] = {}
    out: list[list[int]] = []
    for n, x in enumerate(laid):
        before = parents[n]
        path = of.get(before)
        if (
            path is not None
            and children[before] == 1
            and not x.split
            and not laid[before].split
            and len(path) < longest
        ):
            path.append(n)
        else:
            path = [n]
            out.append(path)
        of[n] = path
    return out


def lag_after(board: Board, x: Laid, before: Laid) -> int:
    """Slots between the end of a task and the start of one that waits for it."""
    return sum(board.problem.grid.slots_for(a.lag) for a in x.task.after if a.task == before.task.id)


def together(board: Board, path: list[Laid], days: list[int]) -> Iterator[Together]:
    """For each day, what tasks of a path may start on it one after another, and the starts that each has
    then."""
    lags = [0, *(lag_after(board, y, x) for x, y in zip(path, path[1:], strict=False))]
    for first in range(len(path)):
        for b, day in enumerate(days):
            ahead: list[int] = []
            for last in range(first, len(path)):
                here = path[last].starts & day
                if ahead:
                    here &= ~span(0, first_bit(ahead[-1]) + path[last - 1].length + lags[last])
                if not here:
                    break
                ahead.append(here)
                masks = list(ahead)
                for n in range(last - 1, first - 1, -1):
                    masks[n - first] &= span(
                        0, masks[n + 1 - first].bit_length() - lags[n + 1] - path[n].length
                    )
                if all(masks):
                    yield first, last, b, masks


def on_asset(laid: list[Laid]) -> set[int]:
    """The longest path of tasks that touch the asset: they never overlap one another."""
    at = {x.task.id: n for n, x in enumerate(laid)}
    length: list[int] = []
    before: list[int] = []
    for x in laid:
        own = x.length if x.task.asset_state != "any" else 0
        earlier = [at[a.task] for a in x.task.after if a.task in at]
        best = max(earlier, key=lambda n: length[n], default=-1)
        length.append(own + (length[best] if best >= 0 else 0))
        before.append(best)
    out: set[int] = set()
    n = max(range(len(laid)), key=lambda n: length[n])
    while n >= 0:
        if laid[n].task.asset_state != "any":
            out.add(n)
        n = before[n]
    return out
