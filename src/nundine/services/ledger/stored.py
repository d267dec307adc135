"""Records as they stand, in the fields that commands keep, and the changes that lead from them to what is
wanted."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from nundine.services.ledger.edits import Change
from nundine.services.ledger.noun import Key, Row
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.values import encode, same


def stored(noun: str, key: list[Any]) -> dict[str, Any] | None:
    """A record in encoded fields; None where it is not there."""
    row = NOUNS[noun].read([tuple(key)]).get(tuple(key))
    return NOUNS[noun].encoded(row) if row else None


def changes_to(noun: str, wanted: dict[Key, Row], before: dict[Key, Row] | None = None) -> list[Change]:
    """The changes that make records as wanted, of those alone that are not so yet.

    Parameters
    ----------
    wanted
        By key the fields wanted, as Python values; whole rows for records that are not there.
    before
        Rows as they stand, where the caller has read them.
    """
    kind = NOUNS[noun]
    said = {name for row in wanted.values() for name in row}
    there = kind.read(list(wanted), fields=said) if before is None else before
    out = []
    for key, row in wanted.items():
        old = there.get(key)
        names = {f.name for f in kind.fields} & row.keys()
        after = {n: encode(row[n]) for n in names}
        if old is None:
            out.append(Change(noun, list(key), None, after))
            continue
        had = {n: encode(old[n]) for n in names}
        differ = sorted(n for n in names if not same(had[n], after[n]))
        if differ:
            out.append(Change(noun, list(key), {n: had[n] for n in differ}, {n: after[n] for n in differ}))
    return out


def removals(noun: str, keys: Collection[Key]) -> list[Change]:
    """The changes that take records away."""
    kind = NOUNS[noun]
    return [Change(noun, list(k), kind.encoded(row), None) for k, row in kind.read(keys).items()]
