"""The history of a record, field by field in words, and the audit of all that was written."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from peewee import SQL, fn

from nundine.core.timeline import at_local
from nundine.formats.tables import write_csv
from nundine.services.errors import NotFound
from nundine.services.ledger.nouns import NOUNS, PLACEMENT
from nundine.services.ledger.values import same
from nundine.services.ledger.wording import flattened, shown
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
MOST = 200


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
    """Lines that are not told, for there are too many."""


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
    mine = _of_record(noun, key)
    ids = LedgerChange.select(LedgerChange.entry).where(mine).distinct()
    count = ids.count()
    newest = ids.order_by(LedgerChange.entry.desc()).paginate(max(1, page), min(size, MOST)).tuples()
    numbers = [n for (n,) in newest]
    changes = list(
        LedgerChange.select().where(mine & LedgerChange.entry.in_(numbers or [0])).order_by(LedgerChange.id)
    )
    return count, _deeds(numbers, changes, own=(noun, len(key)), why=why)


def _of_record(noun: str, key: list[Any]) -> Any:
    """Changes of a record, of those that belong to it, and of the placements of a WO."""
    own = json.dumps(key, ensure_ascii=False, separators=(",", ":"))
    mine = (LedgerChange.noun == noun) & (LedgerChange.key == own)
    parts = [n.name for n in NOUNS.values() if n.owner == noun]
    if noun == "work order":
        parts.append(PLACEMENT)
    if noun == "person":
        parts += ["absence", "overtime", "extra shift", "loan", "roster line"]
    if noun == "asset":
        parts.append("window")
    if parts:
        begins = own[:-1] + ","
        inside = fn.LEFT(LedgerChange.key, len(begins)) == begins
        above = (LedgerChange.key >= begins) & (LedgerChange.key < own[:-1] + "-")
        mine |= LedgerChange.noun.in_(parts) & above & inside
    return mine


def _deeds(
    numbers: list[int], changes: Iterable[LedgerChange], own: tuple[str, int] | None, why: bool
) -> list[Deed]:
    by_entry: dict[int, list[LedgerChange]] = {}
    for c in changes:
        by_entry.setdefault(c.entry_id, []).append(c)
    rows = (
        LedgerEntry.select(LedgerEntry, Account)
        .left_outer_join(Account)
        .where(LedgerEntry.id.in_(numbers or [0]))
        .order_by(LedgerEntry.id.desc())
    )
    zone = ZoneInfo(site().timezone)
    out = []
    for e in rows:
        lines = [line for c in by_entry.get(e.id, ()) for line in _lines(c, own, why, zone)]
        by = e.account.full_name if e.account_id else "Nundine"
        shown_lines = tuple(lines[:MOST])
        out.append(
            Deed(e.id, e.at, by, e.stream, e.kind, e.label, shown_lines, len(lines) - len(shown_lines))
        )
    return out


def _lines(change: LedgerChange, own: tuple[str, int] | None, why: bool, zone: ZoneInfo) -> list[FieldLine]:
    """What differs of one record, a line for each field."""
    key = json.loads(change.key)
    noun = NOUNS.get(change.noun)
    labels = noun.labels if noun else PLACEMENT_WORDS
    record = _record(change.noun, key, own)
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
            told = FieldLine(record, label, shown(was, zone), shown(now, zone))
            if told.before != told.after:
                out.append(told)
    return out


def _record(noun: str, key: list[Any], own: tuple[str, int] | None) -> str:
    """How a record is named beside the one that was asked about."""
    if own is None:
        return f"{noun} {' '.join(str(k) for k in key)}"
    if noun == own[0]:
        return ""
    if noun == PLACEMENT:
        return f"task {key[1]} in the week" if key[2] == 1 else f"task {key[1]} in the week, portion {key[2]}"
    return f"{noun} {' '.join(str(k) for k in key[own[1] :])}"


@dataclass(frozen=True)
class Question:
    """What of the audit is asked for; days are the site's, both included."""

    page: int = 1
    size: int = 50
    account: str = ""
    noun: str = ""
    text: str = ""
    field: str = ""
    first: date | None = None
    last: date | None = None


def audit(question: Question) -> tuple[int, list[Deed]]:
    """Deeds by person, record, field and time, newest first; and how many there are."""
    query = _asked(question)
    count = query.count()
    ids = [
        n
        for (n,) in query.order_by(LedgerEntry.id.desc())
        .paginate(max(1, question.page), min(question.size, MOST))
        .tuples()
    ]
    return count, _told(ids, question)


def _told(ids: list[int], question: Question) -> list[Deed]:
    rows = LedgerChange.select().where(_of_question(question) & LedgerChange.entry.in_(ids or [0]))
    return _deeds(ids, rows.order_by(LedgerChange.id), own=None, why=False)


def _of_question(question: Question) -> Any:
    """Which changes are asked for."""
    chosen: Any = SQL("1") == SQL("1")
    if question.noun:
        chosen &= LedgerChange.noun == question.noun
    if question.field:
        has = f'$."{question.field}"'
        chosen &= fn.JSON_EXISTS(LedgerChange.after, has) | fn.JSON_EXISTS(LedgerChange.before, has)
    return chosen


def _asked(question: Question) -> Any:
    query = LedgerEntry.select(LedgerEntry.id)
    if question.account:
        query = query.join(Account).where(Account.name == question.account)
    zone = ZoneInfo(site().timezone)
    if question.first:
        query = query.where(LedgerEntry.at >= at_local(question.first, time(0), zone))
    if question.last:
        query = query.where(LedgerEntry.at < at_local(question.last + timedelta(days=1), time(0), zone))
    changes = LedgerChange.select(LedgerChange.entry).where(_of_question(question))
    if question.noun or question.field:
        query = query.where(LedgerEntry.id.in_(changes))
    for word in question.text.split()[:6]:
        like = word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
        named = LedgerChange.select(LedgerChange.entry).where(LedgerChange.key ** f"%{like}%")
        query = query.where((LedgerEntry.label ** f"%{like}%") | LedgerEntry.id.in_(named))
    return query


MOST_EXPORTED = 20_000


def audit_csv(question: Question) -> bytes:
    """The same as a table, a row for each field; at most the newest of so many deeds."""
    ids = [n for (n,) in _asked(question).order_by(LedgerEntry.id.desc()).limit(MOST_EXPORTED).tuples()]
    rows: list[list[Any]] = []
    for n in range(0, len(ids), 500):
        for deed in _told(ids[n : n + 500], question):
            start = [deed.at.isoformat(), deed.by, deed.kind, deed.label]
            rows += [[*start, x.record, x.label, x.before, x.after] for x in deed.lines] or [
                [*start, "", "", "", ""]
            ]
    return write_csv(["at", "by", "kind", "what", "record", "field", "before", "after"], rows)
