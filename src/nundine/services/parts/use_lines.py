"""What tasks plan of parts, and what their WOs got of it, of the part itself or of what does instead."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import chain
from typing import Any

from nundine.core.parts.given import Wanted, counted
from nundine.core.parts.stock import DIGITS
from nundine.services.derived_parts import given_to
from nundine.services.parts.picking import in_all, places_of
from nundine.store.part import Part
from nundine.store.reading.alternates import all_alternates
from nundine.store.work_order import Task, WorkOrder

TaskKey = tuple[str, str]


@dataclass(frozen=True)
class UseLine:
    """A part that a task plans: how much, how much its WO got of it so far, and whether it is asked for.
    `as_parts`: what it got, by part; some of it may do instead. `instead`: what can be handed out instead of
    what lacks, where too little of the part itself is there (empty: nothing)."""

    order: str
    title: str
    task: str
    part: str
    name: str
    unit: str
    planned: float
    given: float
    must: bool
    as_parts: dict[str, float]
    instead: str


def planned(tasks: Sequence[TaskKey]) -> list[UseLine]:
    """What these tasks plan of parts whose movements are kept, in their order. What their WO got is counted
    to its tasks in turn, and to the last of them what is more than they plan; what does instead of a part
    counts as the part."""
    chosen = set(tasks)
    rows: Any = (
        Task.select(WorkOrder.number, WorkOrder.title, WorkOrder.id, Task.number, Task.parts)
        .join(WorkOrder)
        .where(WorkOrder.number.in_(sorted({order for order, _ in tasks}) or [""]))
        .order_by(WorkOrder.number, Task.id)
    )
    said = [(*head, need) for *head, needs in rows.tuples() for need in needs if need[0]]
    keys = sorted({need[0] for *_, need in said})
    known = {p.key: p for p in Part.select().where(Part.key.in_(keys or [""]) & Part.tracked)}
    said = [line for line in said if line[-1][0] in known]
    alternates = {key: others for key, others in all_alternates().items() if key in known}
    got = _got([Wanted(row, need[0], need[2]) for _, _, row, _, need in said], alternates)
    lying = places_of({*known, *chain.from_iterable(alternates.values())})
    out = []
    for (order, title, _, task, (key, _, quantity, _, must)), mine in zip(said, got, strict=True):
        if (order, task) in chosen:
            given = round(sum(mine.values()), DIGITS)
            lacks = round(quantity - given - in_all(lying[key]), DIGITS)
            does = (o for o in alternates.get(key, ()) if lacks > 0 and in_all(lying[o]) >= lacks)
            part, other = known[key], next(does, "")
            out.append(
                UseLine(order, title, task, key, part.name, part.unit, quantity, given, must, mine, other)
            )
    return out


def _got(wanted: list[Wanted], alternates: dict[str, tuple[str, ...]]) -> list[dict[str, float]]:
    """By need what its WO got, by part; the last need of a part has all that is more than needed of it."""
    parts = {w.part for w in wanted} | set(chain.from_iterable(alternates.values()))
    given = given_to({w.job for w in wanted}, parts)
    counts = counted(wanted, given, alternates)
    last = {(w.job, w.part): n for n, w in enumerate(wanted)}
    for (job, part), n in last.items():
        used = sum(c.get(part, 0.0) for w, c in zip(wanted, counts, strict=True) if w.job == job)
        more = round(given.get((job, part), 0.0) - used, DIGITS)
        if more > 0:
            counts[n][part] = round(counts[n].get(part, 0.0) + more, DIGITS)
    return counts
