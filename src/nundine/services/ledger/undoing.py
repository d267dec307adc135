"""Taking back one's own last command of a week, and doing again what one took back."""

from __future__ import annotations

from nundine.services.errors import Refused, Stale
from nundine.services.ledger.commands import FROM_ANOTHER_WEEK, run
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.entries import changes_of, own_that_stand, standing_after, who_did
from nundine.store.account import Account
from nundine.store.ledger import LedgerEntry
from nundine.store.week import Week


def undo(week: Week, account: Account) -> LedgerEntry:
    """Take back one's own last command, or say what stands on it."""
    last = next(
        (e for e in own_that_stand(week.name, account, but=FROM_ANOTHER_WEEK) if e.undoes is None), None
    )
    if last is None:
        raise Refused("nothing", "There is nothing of yours to undo in this week.")
    return _reverse(week, account, last, "undo")


def redo(week: Week, account: Account) -> LedgerEntry:
    """Repeat what one undid last, unless one has edited since."""
    own = own_that_stand(week.name, account, but=FROM_ANOTHER_WEEK)
    last = next((e for e in own if e.undoes is not None), None)
    edited = next((e for e in own if e.undoes is None and e.kind != "redo"), None)
    if last is None or (edited is not None and edited.seq > last.seq):
        raise Refused("nothing", "There is nothing to redo: your last step was not an undo.")
    return _reverse(week, account, last, "redo")


def _reverse(week: Week, account: Account, last: LedgerEntry, word: str) -> LedgerEntry:
    for other in standing_after(week.name, last.seq):
        both = set(last.touches) & set(other.touches)
        if both and not (other.account_id == account.id and word == "redo"):
            raise Stale(
                "stands on",
                f"{word.capitalize()} is not possible: {who_did(other)} did “{other.label}” on top of it.",
                what=sorted(both),
            )
    kept = [Change(c.noun, c.key, c.before, c.after) for c in changes_of(last) if not c.derived]
    changes = [c.inverse() for c in reversed(kept)]
    label = last.label.removeprefix("Undo: ").removeprefix("Redo: ")
    edit = Edit(word, f"{word.capitalize()}: {label}", changes)
    taken_back = {"undoes": last.seq} if word == "undo" else {"redoes": last.seq}
    return run(week, account, edit, None, **taken_back)
