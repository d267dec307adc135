"""An export against what is here: new, changed field by field, unchanged, vanished."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.difference import Difference, difference, plain_value
from nundine.core.week.problem import After
from nundine.core.week.problem import Task as CoreTask
from nundine.core.work import in_order
from nundine.formats.foreign.mapping import ForeignMapping, questions
from nundine.formats.foreign.understand import Understood
from nundine.services.errors import Refused
from nundine.services.exchange.foreign.answers import (
    ChangedOrder,
    FieldCount,
    ForeignDifference,
    NewRecord,
    TitledOrder,
)
from nundine.services.exchange.foreign.difference_list import keep
from nundine.services.exchange.foreign.files import new_records, read, table_of
from nundine.services.exchange.foreign.in_words import SHOWN, label_of, lines_of
from nundine.services.exchange.stored_rows import standing_work
from nundine.store.foreign import Bringing
from nundine.store.placement import placed_in
from nundine.store.site import site
from nundine.store.work_order import OPEN_STATES, WorkOrder


@dataclass(frozen=True)
class Decision:
    """What to do with each kind of difference. `both`: fields changed here and there; `fields`: those to
    leave as they are here."""

    new: bool = True
    changed: bool = True
    both: str = "ours"
    vanished: str = "leave"
    fields: tuple[str, ...] = ()
    without_bad_rows: bool = False


@dataclass
class Compared:
    """All of an export against what is here: rows of ours by number, and how theirs differ."""

    orders: dict[str, dict[str, Any]]
    tasks: dict[str, dict[str, dict[str, Any]]]
    new: list[str] = field(default_factory=list)
    changed: list[Difference] = field(default_factory=list)
    unchanged: int = 0
    kept: int = 0
    vanished: list[str] = field(default_factory=list)


def usable(one: Bringing, mapping: ForeignMapping, decision: Decision) -> Understood:
    """What may come in. Raises Refused while questions are open or rows have problems."""
    open_ = questions(table_of(one), mapping)
    if open_:
        raise Refused("question", open_[0].text, field=open_[0].what)
    said = read(one, mapping)
    if said.problems and not decision.without_bad_rows:
        first = said.problems[0]
        where = f"row {first.row}, {first.column}: " if first.row else ""
        raise Refused(
            "rows",
            f"{len(said.problems)} rows are not understood ({where}{first.text}). Give the words a "
            "meaning, or leave these WOs out.",
        )
    said = said.without_problems() if said.problems else said
    if not said.orders:
        raise Refused(
            "empty", "No work order was understood in this file. Look at the columns that were chosen."
        )
    for number, tasks in said.tasks.items():
        try:
            in_order(
                [
                    CoreTask(t, 1.0, after=tuple(After(b, lag) for b, lag in v["after"]))
                    for t, v in tasks.items()
                ]
            )
        except ValueError as bad:
            raise Refused("order", f"Row {said.rows[number]}, {number}: {bad}") from bad
    return said


def theirs(said: Understood, number: str) -> dict[str, Any]:
    """What the export tells of a WO, and what of it was guessed."""
    return {
        "fields": plain_value(said.orders[number]),
        "tasks": plain_value(said.tasks.get(number, {})),
        "guessed": sorted(said.guessed.get(number, ())),
    }


def compare(said: Understood, source: str) -> Compared:
    """New, changed field by field, unchanged and vanished WOs of a source."""
    orders, tasks = ours = standing_work(set(said.orders))
    told = {
        w.number: w.imported
        for w in WorkOrder.select(WorkOrder.number, WorkOrder.imported).where(
            WorkOrder.imported.is_null(False) & (WorkOrder.number.in_(list(said.orders)))
        )
    }
    out = Compared(*ours)
    for number in said.orders:
        if number not in orders:
            out.new.append(number)
            continue
        here = {"fields": plain_value(orders[number]), "tasks": plain_value(tasks.get(number, {}))}
        one = difference(number, told.get(number), here, theirs(said, number))
        out.kept += one.kept
        if one.any:
            out.changed.append(one)
        else:
            out.unchanged += 1
    if source:
        gone = (
            WorkOrder.select(WorkOrder.number)
            .where((WorkOrder.source == source) & WorkOrder.state.in_(OPEN_STATES))
            .order_by(WorkOrder.number)
        )
        out.vanished = [w.number for w in gone if w.number not in said.orders]
    return out


def compared(one: Bringing, mapping: ForeignMapping, decision: Decision) -> ForeignDifference:
    """The difference in words, the first of each kind; the list of all its rows is kept with the file."""
    said, zone = usable(one, mapping, decision), ZoneInfo(site().timezone)
    made = compare(said, mapping.name)
    changed = [d.number for d in made.changed]
    placed = placed_in(changed + made.vanished)
    titles = dict(
        WorkOrder.select(WorkOrder.number, WorkOrder.title)
        .where(WorkOrder.number.in_((changed + made.vanished) or [""]))
        .tuples()
    )
    records = new_records(said)
    keep(one, _rows(made, said, records, titles, placed, zone))
    by_field = Counter(c.field for d in made.changed for c in d.changes)
    return ForeignDifference(
        new=[TitledOrder(n, said.orders[n]["title"]) for n in made.new[:SHOWN]],
        new_count=len(made.new),
        changed=[
            ChangedOrder(d.number, titles.get(d.number, ""), placed.get(d.number), lines_of(d, zone))
            for d in made.changed[:SHOWN]
        ],
        changed_count=len(made.changed),
        unchanged=made.unchanged,
        kept=made.kept,
        both=sum(c.by_hand for d in made.changed for c in d.changes),
        fields=[FieldCount(f, label_of(f), n) for f, n in by_field.most_common()],
        vanished=[TitledOrder(n, titles.get(n, ""), placed.get(n)) for n in made.vanished[:SHOWN]],
        vanished_count=len(made.vanished),
        made=records,
    )


def _rows(
    made: Compared,
    said: Understood,
    records: list[NewRecord],
    titles: dict[str, str],
    placed: dict[str, str],
    zone: ZoneInfo,
) -> list[dict[str, Any]]:
    """Rows of the list: fields that changed, WOs that vanished or are new, records made with them."""
    rows: list[dict[str, Any]] = [
        {
            "what": "changed",
            "number": d.number,
            "title": titles.get(d.number),
            "field": line.what,
            "decided": line.field,
            "here": line.before,
            "there": line.after,
            "week": placed.get(d.number),
            "by_hand": line.by_hand,
        }
        for d in made.changed
        for line in lines_of(d, zone)
    ]
    rows += [
        {"what": "vanished", "number": n, "title": titles.get(n), "week": placed.get(n)}
        for n in made.vanished
    ]
    rows += [
        {"what": "made", "number": r.key, "title": r.name, "field": r.kind, "there": r.area} for r in records
    ]
    return rows + [{"what": "new", "number": n, "title": said.orders[n]["title"]} for n in made.new]
