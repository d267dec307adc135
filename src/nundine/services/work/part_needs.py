"""The parts that tasks of a WO need, with what becomes of each; and parts to choose from, with what is
free."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from peewee import JOIN, fn

from nundine.store.asset import Asset
from nundine.store.part import AssetPart, Part, PartNeed, Storeroom

MOST = 20


@dataclass(frozen=True)
class NeedLine:
    """A part that a task needs; without `part` only what it is. `given`, `reserved`: how much was handed out
    and is kept for it; `day`: from which the rest is there, None = nobody knows, or nothing becomes of it
    any more (`how` is None then); `other`: the alternate, or what it comes with."""

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
    """A part, whether it stands on the asset's list, how many there are and how many of them are free."""

    part: str
    name: str
    unit: str
    of_asset: bool
    on_hand: float
    free: float
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
                    now.how if now else None,
                    now.name if now else "",
                )
            )
    return dict(out)


def choices(text: str, asset: str | None) -> list[PartChoice]:
    """Parts whose key or name holds a text, those of the asset first; without a text those alone."""
    on_list = AssetPart.select(AssetPart.part).join(Asset).where(Asset.key == (asset or ""))
    mine = Part.id.in_(on_list)
    kept = PartNeed.select(PartNeed.part, fn.SUM(PartNeed.reserved).alias("kept")).group_by(PartNeed.part)
    kept = kept.alias("kept")
    words = text.strip()
    chosen = (Part.key.contains(words) | Part.name.contains(words)) if words else mine
    rows: Any = (
        Part.select(
            Part.key, Part.name, Part.unit, mine.alias("mine"), Part.on_hand, fn.COALESCE(kept.c.kept, 0),
            Part.must_use,
        )
        .join(kept, JOIN.LEFT_OUTER, on=kept.c.part_id == Part.id)
        .where(chosen)
        .order_by(mine.desc(), Part.key)
        .limit(MOST)
    )  # fmt: skip
    return [
        PartChoice(key, name, unit, bool(its), there, round(there - reserved, 3), must)
        for key, name, unit, its, there, reserved, must in rows.tuples()
    ]
