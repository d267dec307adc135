"""What stands in the ledger: deeds of a stream, what each changed, and which of them were taken back."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from peewee import Expression, fn

from nundine.services.ledger.nouns import NOUNS
from nundine.store.account import Account
from nundine.store.ledger import LedgerChange, LedgerEntry, stream_of_week


@dataclass(frozen=True)
class Changed:
    """One record of a deed, as the ledger keeps it."""

    noun: str
    key: list[Any]
    before: dict[str, Any] | None
    after: dict[str, Any] | None
    derived: bool
    entry: int


def _of_week(name: str) -> Expression:
    return LedgerEntry.stream == stream_of_week(name)


def taken_back() -> Expression:
    """Whether a deed was undone, or was an undo that was redone."""
    later: Any = LedgerEntry.alias()
    same = (later.site == LedgerEntry.site) & (later.stream == LedgerEntry.stream)
    same &= (later.undoes == LedgerEntry.seq) | (later.redoes == LedgerEntry.seq)
    return later.select(later.id).where(same)  # type: ignore[no-any-return]


def _that_stand(name: str) -> Any:
    return (
        LedgerEntry.select(LedgerEntry, Account)
        .left_outer_join(Account)
        .where(_of_week(name) & ~fn.EXISTS(taken_back()))
    )


def own_that_stand(name: str, account: Account, but: str) -> list[LedgerEntry]:
    """One's own deeds of a week that stand, newest first, but for those of one kind."""
    mine = (LedgerEntry.account == account) & (LedgerEntry.kind != but)
    return list(_that_stand(name).where(mine).order_by(LedgerEntry.seq.desc()))


def standing_after(name: str, seq: int) -> list[LedgerEntry]:
    """Deeds of a week after one that stand and are no undo."""
    later = (LedgerEntry.seq > seq) & LedgerEntry.undoes.is_null()
    return list(_that_stand(name).where(later).order_by(LedgerEntry.seq))


def after(name: str, seq: int) -> list[LedgerEntry]:
    """All deeds of a week after one, in their order, whether they stand or not."""
    later = _of_week(name) & (LedgerEntry.seq > seq)
    return list(LedgerEntry.select().where(later).order_by(LedgerEntry.seq))


def newest_of_week(name: str, most: int) -> list[tuple[LedgerEntry, bool]]:
    """The newest deeds of a week with their accounts, and whether each was taken back."""
    rows = (
        LedgerEntry.select(LedgerEntry, Account)
        .left_outer_join(Account)
        .where(_of_week(name))
        .order_by(LedgerEntry.seq.desc())
        .limit(most)
    )
    entries = list(rows)
    back = {
        n
        for pair in LedgerEntry.select(LedgerEntry.undoes, LedgerEntry.redoes).where(_of_week(name)).tuples()
        for n in pair
        if n is not None
    }
    return [(e, e.seq in back) for e in entries]


def changes_of(entry: LedgerEntry) -> list[Changed]:
    """What one deed changed, in the order in which it was written."""
    return list(changes_of_all([entry]))


def changes_of_all(entries: Iterable[LedgerEntry], noun: str | None = None) -> Iterator[Changed]:
    """What deeds changed, in their order; of one noun alone where it is given."""
    ids = [e.id for e in entries]
    chosen = LedgerChange.entry.in_(ids or [0])
    if noun is not None:
        chosen &= LedgerChange.noun == noun
    return _changed(LedgerChange.select().where(chosen))


def _changed(rows: Any) -> Iterator[Changed]:
    """Rows of the ledger in the order in which they were written."""
    for c in rows.order_by(LedgerChange.id):
        yield Changed(c.noun, json.loads(c.key), c.before, c.after, c.derived, c.entry_id)


def changes_after(week: str, seq: int, noun: str) -> Iterator[Changed]:
    """What the deeds of a week after one changed of a noun, in their order."""
    rows = LedgerChange.select().join(LedgerEntry).where(_of_week(week) & (LedgerEntry.seq > seq))
    return _changed(rows.where(LedgerChange.noun == noun))


def changes_by(week: str, seq: int, noun: str) -> list[Changed] | None:
    """What one deed of a week changed of a noun, in the order in which it was written; None where there is
    no such deed."""
    of_noun = (LedgerChange.entry == LedgerEntry.id) & (LedgerChange.noun == noun)
    columns = (LedgerChange.key, LedgerChange.before, LedgerChange.after, LedgerChange.derived)
    rows = (
        LedgerEntry.select(LedgerEntry.id, LedgerChange.id, *columns)
        .left_outer_join(LedgerChange, on=of_noun)
        .where(_of_week(week) & (LedgerEntry.seq == seq))
        .order_by(LedgerChange.id)
    )
    found = list(rows.tuples())
    if not found:
        return None
    return [
        Changed(noun, json.loads(key), before, after, derived, entry)
        for entry, change, key, before, after, derived in found
        if change is not None
    ]


def changes_of_numbers(numbers: Iterable[int]) -> list[Changed] | None:
    """What deeds changed, without before and after; None where one of them does not say."""
    wanted = sorted(set(numbers))
    if not wanted:
        return []
    rows = LedgerChange.select(LedgerChange.entry, LedgerChange.noun, LedgerChange.key, LedgerChange.derived)
    chosen = rows.where(LedgerChange.entry.in_(wanted)).tuples()
    found = [
        Changed(noun, json.loads(key), None, None, derived, entry) for entry, noun, key, derived in chosen
    ]
    return found if {c.entry for c in found} == set(wanted) else None


def key_text(key: Iterable[Any]) -> str:
    """A key as the ledger's rows have it: what belongs to a record begins like the record's own key."""
    return json.dumps(list(key), ensure_ascii=False, separators=(",", ":"))


def of_record(noun: str, key: list[Any], also: Iterable[str] = ()) -> Expression:
    """Changes of a record, of those that it owns, and of `also`, nouns whose keys begin with its own."""
    own = key_text(key)
    parts = [n.name for n in NOUNS.values() if n.owner == noun] + list(also)
    mine = (LedgerChange.noun == noun) & (LedgerChange.key == own)
    begins, after_all = f"{own[:-1]},", f"{own[:-1]}-"  # "-" is the sign after ","
    inside = (LedgerChange.key >= begins) & (LedgerChange.key < after_all)
    return mine | (LedgerChange.noun.in_(parts or [""]) & inside)


def who_did(entry: LedgerEntry) -> str:
    """The name of whoever did it."""
    return str(entry.account.full_name) if entry.account_id else "Nundine"
