"""Bringing an export in as decided, in one transaction, as a run that can be watched and stopped."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Collection
from dataclasses import asdict, replace
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.difference import Difference
from nundine.core.lifecycle import FILE
from nundine.formats.foreign.making import MAKEABLE
from nundine.formats.foreign.mapping import ForeignMapping
from nundine.formats.foreign.understand import Understood
from nundine.services.background.run_kinds import background
from nundine.services.background.runs import begin, newest
from nundine.services.background.working import Working
from nundine.services.errors import Refused
from nundine.services.exchange.foreign.answers import BroughtIn, ChangeLine, FileStanding, FileState
from nundine.services.exchange.foreign.compare import Compared, Decision, compare, theirs, usable
from nundine.services.exchange.foreign.files import table_of
from nundine.services.exchange.foreign.in_words import lines_of
from nundine.services.exchange.kinds import KINDS
from nundine.services.exchange.stored_rows import changes_of
from nundine.services.ledger.commands import tell, write
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.noun import Key
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.stored import changes_to
from nundine.services.numbering import WORK_ORDERS, turn
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.belonging import here, site
from nundine.store.foreign import Bringing, OrderChange
from nundine.store.placement import placed_in
from nundine.store.run import Run
from nundine.store.work_order import WorkOrder

KIND = "bring in"
VANISHED = ("leave", "on hold", "cancelled", "done")


def ask(one: Bringing, mapping: ForeignMapping, decision: Decision) -> Run:
    """A run that brings it in. Raises Refused if it can not come in, or is on its way already."""
    before = run_of(one)
    if before is not None and before.state not in ("stopped", "failed"):
        raise Refused(
            "state", f"This file is {state_of(before)} already. Choose it again to bring it in again."
        )
    if decision.vanished not in VANISHED or decision.both not in ("ours", "theirs"):
        raise Refused(
            "decision",
            f"What vanished can be: {', '.join(VANISHED)}; what changed on both sides: ours or theirs.",
        )
    usable(one, mapping, decision)
    asked = {"mapping": mapping.document(), "decision": asdict(decision)}
    return begin(KIND, _target(one), f"bringing in {one.file}", one.account, asked)


def _target(one: Bringing) -> str:
    return f"file {one.id}"


def run_of(one: Bringing) -> Run | None:
    """The run that brings a file in, or brought it in last."""
    return newest(KIND, _target(one))


def state_of(run: Run | None) -> FileState:
    """What has become of a file."""
    if run is None:
        return "new"
    return {"running": "working"}.get(run.state, run.state)  # type: ignore[return-value]


def standing_of(one: Bringing) -> FileStanding:
    """How far a file is on its way in."""
    run = run_of(one)
    if run is None:
        return FileStanding(one.id, one.file, state_of(run), 0.0, None, None)
    result = BroughtIn(**run.result) if run.result else None
    progress = 1.0 if run.state == "done" else run.progress or 0.0
    return FileStanding(one.id, one.file, state_of(run), progress, result, run.error)


@background(KIND, busy="This file is on its way in already.", stops=True)
def run_bring_in(working: Working) -> dict[str, Any]:
    """What the worker does: all of it in one transaction, or nothing."""
    one = Bringing.get_or_none(Bringing.id == int(working.target.removeprefix("file ")))
    if one is None:
        raise Refused("file", "This file is not here any more. Choose it again.")
    mapping = ForeignMapping.of(working.asked["mapping"])
    given = working.asked["decision"]
    decision = Decision(**{**given, "fields": tuple(given["fields"])})
    said, columns = usable(one, mapping, decision), table_of(one).columns
    return asdict(bring_in(said, columns, mapping, decision, working.step, one.account))


def bring_in(
    said: Understood,
    columns: tuple[str, ...],
    mapping: ForeignMapping,
    decision: Decision,
    step: Callable[[float], None] = lambda _: None,
    account: Account | None = None,
) -> BroughtIn:
    """Write what was decided, mark placed work that changed, and keep the mapping under its name for a table
    with these columns."""
    source = mapping.name or "unnamed export"
    with db.atomic():
        turn(WORK_ORDERS)
        made = compare(said, mapping.name)
        step(0.2)
        changed, skipped = _decided(made, decision), list[tuple[str, str]]()
        rows: dict[str, list[dict[str, Any]]] = {"work_orders": [], "tasks": []}
        for number in made.new if decision.new else ():
            rows["work_orders"].append(_new_order(number, said))
            rows["tasks"] += [_new_task(number, t, said) for t in said.tasks.get(number, {})]
        for d in changed:
            _merge(d, said, made.orders[d.number], made.tasks.get(d.number, {}), rows)
            skipped += [(d.number, t) for t in d.gone_tasks]
        step(0.3)
        made_too = _make(said, {r["number"] for r in rows["work_orders"]}, account, source)
        ending: list[Change] = _skipped(skipped)
        if decision.vanished != "leave" and made.vanished:
            ending += changes_to("work order", {(n,): {"state": decision.vanished} for n in made.vanished})
        _write(rows, ending, account, source, step)
        step(0.85)
        _remember_theirs(said, made, decision, source)
        marked = _mark(
            changed, made.vanished if decision.vanished != "leave" else [], decision.vanished, source
        )
        if mapping.name:
            saved = {"columns": list(columns), "body": mapping.document(), "at": settings().now()}
            changes = changes_to("mapping", {(mapping.name,): saved})
            edit = Edit("mapping", f"Save the mapping {mapping.name}", changes)
            write(f"mapping {mapping.name}", account, edit, checked=True)
        step(0.95)
    return BroughtIn(
        new=len(made.new) if decision.new else 0,
        changed=len(changed),
        unchanged=made.unchanged,
        kept=made.kept,
        vanished=len(made.vanished),
        vanished_as=decision.vanished,
        marked=marked,
        made=made_too,
    )


def _make(said: Understood, coming: Collection[str], account: Account | None, source: str) -> int:
    """Make the areas, crafts and assets that the WOs which come in need and nobody here knows; how many."""
    made = said.made.used({n: said.orders[n] for n in coming if n in said.orders}, said.tasks)
    new = {kind: list(made.records[kind].values()) for kind in MAKEABLE}
    rows: dict[str, list[dict[str, Any]]] = {
        "areas": [{"area": r.key, "name": r.name} for r in new["area"]],
        "crafts": [{**_blank_row("crafts"), "craft": r.key, "name": r.name} for r in new["craft"]],
        "assets": [
            {**_blank_row("assets"), "asset": r.key, "name": r.name, "area": r.area} for r in new["asset"]
        ],
    }
    count = sum(map(len, rows.values()))
    if count:
        edit = Edit("bring in", f"Make {count} records that {source} names", changes_of(rows), by=FILE)
        write("files", account, edit, checked=True)
    return count


def _decided(made: Compared, decision: Decision) -> list[Difference]:
    """The differences that are taken, without fields that stay ours."""
    if not decision.changed:
        return []
    out = []
    for d in made.changed:
        taken = tuple(
            c
            for c in d.changes
            if c.field not in decision.fields and (decision.both == "theirs" or not c.by_hand)
        )
        if taken or d.new_tasks or d.gone_tasks:
            out.append(replace(d, changes=taken))
    return out


def _skipped(tasks: list[tuple[str, str]]) -> list[Change]:
    """Tasks that are gone there and not begun here."""
    rows = NOUNS["task"].read(tasks)
    gone: dict[Key, dict[str, Any]] = {
        k: {"state": "skipped"} for k, t in rows.items() if t["state"] == "to do"
    }
    return changes_to("task", gone, rows)


def _blank_row(kind: str) -> dict[str, Any]:
    return KINDS[kind].blank_row()


def _new_order(number: str, said: Understood) -> dict[str, Any]:
    today = settings().day(site().timezone)
    return {**_blank_row("work_orders"), "number": number, "raised": today, **said.orders[number]}


def _new_task(number: str, task: str, said: Understood) -> dict[str, Any]:
    return {**_blank_row("tasks"), "number": number, "task": task, **said.tasks[number][task]}


def _merge(
    d: Difference,
    said: Understood,
    order: dict[str, Any],
    tasks: dict[str, Any],
    rows: dict[str, list[dict[str, Any]]],
) -> None:
    """Ours with the changes that are taken."""
    taken: dict[str | None, set[str]] = defaultdict(set)
    for c in d.changes:
        taken[c.task].add(c.field)
    if taken[None]:
        rows["work_orders"].append(
            {**order, "number": d.number, **{f: said.orders[d.number][f] for f in taken[None]}}
        )
    for task in (t for t in taken if t is not None):
        rows["tasks"].append(
            {
                **tasks[task],
                "number": d.number,
                "task": task,
                **{f: said.tasks[d.number][task][f] for f in taken[task]},
            }
        )
    rows["tasks"] += [_new_task(d.number, t, said) for t in d.new_tasks]


def _write(
    rows: dict[str, list[dict[str, Any]]],
    ending: list[Change],
    account: Account | None,
    source: str,
    step: Callable[[float], None],
    batch: int = 1000,
) -> None:
    """A thousand WOs at a time, so that stopping does not take long; then what ends here because it ended
    there."""
    by_order: dict[str, list[dict[str, Any]]] = defaultdict(list)
    for t in rows["tasks"]:
        by_order[t["number"]].append(t)
    orders = {r["number"]: r for r in rows["work_orders"]}
    numbers = list(dict.fromkeys([*orders, *by_order]))
    for n in range(0, len(numbers), batch):
        part = numbers[n : n + batch]
        some = {
            "work_orders": [orders[x] for x in part if x in orders],
            "tasks": [t for x in part for t in by_order[x]],
        }
        edit = Edit("bring in", f"Bring in {len(part)} WOs of {source}", changes_of(some), by=FILE)
        write("files", account, edit, checked=True)
        step(0.3 + 0.5 * min(1.0, (n + batch) / len(numbers)))
    if ending:
        write(
            "files",
            account,
            Edit("bring in", f"What {source} does not tell any more", ending, by=FILE),
            checked=True,
        )


def _remember_theirs(said: Understood, made: Compared, decision: Decision, source: str) -> None:
    """What they told last, also where ours was kept: it is asked about again only when they change it
    again."""
    skip = set() if decision.new else set(made.new)
    left = set() if decision.changed else {d.number for d in made.changed}
    values = [
        (source, WorkOrder.imported.db_value(theirs(said, n)), n, here())
        for n in said.orders
        if n not in skip | left
    ]
    with db.connection().cursor() as cursor:
        cursor.executemany(
            "UPDATE work_order SET source=%s, imported=%s WHERE number=%s AND site_id=%s", values
        )


def _mark(changed: list[Difference], vanished: list[str], became: str, source: str) -> int:
    """Placed work that changed is marked, never moved; its weeks are told."""
    placed = placed_in([d.number for d in changed] + vanished)
    ids = dict(
        WorkOrder.select(WorkOrder.number, WorkOrder.id)
        .where(WorkOrder.number.in_(list(placed) or [""]))
        .tuples()
    )
    now, zone = settings().now(), ZoneInfo(site().timezone)
    lines = {d.number: lines_of(d, zone) for d in changed}
    lines |= dict.fromkeys(vanished, [ChangeLine("state", "gone there", "–", became, False)])
    rows = [
        {"work_order": ids[n], "at": now, "source": source, "changes": [asdict(c) for c in lines[n]]}
        for n in placed
    ]
    if rows:
        OrderChange.insert_many(rows).execute()
    for week in set(placed.values()):
        tell(week, "work", {"source": source})
    return len(placed)
