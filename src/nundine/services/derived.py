"""What a WO's row holds computed: priority, work hours left, whether it is planned and can be staffed, and by
which crafts."""

from __future__ import annotations

import json
from collections import defaultdict
from collections.abc import Collection
from typing import Any

from peewee import Value

from nundine.core.lifecycle import TO_DO, permit_from_permits, state_from_order, state_from_tasks
from nundine.core.priority import DEFAULT_KIND_WEIGHTS, PriorityWeights, priority_index
from nundine.settings import settings
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.permit import Permit
from nundine.store.reading.rows import rows_of_each
from nundine.store.request import WorkRequest
from nundine.store.roster import PersonCertificate, PersonCraft
from nundine.store.site import Craft, Site, site
from nundine.store.work_order import OPEN_STATES, CrewNeed, Task, WorkOrder


def weights(of: Site) -> PriorityWeights:
    """A site's weights of the priority index."""
    own = of.settings.get("priority", {})
    return PriorityWeights(
        own.get("kinds") or DEFAULT_KIND_WEIGHTS,
        own.get("ageing_per_week", PriorityWeights.ageing_per_week),
        own.get("ageing_cap", PriorityWeights.ageing_cap),
    )


def craft_marks(crafts: Collection[int]) -> str:
    """Ids of crafts, each between commas."""
    return f",{','.join(str(c) for c in sorted(crafts))}," if crafts else ""


def refresh(numbers: set[str] | None = None) -> None:
    """Compute the derived columns of some or all WOs. Inside the caller's transaction."""
    computed = (
        WorkOrder.priority,
        WorkOrder.hours,
        WorkOrder.planned,
        WorkOrder.staffed,
        WorkOrder.needs_stop,
        WorkOrder.crafts,
    )
    query = WorkOrder.select(WorkOrder.id, WorkOrder.kind, WorkOrder.raised, *computed)
    query = query.select_extend(WorkOrder.correction, Asset.criticality).join(Asset)
    if numbers is not None:
        query = query.where(WorkOrder.number.in_(numbers or {""}))
    orders = list(query.dicts())
    ids = [o["id"] for o in orders]
    here = site()
    today, w = settings().day(here.timezone), weights(here)
    hours: dict[int, float] = defaultdict(float)
    stop: dict[int, bool] = defaultdict(bool)
    steps: dict[int, int] = defaultdict(int)
    outside: dict[int, bool] = defaultdict(bool)
    staffed: dict[int, bool] = defaultdict(lambda: True)
    crafts: dict[int, set[int]] = defaultdict(set)
    needs: list[tuple[int, dict[str, Any]]] = []
    for n in range(0, len(ids), 2000):
        part = ids[n : n + 2000]
        told = (Task.id, Task.work_order, Task.asset_state, Task.outside, Task.hours, Task.hours_left)
        rows = Task.select(*told, Task.state).where(Task.work_order.in_(part)).dicts()
        task_of = {t["id"]: t for t in rows}
        for t in task_of.values():
            if t["state"] not in TO_DO:
                continue
            stop[t["work_order"]] |= t["asset_state"] == "stopped"
            steps[t["work_order"]] += 1
            outside[t["work_order"]] |= bool(t["outside"])
        for need in CrewNeed.select().where(CrewNeed.task.in_(list(task_of) or [0])).dicts():
            t = task_of[need["task"]]
            crafts[t["work_order"]].add(need["craft"])
            if t["state"] not in TO_DO:
                continue
            hours[t["work_order"]] += (t["hours_left"] or t["hours"]) * need["people"]
            needs.append((t["work_order"], need))
    able = _able({need["craft"] for _, need in needs}, {need["certificate"] for _, need in needs} - {None})
    for order, need in needs:
        enough = len(able(need["craft"], need["level"], need["certificate"])) >= need["people"]
        staffed[order] = staffed[order] and enough
    changed = []
    for o in orders:
        n = o["id"]
        priority = priority_index(o["criticality"], o["kind"], o["raised"], today, w, o["correction"])
        planned = steps[n] > 0 and (hours[n] > 0 or outside[n])
        truths = (planned, staffed[n], stop[n])
        new = (priority, round(hours[n], 3), *truths, craft_marks(crafts[n]))
        if new != tuple(o[c.name] for c in computed):
            changed.append([n, *new[:2], *(int(truth) for truth in truths), new[-1]])
    for k in range(0, len(changed), 5000):
        db.execute_sql(STORE, (json.dumps(changed[k : k + 5000]),))


STORE = """
UPDATE work_order w JOIN JSON_TABLE(%s, '$[*]' COLUMNS (
    id INT PATH '$[0]', priority DOUBLE PATH '$[1]', hours DOUBLE PATH '$[2]',
    planned INT PATH '$[3]', staffed INT PATH '$[4]', needs_stop INT PATH '$[5]',
    crafts VARCHAR(400) PATH '$[6]')) j ON w.id = j.id
SET w.priority = j.priority, w.hours = j.hours, w.planned = j.planned, w.staffed = j.staffed,
    w.needs_stop = j.needs_stop, w.crafts = j.crafts
"""
"""Writes the columns of many WOs in one statement."""


def states_of_requests(orders: set[str]) -> dict[str, tuple[str, str]]:
    """The state of each request behind these WOs, and the one that follows from its WO."""
    if not orders:
        return {}
    rows = (
        WorkRequest.select(WorkRequest.number, WorkRequest.state, WorkOrder.state)
        .join(WorkOrder)
        .where(WorkOrder.number.in_(sorted(orders)))
        .order_by(WorkRequest.number)
    )
    return {n: (state, state_from_order(state, of_order)) for n, state, of_order in rows.tuples()}


def states_of_orders(numbers: set[str]) -> dict[str, tuple[str, str]]:
    """The state of each of these WOs, and the one that follows from its tasks."""
    if not numbers:
        return {}
    rows = (
        Task.select(WorkOrder.number, WorkOrder.state, Task.state)
        .join(WorkOrder)
        .where(WorkOrder.number.in_(sorted(numbers)))
    )
    now: dict[str, str] = {}
    tasks: dict[str, list[str]] = defaultdict(list)
    for number, state, of_task in rows.tuples():
        now[number] = state
        tasks[number].append(of_task)
    return {n: (state, state_from_tasks(state, tasks[n])) for n, state in now.items()}


def states_of_permits(numbers: set[str]) -> dict[str, tuple[str, str]]:
    """How far the permits of each of these WOs are said to be, and what follows from them; of WOs that are
    not over."""
    if not numbers:
        return {}
    over = ("done", "closed", "cancelled")
    rows = WorkOrder.select(WorkOrder.number, WorkOrder.permit, WorkOrder.permits, WorkOrder.id)
    found = list(rows.where(WorkOrder.number.in_(sorted(numbers)) & WorkOrder.state.not_in(over)).tuples())
    states: dict[int, dict[str, str]] = defaultdict(dict)
    given = Permit.select(Permit.work_order, Permit.kind, Permit.state)
    for order, kind, state in given.where(Permit.work_order.in_([f[3] for f in found] or [0])).tuples():
        states[order][kind] = state
    return {n: (now, permit_from_permits(now, needed, states[id_])) for n, now, needed, id_ in found}


def of_assets(keys: set[str]) -> set[str]:
    """Numbers of the open WOs of these assets."""
    rows = WorkOrder.select(WorkOrder.number).join(Asset)
    chosen = Asset.key.in_(sorted(keys)) & WorkOrder.state.in_(OPEN_STATES)
    return {n for (n,) in rows.where(chosen).tuples()}


def needing(crafts: set[str]) -> set[str]:
    """Numbers of open WOs with a crew need in any of these crafts."""
    rows = CrewNeed.select(WorkOrder.number).join(Task).join(WorkOrder).switch(CrewNeed).join(Craft)
    chosen = Craft.key.in_(sorted(crafts) or [""]) & WorkOrder.state.in_(OPEN_STATES)
    return {n for (n,) in rows.where(chosen).distinct().tuples()}


def _able(crafts: set[int], certificates: set[str]) -> Any:
    """Who of the site can do what, of these crafts and certificates: a function of craft, level and
    certificate."""
    crafted = PersonCraft.select(PersonCraft.craft.cast("CHAR"), PersonCraft.person, PersonCraft.level)
    certified = PersonCertificate.select(PersonCertificate.certificate, PersonCertificate.person, Value(0))
    of_crafts, of_certificates = rows_of_each(
        crafted.where(PersonCraft.craft.in_(crafts or {0})),
        certified.where(PersonCertificate.certificate.in_(certificates or {""})),
    )
    levels: dict[int, dict[int, int]] = defaultdict(dict)
    for craft, person, level in of_crafts:
        levels[int(craft)][person] = level
    held: dict[str, set[int]] = defaultdict(set)
    for name, person, _ in of_certificates:
        held[name].add(person)

    def able(craft: int, level: int, certificate: str | None) -> set[int]:
        people = {p for p, have in levels[craft].items() if have >= level}
        return people & held[certificate] if certificate else people

    return able
