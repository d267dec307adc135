"""The log of commands: each edit of a week is one entry with its inverse; undo, audit and conflict checks use it alone."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from nundine.services.errors import Refused, Stale
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset, AssetWindow
from nundine.store.base import db
from nundine.store.placement import Key, load_placements, write_placements
from nundine.store.roster import Absence, Person
from nundine.store.site import touch
from nundine.store.week import Command, Event, Week
from nundine.store.work_order import Task, WorkOrder

TASK_FIELDS = ("state", "hours_spent", "hours_left")
ANSWER_FIELDS = ("answer", "answer_by", "remark")


@dataclass
class Change:
    """One thing before and after; None = not there. `entity`: placement, absence, task, order, window or week."""

    entity: str
    id: list[Any]
    before: dict[str, Any] | None
    after: dict[str, Any] | None

    def inverse(self) -> Change:
        return Change(self.entity, self.id, self.after, self.before)


@dataclass
class Edit:
    """What a command wants: changes, and the jobs and person-days that it touches."""

    kind: str
    label: str
    changes: list[Change]
    touches: set[str] = field(default_factory=set)

    def all_touches(self) -> set[str]:
        found = set(self.touches)
        for c in self.changes:
            if c.entity in ("placement", "task", "order"):
                found.add(f"job {c.id[0]}")
            if c.entity == "week":
                found.add("week")
            if c.entity == "window":
                found.add(f"window {' '.join(c.id)}")
            for side in (c.before, c.after):
                for seat in (side or {}).get("people", ()):
                    if seat["id"]:
                        found.add(f"person {seat['id']} {side['day']}")  # type: ignore[index]
            if c.entity == "absence":
                found.add(f"person {c.id[0]} {str((c.after or c.before or {}).get('day', ''))}")
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
        if locked.status == "closed":
            raise Refused("closed", f"Week {locked.name} is closed and can only be read.")
        touches = edit.all_touches()
        if seen is not None and seen < locked.edits:
            _refuse_touched(locked, account, touches, seen)
        _refuse_changed(locked, edit.changes)
        _write(locked, edit.changes)
        command = Command.create(
            week=locked, seq=locked.edits + 1, account=account, at=settings().now(), kind=edit.kind, label=edit.label,
            changes=[vars(c) for c in edit.changes], touches=sorted(touches), undoes=undoes,
        )  # fmt: skip
        Week.update(edits=locked.edits + 1).where(Week.id == locked.id).execute()
        tell(locked.name, "edit", {"edits": locked.edits + 1, "label": edit.label, "by": account.full_name, "jobs": _jobs(touches)})
    return command


def _jobs(touches: set[str]) -> list[str]:
    return sorted(t[4:] for t in touches if t.startswith("job "))[:200]


def tell(week: str, kind: str, body: dict[str, Any]) -> None:
    """An event for all who have the week open."""
    Event.create(week=week, kind=kind, body=body, at=settings().now())


def _refuse_touched(week: Week, account: Account, touches: set[str], seen: int) -> None:
    later = Command.select(Command, Account).join(Account).where((Command.week == week) & (Command.seq > seen) & (Command.account != account))
    for other in later:
        both = touches & set(other.touches)
        if both:
            what = ", ".join(sorted(both)[:3])
            text = f"{other.account.full_name} changed this meanwhile: {other.label} ({what}). Look at the week as it is now and repeat your edit if you still want it."
            raise Stale("changed", text, by=other.account.full_name, label=other.label, what=sorted(both))


def _refuse_changed(week: Week, changes: list[Change]) -> None:
    jobs = {c.id[0] for c in changes if c.entity == "placement"}
    rows = load_placements(week, jobs) if jobs else {}
    for c in changes:
        if c.entity == "placement" and rows.get(_key(c.id)) != c.before:
            raise Stale("changed", f"{c.id[0]} task {c.id[1]} was changed meanwhile. Look at the week as it is now.", what=[f"job {c.id[0]}"])
        if c.entity == "week" and c.before is not None and week.status != c.before["status"]:
            raise Stale("changed", f"The week is {week.status} by now.", what=["week"])
        if c.entity == "window":
            window = window_of(c.id)
            if {k: getattr(window, k) for k in ANSWER_FIELDS} != c.before:
                raise Stale("changed", f"An answer on this window of {c.id[0]} was recorded meanwhile.", what=[f"window {' '.join(c.id)}"])
        if c.entity == "task":
            task = _task(c.id)
            if c.before is not None and {k: getattr(task, k) for k in TASK_FIELDS} != c.before:
                raise Stale("changed", f"Progress of {c.id[0]} task {c.id[1]} was reported meanwhile.", what=[f"job {c.id[0]}"])


def _key(id_: list[Any]) -> Key:
    return (str(id_[0]), str(id_[1]), int(id_[2]))


def _task(id_: list[Any]) -> Task:
    found = Task.select().join(WorkOrder).where((WorkOrder.number == id_[0]) & (Task.number == id_[1])).first()
    if found is None:
        raise Refused("task", f"There is no task {id_[1]} of {id_[0]}.")
    return found


def window_of(id_: list[Any]) -> AssetWindow:
    """The window of an asset by its key, kind and start."""
    found = (
        AssetWindow.select()
        .join(Asset)
        .where((Asset.key == id_[0]) & (AssetWindow.kind == id_[1]) & (AssetWindow.start == datetime.fromisoformat(id_[2])))
        .first()
    )
    if found is None:
        raise Refused("window", f"There is no such window of {id_[0]} any more.")
    return found


def _write(week: Week, changes: list[Change]) -> None:
    write_placements(week, {_key(c.id): c.after for c in changes if c.entity == "placement"})
    for c in changes:
        if c.entity == "absence":
            person = Person.get(Person.key == c.id[0])
            start = datetime.fromisoformat(c.id[1])
            Absence.delete().where((Absence.person == person) & (Absence.start == start)).execute()
            if c.after is not None:
                Absence.create(person=person, start=start, end=datetime.fromisoformat(c.after["end"]), reason=c.after["reason"])
            touch(people=True)
        elif c.entity == "task" and c.after is not None:
            Task.update(**c.after).where(Task.id == _task(c.id).id).execute()
            _order_follows(c.id[0])
            touch(work=True)
        elif c.entity == "window" and c.after is not None:
            AssetWindow.update(**c.after).where(AssetWindow.id == window_of(c.id).id).execute()
        elif c.entity == "order" and c.after is not None:
            earliest = datetime.fromisoformat(c.after["earliest"]) if c.after["earliest"] else None
            WorkOrder.update(earliest=earliest).where(WorkOrder.number == c.id[0]).execute()
            touch(work=True)
        elif c.entity == "week" and c.after is not None:
            Week.update(status=c.after["status"]).where(Week.id == week.id).execute()


def _order_follows(number: str) -> None:
    """A WO is under way with its first task begun and done with its last one finished."""
    order = WorkOrder.get(WorkOrder.number == number)
    states = {t.state for t in order.tasks}
    state = "approved"
    if states <= {"done", "skipped"}:
        state = "done"
    elif states & {"under way", "done"}:
        state = "under way"
    WorkOrder.update(state=state).where(WorkOrder.id == order.id).execute()


def undo(week: Week, account: Account) -> Command:
    """Take back one's own last command, or say what stands on it."""
    last = (
        Command.select()
        .where((Command.week == week) & (Command.account == account) & ~Command.undone & Command.undoes.is_null())
        .order_by(Command.seq.desc())
        .first()
    )
    if last is None:
        raise Refused("nothing", "There is nothing of yours to undo in this week.")
    return _reverse(week, account, last, "undo")


def redo(week: Week, account: Account) -> Command:
    """Repeat what one undid last, unless one has edited since."""
    own = Command.select().where((Command.week == week) & (Command.account == account) & ~Command.undone).order_by(Command.seq.desc())
    last = own.where(Command.undoes.is_null(False)).first()
    edited = own.where(Command.undoes.is_null() & (Command.kind != "redo")).first()
    if last is None or (edited is not None and edited.seq > last.seq):
        raise Refused("nothing", "There is nothing to redo: your last step was not an undo.")
    return _reverse(week, account, last, "redo")


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
                "stands on", f"{word.capitalize()} is not possible: {other.account.full_name} did “{other.label}” on top of it.", what=sorted(both)
            )
    changes = [Change(**c).inverse() for c in reversed(last.changes)]
    label = last.label.removeprefix("Undo: ").removeprefix("Redo: ")
    with db.atomic():
        made = run(week, account, Edit(word, f"{word.capitalize()}: {label}", changes), None, undoes=last.seq if word == "undo" else None)
        Command.update(undone=True).where(Command.id == last.id).execute()
    return made
