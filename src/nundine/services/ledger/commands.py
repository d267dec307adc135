"""Commands: every write is one, with its inverse, in a stream; it is done whole and stands in the ledger, or
nothing is changed."""

from __future__ import annotations

from typing import Any

from nundine.services.errors import Refused
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.entries import key_text
from nundine.services.ledger.following import store
from nundine.services.ledger.noun import Key
from nundine.services.ledger.nouns import ELSEWHERE, NOUNS, PLACEMENT
from nundine.services.ledger.refusals import refuse_changed, refuse_touched, refuse_unlawful
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.belonging import SharedRecord
from nundine.store.bulk import insert_rows
from nundine.store.ledger import LedgerChange, LedgerEntry, stream_of_week
from nundine.store.once import read_once
from nundine.store.site import Craft, Tool
from nundine.store.week import Event, Week

FROM_ANOTHER_WEEK = "from another week"
"""The kind of a command that another week's command made here; it is undone there."""
MOST_NAMED = 200
"""Records that an event names; who hears of more looks at all of them again."""


def run(
    week: Week,
    account: Account | None,
    edit: Edit,
    seen: int | None,
    *,
    undoes: int | None = None,
    redoes: int | None = None,
) -> LedgerEntry:
    """Write an edit of a week in one transaction, or refuse it whole.

    Parameters
    ----------
    seen
        The number of the week's newest edit that its sender had seen; None where nothing can have
        come between.

    Raises
    ------
    Stale
        If others changed what it touches after `seen`, or what is stored is no more as the edit found it.
    """
    with db.atomic(), read_once():
        locked = Week.select().where(Week.id == week.id).for_update().get()
        if locked.status == "closed" and edit.kind != "reopen":
            raise Refused("closed", f"Week {locked.name} is closed and can only be read.")
        touches = edit.all_touches()
        if seen is not None and seen < locked.edits:
            refuse_touched(locked, touches, seen)
        here = [c for c in edit.changes if c.noun != ELSEWHERE]
        refuse_changed(locked, here)
        seq = locked.edits + 1
        entry = _enter(stream_of_week(locked.name), seq, account, edit, locked, undoes, redoes)
        Week.update(edits=seq).where(Week.id == locked.id).execute()
        by = account.full_name if account else "Nundine"
        tell(locked.name, "edit", {"edits": seq, "label": edit.label, "by": by, "jobs": _jobs(touches)})
        _run_elsewhere(account, edit)
    return entry


def write(
    stream: str,
    account: Account | None,
    edit: Edit,
    *,
    work: bool = False,
    checked: bool = False,
    undoes: int | None = None,
) -> LedgerEntry:
    """Write an edit of records that belong to no week, in the stream of a record or of what brought it in.

    The caller has locked what it read, and is in a transaction. With `work` all work counts as changed;
    `checked` says that what the edit found was read in this very transaction; `undoes` names the deed of the
    stream that it takes back.

    Raises
    ------
    Stale
        If what is stored is no more as the edit found it.
    """
    if not db.in_transaction():
        raise RuntimeError(
            "what an edit found must be locked until it is written, and there is no transaction"
        )
    if not checked:
        refuse_changed(None, edit.changes)
    with read_once():
        return _enter(stream, None, account, edit, None, undoes, None, work)


def _enter(
    stream: str,
    seq: int | None,
    account: Account | None,
    edit: Edit,
    week: Week | None,
    undoes: int | None,
    redoes: int | None,
    all_work: bool = False,
) -> LedgerEntry:
    """Change what is stored and say so in the ledger."""
    refuse_unlawful(edit)
    changes = [*edit.changes, *store(week, edit.changes)]
    people, work = _matters(changes)
    work = work or all_work
    revisions = _counted_up(changes)
    entry = LedgerEntry.create(
        **_of(stream),
        stream=stream,
        seq=seq,
        account=account,
        at=settings().now(),
        kind=edit.kind,
        label=edit.label[:300],
        touches=sorted(edit.all_touches()) if week else [],
        undoes=undoes,
        redoes=redoes,
        people=people,
        work=work,
    )
    rows = [
        {
            **_of(stream),
            "entry": entry.id,
            "noun": c.noun,
            "key": key_text(c.key),
            "before": c.before,
            "after": c.after,
            "derived": c.derived,
            "revision": revisions.get((c.noun, tuple(c.key))),
        }
        for c in changes
    ]
    insert_rows(LedgerChange, rows)
    if week is None and (people or work or any(NOUNS[c.noun].live for c in changes if c.noun in NOUNS)):
        named = [[c.noun, c.key] for c in changes[:MOST_NAMED]]
        tell("", "records", {"records": named, "all": len(changes) > MOST_NAMED})
    if any(_is_shared(c) for c in changes):
        say_shared_changed(account)
    return entry


SHARED: dict[str, type[SharedRecord]] = {"craft": Craft, "tool": Tool}
"""Nouns whose records may belong to all sites."""


def _is_shared(change: Change) -> bool:
    table = SHARED.get(change.noun)
    if table is None:
        return False
    found = table.select(table.id).where((table.key == change.key[0]) & table.site.is_null())
    return bool(found.exists())


def say_shared_changed(account: Account | None) -> None:
    """Tell all sites that crafts or tools which they share are not as they were: who keeps some in memory
    reads them anew."""
    LedgerEntry.create(
        site=None, stream="shared", account=account, at=settings().now(), kind="set-up", touches=[],
        label="Crafts or tools that all sites share were changed", people=True, work=True,
    )  # fmt: skip
    everything = {"records": [], "all": True}
    Event.create(site=None, week="", kind="records", body=everything, at=settings().now())


def _of(stream: str) -> dict[str, None]:
    """Deeds on accounts belong to no site."""
    return {"site": None} if stream.startswith("account ") else {}


def note(stream: str, account: Account | None, kind: str, label: str) -> None:
    """Say in the ledger what happened without a change of a record, as a sign-in."""
    LedgerEntry.create(
        **_of(stream),
        stream=stream,
        account=account,
        at=settings().now(),
        kind=kind,
        label=label[:300],
        touches=[],
    )


def _run_elsewhere(account: Account | None, edit: Edit) -> None:
    """What a command changes in other weeks is a command of those, in the same transaction: all of it is
    done, or nothing."""
    of_week: dict[str, list[Change]] = {}
    for c in edit.changes:
        if c.noun == ELSEWHERE:
            of_week.setdefault(c.key[0], []).append(Change(PLACEMENT, c.key[1:], c.before, c.after))
    for name, changes in sorted(of_week.items()):
        run(Week.get(Week.name == name), account, Edit(FROM_ANOTHER_WEEK, edit.label, changes), None)


def _jobs(touches: set[str]) -> list[str]:
    return sorted(t[4:] for t in touches if t.startswith("job "))[:200]


def tell(week: str, kind: str, body: dict[str, Any]) -> None:
    """An event for all who have the week open; for everybody where no week is named."""
    Event.create(week=week, kind=kind, body=body, at=settings().now())


def _matters(changes: list[Change]) -> tuple[bool, bool]:
    """Whether people, and whether work, are no longer as the engine knows them."""
    people = work = False
    for c in changes:
        noun = NOUNS.get(c.noun)
        if noun is not None and noun.matters(c.before, c.after):
            people, work = people or noun.people, work or noun.work
    return people, work


def _counted_up(changes: list[Change]) -> dict[tuple[str, Key], int]:
    """The revisions of the records that changed, each once more than before; of those that belong to others,
    their owner's."""
    owners: dict[str, set[Key]] = {}
    for c in changes:
        noun = NOUNS.get(c.noun)
        if noun is not None:
            whole = (noun.owner, tuple(c.key[:1])) if noun.owner else (noun.name, tuple(c.key))
            owners.setdefault(whole[0], set()).add(whole[1])
    counted = {name: NOUNS[name].count_up(keys) for name, keys in owners.items()}
    out: dict[tuple[str, Key], int] = {}
    for c in changes:
        noun = NOUNS.get(c.noun)
        if noun is not None:
            name, key = (noun.owner, tuple(c.key[:1])) if noun.owner else (noun.name, tuple(c.key))
            if key in counted[name]:
                out[(c.noun, tuple(c.key))] = counted[name][key]
    return out
