"""The parts that tasks of a WO need, with what becomes of each; and parts to choose from, with what is
free."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from peewee import JOIN, fn

from nundine.services.derived_buying import on_their_way
from nundine.settings import settings
from nundine.store.asset import Asset
from nundine.store.part import AssetPart, Part, PartNeed, Stock, Storeroom
from nundine.store.reading.kept_parts import kept_of_parts
from nundine.store.site import site
from nundine.store.work_order import WorkOrder

MOST = 20


@dataclass(frozen=True)
class NeedLine:
    """A part that a task needs; without `part` only what it is. `given`, `reserved`: how much was handed out
    and is kept for it; `day`: from which the rest is there, None = nobody knows, or nothing becomes of it
    any more (`how` is None then, `consumable` where no stock is kept); `other`: the alternate, or what it
    comes with."""

    part: str | None
    name: str
    unit: str
    quantity: float
    storeroom: str | None
    must: bool
    given: float
    reserved: float
    day: date | None
    how: str | None
    other: str


@dataclass(frozen=True)
class PartChoice:
    """A part, whether it stands on the asset's list, how many there are, how many of them are free, and how
    many are on order for storerooms."""

    part: str
    name: str
    unit: str
    of_asset: bool
    on_hand: float
    free: float
    coming: float
    must_use: bool


def needs_of(order: int, said: dict[str, Sequence[Sequence[Any]]]) -> dict[str, list[NeedLine]]:
    """Of a WO by row: what its tasks say, by their numbers, with what becomes of it."""
    keys = sorted({need[0] for needs in said.values() for need in needs if need[0]})
    if not any(said.values()):
        return {}
    known = {p.key: p for p in Part.select().where(Part.key.in_(keys or [""]))}
    stores = dict(Storeroom.select(Storeroom.key, Storeroom.name).tuples())
    stands = {
        (n.task, n.part.key): n
        for n in PartNeed.select(PartNeed, Part).join(Part).where(PartNeed.order == order)
    }
    out: dict[str, list[NeedLine]] = defaultdict(list)
    for task, needs in said.items():
        for key, text, quantity, store, must in needs:
            part, now = known.get(key), stands.get((task, key))
            out[task].append(
                NeedLine(
                    key,
                    part.name if part else text or str(key),
                    part.unit if part else "",
                    quantity,
                    stores.get(store, store),
                    must,
                    now.given if now else 0.0,
                    now.reserved if now else 0.0,
                    now.day if now else None,
                    now.how if now else "consumable" if part and not part.tracked else None,
                    now.name if now else "",
                )
            )
    return dict(out)


def on_paper(
    said: dict[str, Sequence[Sequence[Sequence[Any]]]],
) -> Callable[[str, str, Sequence[Any]], str]:
    """How a need of a task of these WOs (what their tasks say, by number) stands on a sheet, with where most
    of it lies: `2 pcs BE-1002 Ball bearing 6205 (main C-01)`, or `..., BE-1004 instead (main C-07)`."""
    instead = _met_by_alternates(set(said))
    keys = {need[0] for tasks in said.values() for needs in tasks for need in needs if need[0]}
    chosen = Part.key.in_(sorted(keys | set(instead.values())) or [""])
    known = {p.key: p for p in Part.select().where(chosen)}
    lies: dict[str, str] = {}
    rows: Any = Stock.select(Part.key, Storeroom.key, Stock.shelf).join(Storeroom).join_from(Stock, Part)
    for part, store, shelf in (
        rows.where(Part.key.in_(sorted(known) or [""])).order_by(Stock.on_hand).tuples()
    ):
        lies[part] = f" ({f'{store} {shelf}'.strip()})"

    def words(order: str, task: str, need: Sequence[Any]) -> str:
        key, text, quantity, _, must = need
        may = "" if must else ", may be used"
        if key not in known:
            return f"{quantity:g} {text or key}{may}"
        other = instead.get((order, task, key))
        does = f", {other} instead{lies.get(other, '')}" if other else ""
        return f"{quantity:g} {known[key].unit} {key} {known[key].name}{lies.get(key, '')}{does}{may}"

    return words


def _met_by_alternates(orders: set[str]) -> dict[tuple[str, str, str], str]:
    """By WO, task and part what does instead of it."""
    rows: Any = PartNeed.select(WorkOrder.number, PartNeed.task, Part.key, PartNeed.name)
    joined = rows.join(Part).join_from(PartNeed, WorkOrder)
    of_them = WorkOrder.number.in_(sorted(orders) or [""]) & (PartNeed.how == "alternate")
    return {(order, task, part): other for order, task, part, other in joined.where(of_them).tuples()}


def choices(text: str, asset: str | None) -> list[PartChoice]:
    """Parts whose key or name holds a text, those of the asset first; without a text those alone."""
    on_list = AssetPart.select(AssetPart.part).join(Asset).where(Asset.key == (asset or ""))
    mine = Part.id.in_(on_list)
    kept = kept_of_parts()
    words = text.strip()
    chosen = (Part.key.contains(words) | Part.name.contains(words)) if words else mine
    rows: Any = (
        Part.select(
            Part.key, Part.name, Part.unit, mine.alias("mine"), Part.on_hand, fn.COALESCE(kept.c.much, 0),
            Part.must_use,
        )
        .join(kept, JOIN.LEFT_OUTER, on=kept.c.part_id == Part.id)
        .where(chosen)
        .order_by(mine.desc(), Part.key)
        .limit(MOST)
    )  # fmt: skip
    found = list(rows.tuples())
    coming, _ = on_their_way({row[0] for row in found}, settings().day(site().timezone))
    ordered = {part: sum(quantity for _, quantity, _ in arrivals) for part, arrivals in coming.items()}
    return [
        PartChoice(key, name, unit, bool(its), there, round(there - reserved, 3), ordered.get(key, 0.0), must)
        for key, name, unit, its, there, reserved, must in found
    ]
