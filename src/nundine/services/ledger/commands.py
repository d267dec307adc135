"""The log of commands: each edit of a week is one entry with its inverse; undo, audit and conflict checks use it alone."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from peewee import Select

from nundine.services import derived
from nundine.services.errors import Refused, Stale
from nundine.services.ledger.records import ENTITIES, same
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.placement import Key, load_placements, write_placements
from nundine.store.site import touch
from nundine.store.week import Command, Event, Week

ELSEWHERE = "from another week"
"""The kind of a command that another week's command made here; it is undone there."""


@dataclass
class Change:
    """One thing before and after; None = not there. `entity`: placement, or one of ENTITIES."""

    entity: str
    id: list[Any]
    before: dict[str, Any] | None
    after: dict[str, Any] | None

    def inverse(self) -> Change:
        return Change(self.entity, self.id, self.after, self.before)


@dataclass
class Edit:
    """What a command wants: changes, and the jobs and person-days that it touches; `notes` tell what it could not do."""

    kind: str
    label: str
    changes: list[Change]
    touches: set[str] = field(default_factory=set)
    notes: tuple[str, ...] = ()

    def all_touches(self) -> set[str]:
        return self.touches.union(*(touched_by(c) for c in self.changes))


def touched_by(c: Change) -> set[str]:
    """Jobs, person-days, persons and windows that a change touches."""
    found = set()
    if c.entity in ("placement", "task", "order"):
        found.add(f"job {c.id[0]}")
    elif c.entity == "elsewhere":
        found.add(f"job {c.id[1]}")
    elif c.entity == "week":
        found.add("week")
    elif c.entity == "window":
        found.add(f"window {' '.join(c.id)}")
    elif c.entity == "person":
        found.add(f"person {c.id[0]}")
    else:
        found.add(f"person {c.id[0]} {str((c.after or c.before or {}).get('day', ''))}")
    for side in (c.before, c.after):
        if c.entity == "placement" and side:
            found |= {f"person {seat['id']} {side['day']}" for seat in side["people"] if seat["id"]}
    return found


def run(week: Week, account: Account, edit: Edit, seen: int | None, undoes: int | None = None) -> Command:
    """Write an edit in one transaction, or refuse it whole.

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
        here = [c for c in edit.changes if c.entity != "elsewhere"]
        _refuse_changed(locked, here)
        _write(locked, here)
        command = Command.create(
            week=locked, seq=locked.edits + 1, account=account, at=settings().now(), kind=edit.kind, label=edit.label,
            changes=[vars(c) for c in edit.changes], touches=sorted(touches), undoes=undoes,
        )  # fmt: skip
        Week.update(edits=locked.edits + 1).where(Week.id == locked.id).execute()
        tell(
            locked.name,
            "edit",
            {"edits": locked.edits + 1, "label": edit.label, "by": account.full_name, "jobs": _jobs(touches)},
        )
        _run_elsewhere(account, edit)
    return command


def _run_elsewhere(account: Account, edit: Edit) -> None:
    """What a command changes in other weeks is a command of those, in the same transaction: all of it is done, or nothing."""
    of_week: dict[str, list[Change]] = {}
    for c in edit.changes:
        if c.entity == "elsewhere":
            of_week.setdefault(c.id[0], []).append(Change("placement", c.id[1:], c.before, c.after))
    for name, changes in sorted(of_week.items()):
        run(Week.get(Week.name == name), account, Edit(ELSEWHERE, edit.label, changes), None)


def _jobs(touches: set[str]) -> list[str]:
    return sorted(t[4:] for t in touches if t.startswith("job "))[:200]


def tell(week: str, kind: str, body: dict[str, Any]) -> None:
    """An event for all who have the week open."""
    Event.create(week=week, kind=kind, body=body, at=settings().now())


def _refuse_touched(week: Week, touches: set[str], seen: int) -> None:
    """Raises Stale if what an edit touches was changed after what its sender had seen, in another tab of one's own too."""
    later = (
        Command.select(Command, Account).join(Account).where((Command.week == week) & (Command.seq > seen))
    )
    for other in later:
        both = touches & set(other.touches)
        if both:
            what = ", ".join(sorted(both)[:3])
            text = f"{other.account.full_name} changed this meanwhile: {other.label} ({what}). Look at the week as it is now and repeat your edit if you still want it."
            raise Stale("changed", text, by=other.account.full_name, label=other.label, what=sorted(both))


def _refuse_changed(week: Week, changes: list[Change]) -> None:
    """What is stored must be what the command saw."""
    jobs = {c.id[0] for c in changes if c.entity == "placement"}
    rows = load_placements(week, jobs) if jobs else {}
    for c in changes:
        if c.entity == "placement":
            if rows.get(_key(c.id)) != c.before:
                raise Stale(
                    "changed",
                    f"{c.id[0]} task {c.id[1]} was changed meanwhile. Look at the week as it is now.",
                    what=[f"job {c.id[0]}"],
                )
            continue
        entity = ENTITIES[c.entity]
        if not same(entity.read(c.id), c.before):
            raise Stale(
                "changed",
                f"{entity.told(c.id)} was changed meanwhile. Look at it as it is now.",
                what=sorted(touched_by(c)),
            )


def _key(id_: list[Any]) -> Key:
    return (str(id_[0]), str(id_[1]), int(id_[2]))


def _write(week: Week, changes: list[Change]) -> None:
    write_placements(week, {_key(c.id): c.after for c in changes if c.entity == "placement"})
    people = work = False
    for c in changes:
        if c.entity != "placement":
            entity = ENTITIES[c.entity]
            entity.write(c.id, c.after)
            matters = entity.matters(c.before, c.after)
            people, work = people or (entity.people and matters), work or (entity.work and matters)
    numbers = {n for c in changes for n in _derived(c)}
    if numbers:
        derived.refresh(numbers)
    touch(people=people, work=work or bool(numbers))


def _derived(c: Change) -> set[str]:
    """WOs whose hours left or people gate follow from a change."""
    if c.entity == "task":
        return {c.id[0]}
    if c.entity == "person":
        crafts = {craft for side in (c.before, c.after) if side for craft, _ in side["crafts"]}
        return derived.needing(crafts)
    return set()


def undo(week: Week, account: Account) -> Command:
    """Take back one's own last command, or say what stands on it."""
    last = _own(week, account).where(Command.undoes.is_null()).first()
    if last is None:
        raise Refused("nothing", "There is nothing of yours to undo in this week.")
    return _reverse(week, account, last, "undo")


def redo(week: Week, account: Account) -> Command:
    """Repeat what one undid last, unless one has edited since."""
    own = _own(week, account)
    last = own.where(Command.undoes.is_null(False)).first()
    edited = own.where(Command.undoes.is_null() & (Command.kind != "redo")).first()
    if last is None or (edited is not None and edited.seq > last.seq):
        raise Refused("nothing", "There is nothing to redo: your last step was not an undo.")
    return _reverse(week, account, last, "redo")


def _own(week: Week, account: Account) -> Select:
    """One's own commands of the week that stand, newest first; what another week's command made here belongs to that one."""
    mine = (Command.week == week) & (Command.account == account) & (Command.kind != ELSEWHERE)
    return Command.select().where(mine & ~Command.undone).order_by(Command.seq.desc())


def _reverse(week: Week, account: Account, last: Command, word: str) -> Command:
    later = (
        Command.select(Command, Account)
        .join(Account)
        .where((Command.week == week) & (Command.seq > last.seq) & ~Command.undone & Command.undoes.is_null())
    )
    for other in later:
        both = set(last.touches) & set(other.touches)
        if both and not (other.account_id == account.id and word == "redo"):
            raise Stale(
                "stands on",
                f"{word.capitalize()} is not possible: {other.account.full_name} did “{other.label}” on top of it.",
                what=sorted(both),
            )
    changes = [Change(**c).inverse() for c in reversed(last.changes)]
    label = last.label.removeprefix("Undo: ").removeprefix("Redo: ")
    with db.atomic():
        made = run(
            week,
            account,
            Edit(word, f"{word.capitalize()}: {label}", changes),
            None,
            undoes=last.seq if word == "undo" else None,
        )
        Command.update(undone=True).where(Command.id == last.id).execute()
    return made
