"""A write names the revision that it saw; one that saw an older one is refused, with what differs field by
field."""

from __future__ import annotations

import json
from typing import Any

from nundine.services.errors import NotFound, Stale
from nundine.services.ledger.entries import of_record, who_did
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.wording import flattened, shown
from nundine.store.account import Account
from nundine.store.ledger import LedgerChange, LedgerEntry


def need_revision(noun: str, key: list[Any], seen: int) -> None:
    """Lock a record until the caller's transaction ends. Raises NotFound, and Stale if it changed after what
    was seen."""
    kind = NOUNS[noun]
    model: Any = kind.model
    ids = kind.ids([tuple(key)])
    if not ids:
        raise NotFound(noun, f"{kind.told(tuple(key))} is not there.")
    now = model.select(model.revision).where(model.id == ids[tuple(key)]).for_update().scalar()
    if now == seen:
        return
    differs = since(noun, key, seen)
    by = ", ".join(dict.fromkeys(d["by"] for d in differs)) or "somebody"
    raise Stale(
        "changed",
        f"{kind.told(tuple(key))} was changed meanwhile by {by}. Look at what differs; nothing of "
        "yours is lost.",
        revision=now,
        differs=differs,
    )


def since(noun: str, key: list[Any], revision: int) -> list[dict[str, Any]]:
    """What differs of a record, and of those that belong to it, since one of its revisions.

    Returns
    -------
    list
        By field: `record` (the key of the part, empty for the record itself), `field`, `label`, `before` and
        `after` in words, and `by`, who changed it last.
    """
    first: dict[tuple[str, str, str], Any] = {}
    last: dict[tuple[str, str, str], tuple[Any, str]] = {}
    for change, who in _changes(noun, key, revision):
        for field in sorted({*(change.before or {}), *(change.after or {})}):
            at = (str(change.noun), str(change.key), field)
            first.setdefault(at, (change.before or {}).get(field))
            last[at] = ((change.after or {}).get(field), who)
    out = []
    for at, (after, who) in last.items():
        name, text, field = at
        part = json.loads(text)[len(key) :]
        label = NOUNS[name].labels.get(field, field)
        for words, was, now in flattened(label, first[at], after):
            out.append(
                {
                    "record": " ".join(str(p) for p in part),
                    "field": field,
                    "label": words,
                    "before": shown(was),
                    "after": shown(now),
                    "by": who,
                }
            )
    return out


def _changes(noun: str, key: list[Any], revision: int) -> list[tuple[LedgerChange, str]]:
    """Changes of a record and of what belongs to it after a revision, with who made them; oldest first."""
    rows = (
        LedgerChange.select(LedgerChange, LedgerEntry, Account)
        .join(LedgerEntry)
        .left_outer_join(Account)
        .where(of_record(noun, key) & (LedgerChange.revision > revision))
        .order_by(LedgerChange.id)
    )
    return [(c, who_did(c.entry)) for c in rows]
