"""The history of a record, field by field in words, and the audit of all that was written."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from zoneinfo import ZoneInfo

from peewee import fn

from nundine.services.errors import NotFound
from nundine.services.ledger.entries import of_record, who_did
from nundine.services.ledger.nouns import NOUNS, PLACEMENT
from nundine.services.ledger.values import same
from nundine.services.ledger.wording import flattened, shown
from nundine.services.wording import Names
from nundine.services.wording.site_names import SiteNames
from nundine.store.account import Account
from nundine.store.ledger import LedgerChange, LedgerEntry
from nundine.store.site import site

PLACEMENT_WORDS = {
    "day": "day",
    "start": "start",
    "end": "end",
    "hours": "hours",
    "people": "people",
    "pinned": "pinned",
    "hand": "put by hand",
    "answer": "answer of operations",
    "answer_by": "answered by",
    "remark": "remark",
}
AWAY = "away"
"""What those read who may not know why somebody is away."""
MOST = 40
"""Records of a deed that are told on a screen."""


@dataclass(frozen=True)
class FieldLine:
    """One field of one record in words. `record` names it where it is not the one that was asked about."""

    record: str
    label: str
    before: str
    after: str


@dataclass(frozen=True)
class Deed:
    """One entry of the ledger in words."""

    id: int
    at: datetime
    by: str
    stream: str
    kind: str
    label: str
    lines: tuple[FieldLine, ...]
    more: int
    """Records that are not told, for there are too many."""


def history(
    noun: str, key: list[Any], *, page: int = 1, size: int = 20, why: bool = False
) -> tuple[int, list[Deed]]:
    """Deeds that changed a record, or what belongs to it, newest first; and how many there are.

    Parameters
    ----------
    why
        Whether the reader may know why somebody is away.

    Raises
    ------
    NotFound
        For a noun that does not exist.
    """
    if noun not in NOUNS:
        raise NotFound("noun", f"There are no records called {noun!r}.")
    mine = of_record(noun, key, ALSO.get(noun, ()))
    ids = LedgerChange.select(LedgerChange.entry).where(mine).distinct()
    newest = ids.order_by(LedgerChange.entry.desc()).paginate(max(1, page), min(size, MOST)).tuples()
    deeds = _deeds([n for (n,) in newest], mine, own=(noun, len(key)), why=why)
    return ids.count(), deeds


ALSO = {
    "work order": (PLACEMENT,),
    "person": ("absence", "overtime", "extra shift", "loan", "roster line"),
    "asset": ("window",),
}
"""Nouns that stand in the history of another, for their keys begin with its key."""


def _first_changes(numbers: list[int], chosen: Any) -> Iterator[tuple[LedgerChange, int]]:
    """Changes of deeds in their order, the first of each deed where there are many; with how many there
    are."""
    of_deed = fn.ROW_NUMBER().over(partition_by=[LedgerChange.entry], order_by=[LedgerChange.id])
    count = fn.COUNT(LedgerChange.id).over(partition_by=[LedgerChange.entry])
    ranked = LedgerChange.select(LedgerChange.id.alias("id"), of_deed.alias("place"), count.alias("count"))
    ranked = ranked.where(chosen & LedgerChange.entry.in_(numbers or [0]))
    rows = LedgerChange.select(LedgerChange, ranked.c.count).join(ranked, on=ranked.c.id == LedgerChange.id)
    rows = rows.where(ranked.c.place <= MOST)
    for row in rows.order_by(LedgerChange.id).objects():
        yield row, row.count


def _deeds(numbers: list[int], chosen: Any, own: tuple[str, int] | None, why: bool) -> list[Deed]:
    """Deeds in words, newest first; of each at most so many records."""
    by_entry: dict[int, list[LedgerChange]] = {}
    counts: dict[int, int] = {}
    for change, count in _first_changes(numbers, chosen):
        by_entry.setdefault(change.entry_id, []).append(change)
        counts[change.entry_id] = count
    rows = (
        LedgerEntry.select(LedgerEntry, Account)
        .left_outer_join(Account)
        .where(LedgerEntry.id.in_(numbers or [0]))
        .order_by(LedgerEntry.id.desc())
    )
    zone, names = ZoneInfo(site().timezone), SiteNames()
    out = []
    for e in rows:
        changes = by_entry.get(e.id, [])
        lines = tuple(line for c in changes for line in _lines(c, own, why, zone, names))
        more = counts.get(e.id, 0) - len(changes)
        out.append(Deed(e.id, e.at, who_did(e), e.stream, e.kind, e.label, lines, more))
    return out


def _lines(
    change: LedgerChange, own: tuple[str, int] | None, why: bool, zone: ZoneInfo, names: Names
) -> list[FieldLine]:
    """What differs of one record, a line for each field."""
    key = json.loads(change.key)
    noun = NOUNS.get(change.noun)
    labels = noun.labels if noun else PLACEMENT_WORDS
    record = _record(change.noun, key, own, zone, names)
    before: dict[str, Any] = change.before or {}
    after: dict[str, Any] = change.after or {}
    out = []
    for field in [f for f in labels if f in before or f in after]:
        old, new = before.get(field), after.get(field)
        if same(old, new) and change.before is not None and change.after is not None:
            continue
        if change.noun == "absence" and field == "reason" and not why:
            old, new = (AWAY if old else None), (AWAY if new else None)
        if change.before is None and new is False:
            continue  # what is not so of a new record need not be said
        for label, was, now in flattened(labels[field], old, new):
            kind = NAMED.get(field, "")
            was, now = names.named(kind, was), names.named(kind, now)
            told = FieldLine(record, label, shown(was, zone), shown(now, zone))
            if told.before != told.after:
                out.append(told)
    return out


NAMED = {
    "area": "area", "areas": "area", "from": "area", "to": "area", "asset": "asset", "parent": "asset",
    "person": "person", "people": "seat", "done_by": "person",
    "hours_by": "person", "craft": "craft", "crafts": "craft",
    "needs": "craft",
}  # fmt: skip
"""What the keys in a field stand for; those of `seat` are people, or nobody yet."""


def _record(noun: str, key: list[Any], own: tuple[str, int] | None, zone: ZoneInfo, names: Names) -> str:
    """How a record is named beside the one that was asked about."""
    if own is not None and noun == own[0]:
        return ""
    if noun == PLACEMENT:
        job = "" if own is not None else f"{key[0]} "
        portion = f", portion {key[2]}" if key[2] != 1 else ""
        return f"{job}task {key[1]} in the week{portion}"
    known = NOUNS[noun].key if noun in NOUNS else ()
    parts = [names.named(NAMED.get(c.name, ""), k) for c, k in zip(known, key, strict=False)] or key
    told = [shown(p, zone) for p in parts[own[1] if own is not None else 0 :]]
    return " ".join([noun, *told])


def deed(number: int) -> Deed:
    """One deed, with what it changed of each record. Raises NotFound."""
    found = deeds_of([number])
    if not found:
        raise NotFound("deed", f"Nothing was written under the number {number}.")
    return found[0]


def deeds_of(numbers: list[int]) -> list[Deed]:
    """Deeds by their numbers, with what they changed."""
    return _deeds(numbers, LedgerChange.id > 0, own=None, why=False)


def fields_called(text: str) -> dict[str, set[str]]:
    """Fields whose label contains a text, and the nouns that have each."""
    wanted = text.strip().lower()
    found: dict[str, set[str]] = {}
    labels = {**{name: noun.labels for name, noun in NOUNS.items()}, PLACEMENT: PLACEMENT_WORDS}
    for noun, fields in labels.items():
        for field, label in fields.items():
            if wanted in label.lower():
                found.setdefault(field, set()).add(noun)
    return found
