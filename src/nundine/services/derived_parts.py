"""What becomes of the parts that WOs need: what is reserved, and from which day all of them are there."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date
from typing import Any

from nundine.core.parts.given import Wanted, counted
from nundine.core.parts.ready import Need, Supply, There, allocate
from nundine.core.parts.stock import DIGITS
from nundine.services.derived_buying import Arrival, on_their_way
from nundine.settings import settings
from nundine.store.bulk import insert_rows
from nundine.store.part import Movement, Part, PartNeed, Stock, Storeroom
from nundine.store.reading.alternates import all_alternates, with_alternates
from nundine.store.reading.kept_parts import RESERVES
from nundine.store.site import site
from nundine.store.work_order import Task, WorkOrder

WANTS = ("draft", "planned", "approved", "under way", "on hold")
"""States of WOs whose parts are still wanted."""
Ready = dict[str, Any]
"""Of a WO `parts_ready` and `parts_unknown`."""


@dataclass(frozen=True)
class NeedRow:
    """A need as it is stored, with the number of its WO, its storeroom's key and how much its WO got by now
    of it or of what does instead."""

    stored: dict[str, Any]
    order: str
    part: str
    store: str | None
    given: float
    reserves: bool
    straight: tuple[Arrival, ...]

    @property
    def id(self) -> str:
        return str(self.stored["id"])

    def need(self) -> Need:
        """What is still to be handed out."""
        wanted = max(0.0, round(self.stored["quantity"] - self.given, DIGITS))
        held = self.stored["reserved"]
        return Need(self.id, self.part, wanted, self.store, held, self.reserves, self.straight)

    def as_found(self, found: There) -> dict[str, Any]:
        """The row as it is to be stored."""
        said = {"day": found.day, "how": found.how, "name": found.name, "reserved": found.reserved}
        return {**self.stored, **said, "given": self.given}


def standing(state: str) -> tuple[bool, bool]:
    """Whether a WO in this state needs parts, and whether what there is of them is kept for it."""
    return state in WANTS, state in RESERVES


def of_orders(numbers: set[str]) -> set[str]:
    """Write down anew what these WOs need; gives the parts that they needed or need. Inside the caller's
    transaction."""
    if not numbers:
        return set()
    rows: Any = WorkOrder.select(WorkOrder.id, WorkOrder.state)
    states = dict(rows.where(WorkOrder.number.in_(sorted(numbers))).tuples())
    if not states:
        return set()
    there = {
        (n.order_id, n.task, n.part_id): n for n in PartNeed.select().where(PartNeed.order.in_(list(states)))
    }
    wanted = _wanted([id_ for id_, state in states.items() if state in WANTS])
    touched = {part for _, _, part in there} | {part for _, _, part in wanted}
    gone = [there[key].id for key in there if key not in wanted]
    if gone:
        PartNeed.delete().where(PartNeed.id.in_(gone)).execute()
    fresh = [
        {"order": order, "task": task, "part": part, **row}
        for (order, task, part), row in wanted.items()
        if (order, task, part) not in there
    ]
    insert_rows(PartNeed, fresh)
    for key, row in wanted.items():
        if key in there and any(
            row[name] != there[key].__data__[name] for name in ("quantity", "storeroom", "must")
        ):
            PartNeed.update(row).where(PartNeed.id == there[key].id).execute()
    return {k for (k,) in Part.select(Part.key).where(Part.id.in_(list(touched) or [0])).tuples()}


def _wanted(orders: list[int]) -> dict[tuple[int, str, int], dict[str, Any]]:
    """By WO, task and part what their tasks say."""
    rows: Any = Task.select(Task.work_order, Task.number, Task.parts).where(
        Task.work_order.in_(orders or [0])
    )
    said = [(order, task, need) for order, task, needs in rows.tuples() for need in needs if need[0]]
    keys = sorted({need[0] for _, _, need in said})
    chosen = Part.key.in_(keys or [""]) & Part.tracked  # nobody waits for consumables
    parts = dict(Part.select(Part.key, Part.id).where(chosen).tuples())
    stores = dict(Storeroom.select(Storeroom.key, Storeroom.id).tuples()) if said else {}
    return {
        (order, task, parts[part]): {"quantity": quantity, "storeroom": stores.get(store), "must": must}
        for order, task, (part, _, quantity, store, must) in said
        if part in parts
    }


def refresh(parts: set[str]) -> dict[str, tuple[Ready, Ready]]:
    """Give what there is of these parts to the WOs that need them; gives by number when all parts of each WO
    whose day moved are there, as it was and as it is. Inside the caller's transaction."""
    rows, supplies, today = in_turn(parts)
    found = allocate(supplies, [r.need() for r in rows], today)
    now = [(r.stored, r.as_found(found[r.id])) for r in rows]
    changed = [row for was, row in now if row != was]
    insert_rows(
        PartNeed,
        changed,
        replacing=[PartNeed.day, PartNeed.how, PartNeed.name, PartNeed.reserved, PartNeed.given],
    )
    return ready({row["order"] for row in changed})


def in_turn(parts: set[str]) -> tuple[list[NeedRow], dict[str, Supply], date]:
    """Needs of these parts and of their alternates, the first in turn first; what there is of them; and
    today."""
    instead = all_alternates()
    group, today = with_alternates(parts, instead), settings().day(site().timezone)
    coming, straight = on_their_way(group, today)
    return _rows(group, straight, instead), _supplies(group, coming, instead), today


def ready(orders: set[int]) -> dict[str, tuple[Ready, Ready]]:
    """When all parts of these WOs, by row, are there: as is said of them and as it is, where that differs."""
    if not orders:
        return {}
    today = settings().day(site().timezone)
    days: dict[int, list[date | None]] = defaultdict(list)
    rows: Any = PartNeed.select(PartNeed.order, PartNeed.day, PartNeed.quantity, PartNeed.given).join(Part)
    wanted = PartNeed.order.in_(list(orders)) & PartNeed.must & Part.tracked
    for order, day, quantity, given in rows.where(wanted).tuples():
        if given < quantity:
            days[order].append(day)
    out = {}
    of: Any = WorkOrder.select(
        WorkOrder.id, WorkOrder.number, WorkOrder.parts_ready, WorkOrder.parts_unknown
    ).where(WorkOrder.id.in_(list(orders)))
    for id_, number, day, unknown in of.tuples():
        known = [d for d in days[id_] if d is not None and d > today]
        nobody_knows = None in days[id_]
        now = {
            "parts_ready": None if nobody_knows else max(known, default=None),
            "parts_unknown": nobody_knows,
        }
        was = {"parts_ready": day, "parts_unknown": unknown}
        if now != was:
            out[number] = (was, now)
    return out


def rows_of(numbers: set[str]) -> set[int]:
    """Rows of WOs by number."""
    found = WorkOrder.select(WorkOrder.id).where(WorkOrder.number.in_(sorted(numbers) or [""])).tuples()
    return {id_ for (id_,) in found}


def parts_of(orders: set[str]) -> set[str]:
    """Parts that these WOs need."""
    found = PartNeed.select(Part.key).join(Part).switch(PartNeed).join(WorkOrder)
    return {k for (k,) in found.where(WorkOrder.number.in_(sorted(orders) or [""])).tuples()}


def all_parts() -> set[str]:
    """Parts that any WO needs."""
    return {k for (k,) in PartNeed.select(Part.key).join(Part).distinct().tuples()}


def _rows(
    parts: set[str], straight: dict[tuple[int, str], list[Arrival]], instead: dict[str, tuple[str, ...]]
) -> list[NeedRow]:
    """Needs of these parts, the first in turn first: by priority, then by what is due sooner. What comes
    straight to a WO is given to its first task that needs it."""
    rows: Any = (
        PartNeed.select(PartNeed, WorkOrder.number, Part.key, Storeroom.key, WorkOrder.state)
        .join(Part)
        .join_from(PartNeed, WorkOrder)
        .left_outer_join(Storeroom, on=PartNeed.storeroom == Storeroom.id, src=PartNeed)
        .where(Part.key.in_(sorted(parts) or [""]))
        .order_by(
            WorkOrder.priority.desc(),
            WorkOrder.due.is_null(),
            WorkOrder.due,
            WorkOrder.number,
            PartNeed.task,
        )
    )
    names = list(PartNeed._meta.sorted_field_names)  # type: ignore[attr-defined]
    found = [(dict(zip(names, r, strict=False)), *r[len(names) :]) for r in rows.tuples()]
    wanted = [Wanted(r["order"], part, r["quantity"]) for r, _, part, *_ in found]
    got = counted(wanted, given_to({w.job for w in wanted}, parts), instead)
    out = []
    for (stored, order, part, store, state), mine in zip(found, got, strict=True):
        own = tuple(straight.pop((stored["order"], part), ()))
        out.append(NeedRow(stored, order, part, store, _in_all(mine), state in RESERVES, own))
    return out


def _in_all(counts: dict[str, float]) -> float:
    return round(sum(counts.values()), DIGITS)


def given_to(orders: set[int], parts: set[str]) -> dict[tuple[int, str], float]:
    """What WOs, by row, got of parts, less what came back."""
    rows: Any = Movement.select(Movement.order, Part.key, Movement.quantity).join(Part)
    out: dict[tuple[int, str], float] = defaultdict(float)
    chosen = Movement.order.in_(list(orders) or [0]) & Part.key.in_(sorted(parts) or [""])
    for order, part, quantity in rows.where(chosen).tuples():
        out[(order, part)] = round(out[(order, part)] - quantity, DIGITS)
    return out


def _supplies(
    parts: set[str], coming: dict[str, list[Arrival]], instead: dict[str, tuple[str, ...]]
) -> dict[str, Supply]:
    rows = list(Part.select().where(Part.key.in_(sorted(parts) or [""])))
    stock: dict[int, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    lying: Any = Stock.select(Stock.part, Storeroom.key, Stock.on_hand).join(Storeroom)
    for part, store, there in lying.where(Stock.part.in_([p.id for p in rows] or [0])).tuples():
        stock[part][store] += there
    return {
        p.key: Supply(
            {} if p.blocked else dict(stock[p.id]),
            tuple(coming.get(p.key, ())),
            p.lead_days,
            instead.get(p.key, ()),
        )
        for p in rows
    }
