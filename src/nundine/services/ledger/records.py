"""What a command may change beside placements: how each thing is named, read and written.

A thing is read as the plain values that commands keep, or None where it is not there; writing None takes it away.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import Any

from nundine.services.errors import Refused
from nundine.store.asset import Asset, AssetWindow
from nundine.store.base import Table
from nundine.store.roster import (
    Absence,
    ExtraShift,
    Loan,
    OvertimeOffer,
    Person,
    PersonCertificate,
    PersonCraft,
)
from nundine.store.site import Area, Craft
from nundine.store.week import Week
from nundine.store.work_order import Task, WorkOrder

Id = list[Any]
Row = dict[str, Any]

TASK_FIELDS = ("state", "hours_spent", "hours_left", "reason", "done_by", "ended")
ANSWER_FIELDS = ("answer", "answer_by", "remark")


@dataclass(frozen=True)
class Entity:
    """`people` and `work` say what is to be read anew after a change of it, `matters` whether this change is one."""

    read: Callable[[Id], Row | None]
    write: Callable[[Id, Row | None], None]
    people: bool = False
    work: bool = False
    told: Callable[[Id], str] = lambda id_: f"{id_[0]}"
    matters: Callable[[Row | None, Row | None], bool] = lambda before, after: True


def text_of(moment: datetime | None) -> str | None:
    return moment.astimezone(UTC).isoformat() if moment else None


def moment_of(text: str | None) -> datetime | None:
    return datetime.fromisoformat(text) if text else None


def person(key: str) -> Person:
    found = Person.get_or_none(Person.key == key)
    if found is None:
        raise Refused("person", f"There is no person {key}.", field="person")
    return found


def task(id_: Id) -> Task:
    found = (
        Task.select().join(WorkOrder).where((WorkOrder.number == id_[0]) & (Task.number == id_[1])).first()
    )
    if found is None:
        raise Refused("task", f"There is no task {id_[1]} of {id_[0]}.")
    return found


def window(id_: Id) -> AssetWindow | None:
    """The window of an asset by its key, kind and start."""
    start = datetime.fromisoformat(id_[2])
    chosen = (Asset.key == id_[0]) & (AssetWindow.kind == id_[1]) & (AssetWindow.start == start)
    return AssetWindow.select().join(Asset).where(chosen).first()  # type: ignore[no-any-return]


def _hours_of(table: type[Table], *also: str) -> Entity:
    """Hours of a person that begin at a moment: absences, overtime, extra shifts."""
    t: Any = table

    def read(id_: Id) -> Row | None:
        found = (
            t.select()
            .join(Person)
            .where((Person.key == id_[0]) & (t.start == datetime.fromisoformat(id_[1])))
            .first()
        )
        return {"end": text_of(found.end), **{k: getattr(found, k) for k in also}} if found else None

    def write(id_: Id, row: Row | None) -> None:
        who, start = person(id_[0]), datetime.fromisoformat(id_[1])
        t.delete().where((t.person == who) & (t.start == start)).execute()
        if row is not None:
            t.create(person=who, start=start, end=moment_of(row["end"]), **{k: row[k] for k in also})

    return Entity(read, write, people=True)


def _read_loan(id_: Id) -> Row | None:
    found = (
        Loan.select(Loan, Area)
        .join(Area)
        .switch(Loan)
        .join(Person)
        .where((Person.key == id_[0]) & (Loan.first == id_[1]))
        .first()
    )
    return {"last": found.last.isoformat(), "area": found.area.key} if found else None


def _write_loan(id_: Id, row: Row | None) -> None:
    who, first = person(id_[0]), date.fromisoformat(id_[1])
    Loan.delete().where((Loan.person == who) & (Loan.first == first)).execute()
    if row is not None:
        Loan.create(
            person=who,
            first=first,
            last=date.fromisoformat(row["last"]),
            area=Area.get(Area.key == row["area"]),
        )


def _read_person(id_: Id) -> Row | None:
    who = person(id_[0])
    crafts = (
        PersonCraft.select(Craft.key, PersonCraft.level)
        .join(Craft)
        .where(PersonCraft.person == who)
        .order_by(PersonCraft.rank)
        .tuples()
    )
    held = (
        PersonCertificate.select()
        .where(PersonCertificate.person == who)
        .order_by(PersonCertificate.certificate)
    )
    return {
        "crafts": [list(c) for c in crafts],
        "certificates": [[c.certificate, c.until.isoformat() if c.until else None] for c in held],
    }


def _write_person(id_: Id, row: Row | None) -> None:
    who = person(id_[0])
    if row is None:
        return
    PersonCraft.delete().where(PersonCraft.person == who).execute()
    PersonCertificate.delete().where(PersonCertificate.person == who).execute()
    for rank, (craft, level) in enumerate(row["crafts"]):
        PersonCraft.create(person=who, craft=Craft.get(Craft.key == craft), level=level, rank=rank)
    for certificate, until in row["certificates"]:
        PersonCertificate.create(
            person=who, certificate=certificate, until=date.fromisoformat(until) if until else None
        )


def task_row(found: Task) -> Row:
    return {**{k: getattr(found, k) for k in TASK_FIELDS}, "ended": text_of(found.ended)}


def _write_task(id_: Id, row: Row | None) -> None:
    if row is None:
        return
    found = task(id_)
    Task.update(**{k: moment_of(v) if k == "ended" else v for k, v in row.items()}).where(
        Task.id == found.id
    ).execute()
    _order_follows(id_[0])


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


def _read_window(id_: Id) -> Row | None:
    found = window(id_)
    return {"end": text_of(found.end), **{k: getattr(found, k) for k in ANSWER_FIELDS}} if found else None


def _write_window(id_: Id, row: Row | None) -> None:
    found = window(id_)
    if row is None:
        if found is not None:
            found.delete_instance()
        return
    values = {k: moment_of(v) if k == "end" else v for k, v in row.items()}
    if found is not None:
        AssetWindow.update(**values).where(AssetWindow.id == found.id).execute()
    else:
        asset = Asset.get(Asset.key == id_[0])
        AssetWindow.create(asset=asset, kind=id_[1], start=datetime.fromisoformat(id_[2]), **values)


def _read_order(id_: Id) -> Row | None:
    found = WorkOrder.get_or_none(WorkOrder.number == id_[0])
    return {"earliest": text_of(found.earliest)} if found else None


def _write_order(id_: Id, row: Row | None) -> None:
    if row is not None:
        WorkOrder.update(earliest=moment_of(row["earliest"])).where(WorkOrder.number == id_[0]).execute()


def _read_week(id_: Id) -> Row | None:
    return {"status": Week.get(Week.name == id_[0]).status}


def _write_week(id_: Id, row: Row | None) -> None:
    if row is not None:
        Week.update(status=row["status"]).where(Week.name == id_[0]).execute()


def _window_matters(before: Row | None, after: Row | None) -> bool:
    """An answer changes no hours."""
    return before is None or after is None or before.get("end") != after.get("end")


def _task_told(id_: Id) -> str:
    return f"{id_[0]} task {id_[1]}"


def _window_told(id_: Id) -> str:
    return f"This {id_[1]} window of {id_[0]}"


def _person_told(id_: Id) -> str:
    return f"{person(id_[0]).name}"


ENTITIES: dict[str, Entity] = {
    "absence": _hours_of(Absence, "reason"),
    "overtime": _hours_of(OvertimeOffer),
    "extra shift": _hours_of(ExtraShift),
    "loan": Entity(_read_loan, _write_loan, people=True, told=_person_told),
    "person": Entity(_read_person, _write_person, people=True, told=_person_told),
    "task": Entity(lambda id_: task_row(task(id_)), _write_task, work=True, told=_task_told),
    "window": Entity(_read_window, _write_window, work=True, told=_window_told, matters=_window_matters),
    "order": Entity(_read_order, _write_order, work=True),
    "week": Entity(_read_week, _write_week, told=lambda _: "The week"),
}


def same(row: Row | None, seen: Row | None) -> bool:
    """Whether what is stored is what the command saw; a command of older days knew fewer fields."""
    if row is None or seen is None:
        return row is seen
    return all(_plain(row[k]) == _plain(seen[k]) for k in row.keys() & seen.keys())


def _plain(value: Any) -> Any:
    """Moments are the same however their zone is written."""
    if isinstance(value, str) and len(value) > 10 and value[4:5] == "-" and "T" in value:
        try:
            return datetime.fromisoformat(value)
        except ValueError:
            return value
    return value
