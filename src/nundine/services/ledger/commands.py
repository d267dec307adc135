"""Commands: every write is one, with its inverse, in a stream; it is done whole and stands in the ledger, or
nothing is changed."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

from nundine.core.lifecycle import CLOSING, HAND, LIFECYCLES, TASKS
from nundine.services import derived
from nundine.services.errors import Refused, Stale
from nundine.services.ledger.entries import changes_of, own_that_stand, standing_after
from nundine.services.ledger.noun import Key
from nundine.services.ledger.nouns import ELSEWHERE, LISTED, NOUNS, PLACEMENT
from nundine.services.ledger.values import same_fields
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.ledger import LedgerChange, LedgerEntry, stream_of_week
from nundine.store.placement import Key as PlacementKey
from nundine.store.placement import load_placements, write_placements
from nundine.store.week import Event, Week

FROM_ANOTHER_WEEK = "from another week"
"""The kind of a command that another week's command made here; it is undone there."""
MOST_NAMED = 200
"""Records that an event names; who hears of more looks at all of them again."""


@dataclass
class Change:
    """One record before and after, in encoded fields; None = not there. `noun`: placement, elsewhere, or one
    of NOUNS.

    Where it is there before and after, both hold the fields that change, and may hold more. `derived`: it
    follows from the others, so it is not taken back but follows anew.
    """

    noun: str
    key: list[Any]
    before: dict[str, Any] | None
    after: dict[str, Any] | None
    derived: bool = False

    def inverse(self) -> Change:
        return Change(self.noun, self.key, self.after, self.before)


@dataclass
class Edit:
    """What a command wants: changes, and the jobs and person-days that it touches; `notes` tell what it could
    not do."""

    kind: str
    label: str
    changes: list[Change]
    touches: set[str] = field(default_factory=set)
    notes: tuple[str, ...] = ()
    by: str = HAND
    """What moves records from state to state: see `core.lifecycle`."""

    def all_touches(self) -> set[str]:
        return self.touches.union(*(touched_by(c) for c in self.changes))


OF_A_JOB = (PLACEMENT, "task", "work order")
OF_ITSELF = ("person", "area", "craft", "tool", "asset", "site", "account")


def touched_by(c: Change) -> set[str]:
    """Jobs, person-days, persons and windows that a change touches."""
    found = set()
    if c.noun in OF_A_JOB:
        found.add(f"job {c.key[0]}")
    elif c.noun == ELSEWHERE:
        found.add(f"job {c.key[1]}")
    elif c.noun == "week":
        found.add("week")
    elif c.noun == "window":
        found.add(f"window {' '.join(c.key)}")
    elif c.noun in OF_ITSELF:
        found.add(f"{c.noun} {c.key[0]}")
    else:
        found.add(f"person {c.key[0]} {str((c.after or c.before or {}).get('day', ''))}")
    for side in (c.before, c.after):
        if c.noun == PLACEMENT and side:
            found |= {f"person {seat['id']} {side['day']}" for seat in side["people"] if seat["id"]}
    return found


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

    Parameters ---------- seen The number of the week's newest edit that its sender had seen; None where
    nothing can have come between.

    Raises
    ------
    Stale
        If others changed what it touches after `seen`, or what is stored is no more as the edit found it.
    """
    with db.atomic():
        locked = Week.select().where(Week.id == week.id).for_update().get()
        if locked.status == "closed" and edit.kind != "reopen":
            raise Refused("closed", f"Week {locked.name} is closed and can only be read.")
        touches = edit.all_touches()
        if seen is not None and seen < locked.edits:
            _refuse_touched(locked, touches, seen)
        here = [c for c in edit.changes if c.noun != ELSEWHERE]
        _refuse_changed(locked, here)
        seq = locked.edits + 1
        entry = _enter(stream_of_week(locked.name), seq, account, edit, locked, undoes, redoes)
        Week.update(edits=seq).where(Week.id == locked.id).execute()
        by = account.full_name if account else "Nundine"
        tell(locked.name, "edit", {"edits": seq, "label": edit.label, "by": by, "jobs": _jobs(touches)})
        _run_elsewhere(account, edit)
    return entry


def write(
    stream: str, account: Account | None, edit: Edit, *, work: bool = False, checked: bool = False
) -> LedgerEntry:
    """Write an edit of records that belong to no week, in the stream of a record or of what brought it in.

    The caller has locked what it read, and is in a transaction. With `work` all work counts as changed;
    `checked` says that what the edit found was read in this very transaction.

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
        _refuse_changed(None, edit.changes)
    return _enter(stream, None, account, edit, None, None, None, work)


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
    _refuse_unlawful(edit)
    changes = [*edit.changes, *_stored(week, edit.changes)]
    people, work = _matters(changes)
    work = work or all_work
    revisions = _counted_up(changes)
    entry = LedgerEntry.create(
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
    for n in range(0, len(rows), 1000):
        LedgerChange.insert_many(rows[n : n + 1000]).execute()
    if week is None and (people or work):
        named = [[c.noun, c.key] for c in changes[:MOST_NAMED]]
        tell("", "records", {"records": named, "all": len(changes) > MOST_NAMED})
    return entry


def note(stream: str, account: Account | None, kind: str, label: str) -> None:
    """Say in the ledger what happened without a change of a record, as a sign-in."""
    LedgerEntry.create(
        stream=stream, account=account, at=settings().now(), kind=kind, label=label[:300], touches=[]
    )


def key_text(key: Iterable[Any]) -> str:
    """A key as the ledger's rows have it: what belongs to a record begins like the record's own key."""
    return json.dumps(list(key), ensure_ascii=False, separators=(",", ":"))


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


def _refuse_touched(week: Week, touches: set[str], seen: int) -> None:
    """Raises Stale if what an edit touches was changed after what its sender had seen, in another tab of
    one's own too."""
    later = (LedgerEntry.stream == stream_of_week(week.name)) & (LedgerEntry.seq > seen)
    for other in LedgerEntry.select(LedgerEntry, Account).left_outer_join(Account).where(later):
        both = touches & set(other.touches)
        if both:
            what, who = ", ".join(sorted(both)[:3]), _who(other)
            text = f"{who} changed this meanwhile: {other.label} ({what}). Look at the week as it is now and repeat your edit if you still want it."
            raise Stale("changed", text, by=who, label=other.label, what=sorted(both))


def _who(entry: LedgerEntry) -> str:
    return str(entry.account.full_name) if entry.account_id else "Nundine"


def _refuse_unlawful(edit: Edit) -> None:
    """Raises Refused for a record that would go where its lifecycle has no way; what is taken back goes the
    way that it came."""
    for c in edit.changes:
        cycle = LIFECYCLES.get(c.noun)
        if cycle is None or c.before is None or c.after is None or cycle.state not in c.after:
            continue
        start, end = c.before[cycle.state], c.after[cycle.state]
        ways = (HAND, TASKS, CLOSING) if edit.kind in ("undo", "redo") else (edit.by,)
        there = any(cycle.move(start, end, by) for by in ways)
        back = edit.kind in ("undo", "redo") and any(cycle.move(end, start, by) for by in ways)
        if start != end and not there and not back:
            name = NOUNS[c.noun].told(tuple(c.key))
            ends = " or ".join(cycle.ends(start, edit.by)) or "nothing else"
            raise Refused("state", f"{name} is {start}; it can become {ends}.", field=cycle.state)


def _by_noun(changes: Iterable[Change]) -> dict[str, list[Change]]:
    out: dict[str, list[Change]] = {}
    for c in changes:
        out.setdefault(c.noun, []).append(c)
    return out


def _refuse_changed(week: Week | None, changes: list[Change]) -> None:
    """What is stored must be what the command saw."""
    for name, group in _by_noun(changes).items():
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
        if rows.get(_placement_key(c.key)) != c.before:
            text = f"{c.key[0]} task {c.key[1]} was changed meanwhile. Look at the week as it is now."
            raise Stale("changed", text, what=[f"job {c.key[0]}"])


def _placement_key(key: list[Any]) -> PlacementKey:
    return (str(key[0]), str(key[1]), int(key[2]))


def _stored(week: Week | None, changes: list[Change]) -> list[Change]:
    """Write the changes, and what follows from them by rules; gives the latter."""
    by_noun = _by_noun(changes)
    if week is not None:
        moved = by_noun.get(PLACEMENT, [])
        write_placements(week, {_placement_key(c.key): c.after for c in moved})
    for noun in reversed(LISTED):
        noun.remove([tuple(c.key) for c in by_noun.get(noun.name, ()) if c.after is None])
    for noun in LISTED:
        group = by_noun.get(noun.name, ())
        noun.write({tuple(c.key): noun.decoded(c.after) for c in group if c.after is not None})
    followed = [
        Change("work order", [number], *states, derived=True) for number, states in _followed(by_noun)
    ]
    if followed:
        order = NOUNS["work order"]
        order.write({tuple(c.key): order.decoded(c.after or {}) for c in followed})
    _derive(by_noun)
    return followed


States = tuple[dict[str, Any], dict[str, Any]]


def _followed(by_noun: dict[str, list[Change]]) -> list[tuple[str, States]]:
    """WOs whose state follows from what was reported of their tasks: the state before, and after."""
    reported = {c.key[0] for c in by_noun.get("task", ()) if c.before and "state" in (c.after or {})}
    said = {c.key[0] for c in by_noun.get("work order", ()) if "state" in (c.after or {})}
    found = derived.states_of_orders(reported - said)
    return [(number, ({"state": old}, {"state": new})) for number, (old, new) in found.items() if old != new]


def _derive(by_noun: dict[str, list[Change]]) -> None:
    """Compute anew the columns of WOs that follow from what was changed."""
    if by_noun.keys() & {"asset", "craft"}:
        derived.refresh()
        return
    numbers = {c.key[0] for name in ("work order", "task") for c in by_noun.get(name, ())}
    sides = [side for c in by_noun.get("person", ()) for side in (c.before, c.after) if side]
    crafts = {craft for side in sides for craft, _ in side.get("crafts", ())}
    if crafts:
        numbers |= derived.needing(crafts)
    if numbers:
        derived.refresh(numbers)


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
                f"{word.capitalize()} is not possible: {_who(other)} did “{other.label}” on top of it.",
                what=sorted(both),
            )
    kept = [Change(c.noun, c.key, c.before, c.after) for c in changes_of(last) if not c.derived]
    changes = [c.inverse() for c in reversed(kept)]
    label = last.label.removeprefix("Undo: ").removeprefix("Redo: ")
    edit = Edit(word, f"{word.capitalize()}: {label}", changes)
    taken_back = {"undoes": last.seq} if word == "undo" else {"redoes": last.seq}
    return run(week, account, edit, None, **taken_back)
