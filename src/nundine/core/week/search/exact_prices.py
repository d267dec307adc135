"""Loose ends in the exact model: what it counts is never more than they cost, so that its bound holds.

Counted are gaps between the tasks of a chain and between portions of a task, handovers from one to the next,
and stretches of hours that lie away from the job's area as a whole. Changes of area are not.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from nundine.core.week.board.board import Portion
from nundine.core.week.problem import Job, Task

if TYPE_CHECKING:
    from nundine.core.week.search.exact_model import ExactModel, Part

SCALE = 1000
"""Points are counted in thousandths."""
Held = dict[tuple[str, int], Portion]
"""The portions of a job in a plan, by task and number."""
Hint = tuple[Any, Callable[[Held], int]]
"""A variable, and what it is in a plan."""


def chain_of(job: Job) -> list[Task] | None:
    """The tasks of a job whose tasks follow one another in one line, else None."""
    order = list(job.ordered_tasks)
    return (
        order
        if all(a.id in {x.task for x in b.after} for a, b in zip(order, order[1:], strict=False))
        else None
    )


def count_loose_ends(model: ExactModel, job: Job, there: Any, parts: dict[str, list[Part]]) -> None:
    """Prices of one job's gaps and handovers as points of the model."""
    w = model.board.problem.weights
    order = chain_of(job)
    if order is None or job.divisible or not (w.waiting_per_hour or w.handover):
        return
    before: Task | None = None
    for task in order:
        its = parts[task.id]
        for n, part in enumerate(its):
            if n:

                def goes_on(held: Held, key: tuple[str, int] = (task.id, n)) -> bool:
                    return key in held

                _between(model, job, its[n - 1], part, [part.here], goes_on)
            elif before is not None:
                ends = parts[before.id]
                for i, last in enumerate(ends):
                    only = [there, *([last.here] if i else []), *(e.here.Not() for e in ends[i + 1 : i + 2])]

                    def follows(held: Held, t: str = before.id, n: int = i + 1) -> bool:
                        return (t, n) in held and (t, n + 1) not in held

                    _between(model, job, last, part, only, follows)
        before = task


def _between(
    model: ExactModel, job: Job, before: Part, after: Part, only: list[Any], follows: Callable[[Held], bool]
) -> None:
    """The gap and the handover from one portion to the next, where `only` holds."""
    m, w, grid = model.m, model.board.problem.weights, model.grid
    keys = (before.task.id, before.number), (after.task.id, after.number)
    if w.waiting_per_hour:
        hour = 60 / model.board.problem.slot_minutes
        cap, lag = (
            int(w.waiting_cap_hours * hour),
            grid.slots_for(max((a.lag for a in after.task.after), default=0.0)),
        )
        gap, long = m.new_int_var(0, cap, ""), m.new_bool_var("")
        m.add(gap >= after.start - before.end - lag).only_enforce_if(*only, long.Not())
        m.add(gap >= cap).only_enforce_if(*only, long)
        model.points.append((-round(w.waiting_per_hour / hour * SCALE), gap))

        def idle(held: Held) -> int:
            return held[keys[1]].start - held[keys[0]].end - lag if follows(held) and keys[1] in held else 0

        model.hints.append((job.id, gap, lambda held: min(cap, max(0, idle(held)))))
        model.hints.append((job.id, long, lambda held: int(idle(held) > cap)))
    crafts = {n.craft for n in before.task.needs} & {n.craft for n in after.task.needs}
    if not w.handover or not crafts:
        return
    over, same = m.new_bool_var(""), []
    on_before, on_after = _on(before), _on(after)
    for n in sorted(on_before.keys() & on_after.keys()):
        both = m.new_bool_var("")
        m.add(both <= sum(on_before[n]))
        m.add(both <= sum(on_after[n]))
        same.append(both)

        def on_both(held: Held, n: int = n) -> int:
            return int(all(k in held and n in held[k].people for k in keys))

        model.hints.append((job.id, both, on_both))
    m.add_bool_or(over, *same).only_enforce_if(*only)
    model.points.append((-round(w.handover * SCALE), over))

    def handed(held: Held) -> int:
        if not follows(held) or keys[1] not in held:
            return 0
        return int(not set(held[keys[0]].people) & set(held[keys[1]].people))

    model.hints.append((job.id, over, handed))


def _on(part: Part) -> dict[int, list[Any]]:
    """Literals that say that a person is on a portion."""
    found: dict[int, list[Any]] = {}
    for sits in part.seats:
        found.setdefault(sits.person, []).append(sits.literal)
    return found
