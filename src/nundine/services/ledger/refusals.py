"""Why a command is not taken: others changed the same, it found what is no more, or a record can not go
where it would."""

from __future__ import annotations

from nundine.core.lifecycle import CHARGING, CLOSING, HAND, LIFECYCLES, PUBLISHING, TASKS
from nundine.services.errors import Refused, Stale
from nundine.services.ledger.edits import Change, Edit, by_noun, placement_key, touched_by
from nundine.services.ledger.entries import who_did
from nundine.services.ledger.nouns import NOUNS, PLACEMENT
from nundine.services.ledger.values import same_fields
from nundine.store.account import Account
from nundine.store.ledger import LedgerEntry, stream_of_week
from nundine.store.placement import load_placements
from nundine.store.week import Week


def refuse_touched(week: Week, touches: set[str], seen: int) -> None:
    """Raises Stale if what an edit touches was changed after what its sender had seen, in another tab of
    one's own too."""
    later = (LedgerEntry.stream == stream_of_week(week.name)) & (LedgerEntry.seq > seen)
    for other in LedgerEntry.select(LedgerEntry, Account).left_outer_join(Account).where(later):
        both = touches & set(other.touches)
        if both:
            what, who = ", ".join(sorted(both)[:3]), who_did(other)
            text = (
                f"{who} changed this meanwhile: {other.label} ({what}). Look at the week as it is now "
                "and repeat your edit if you still want it."
            )
            raise Stale("changed", text, by=who, label=other.label, what=sorted(both))


def refuse_unlawful(edit: Edit) -> None:
    """Raises Refused for a record that would go where its lifecycle has no way; what is taken back goes the
    way that it came."""
    for c in edit.changes:
        cycle = LIFECYCLES.get(c.noun)
        if cycle is None or c.before is None or c.after is None or cycle.state not in c.after:
            continue
        start, end = c.before[cycle.state], c.after[cycle.state]
        ways = (HAND, TASKS, PUBLISHING, CLOSING, CHARGING) if edit.kind in ("undo", "redo") else (edit.by,)
        there = any(cycle.move(start, end, by) for by in ways)
        back = edit.kind in ("undo", "redo") and any(cycle.move(end, start, by) for by in ways)
        if start != end and not there and not back:
            name = NOUNS[c.noun].told(tuple(c.key))
            ends = " or ".join(cycle.ends(start, edit.by)) or "nothing else"
            raise Refused("state", f"{name} is {start}; it can become {ends}.", field=cycle.state)


def refuse_changed(week: Week | None, changes: list[Change]) -> None:
    """What is stored must be what the command saw."""
    for name, group in by_noun(changes).items():
        if name == PLACEMENT:
            assert week is not None, "placements belong to a week"
            _refuse_moved(week, group)
            continue
        noun = NOUNS[name]
        seen = {name for c in group for name in (c.before or ())}
        stored = noun.read([tuple(c.key) for c in group], seen)
        for c in group:
            row = stored.get(tuple(c.key))
            if not same_fields(noun.encoded(row) if row else None, c.before):
                text = f"{noun.told(tuple(c.key))} was changed meanwhile. Look at it as it is now."
                raise Stale("changed", text, what=sorted(touched_by(c)))


def _refuse_moved(week: Week, changes: list[Change]) -> None:
    rows = load_placements(week, {c.key[0] for c in changes})
    for c in changes:
        if rows.get(placement_key(c.key)) != c.before:
            text = f"{c.key[0]} task {c.key[1]} was changed meanwhile. Look at the week as it is now."
            raise Stale("changed", text, what=[f"job {c.key[0]}"])
