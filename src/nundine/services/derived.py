"""What a WO's row holds computed: priority, work hours left, whether it is planned and can be staffed."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

from nundine.core.lifecycle import state_from_tasks
from nundine.core.priority import DEFAULT_KIND_WEIGHTS, PriorityWeights, priority_index
from nundine.settings import settings
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.roster import PersonCertificate, PersonCraft
from nundine.store.site import Craft, site
from nundine.store.work_order import OPEN_STATES, CrewNeed, Task, WorkOrder


def weights() -> PriorityWeights:
    """The site's weights of the priority index."""
    own = site().settings.get("priority", {})
    return PriorityWeights(
        own.get("kinds") or DEFAULT_KIND_WEIGHTS,
        own.get("ageing_per_week", PriorityWeights.ageing_per_week),
        own.get("ageing_cap", PriorityWeights.ageing_cap),
    )


def refresh(numbers: set[str] | None = None) -> None:
    """Compute the derived columns of some or all WOs. Inside the caller's transaction."""
    query = WorkOrder.select(WorkOrder.id, WorkOrder.kind, WorkOrder.raised, Asset.criticality).join(Asset)
    if numbers is not None:
        query = query.where(WorkOrder.number.in_(numbers or {""}))
    orders = list(query.dicts())
    ids = [o["id"] for o in orders]
    today, w = settings().day(site().timezone), weights()
    hours: dict[int, float] = defaultdict(float)
    stop: dict[int, bool] = defaultdict(bool)
    steps: dict[int, int] = defaultdict(int)
    staffed: dict[int, bool] = defaultdict(lambda: True)
    able = _able()
    for n in range(0, len(ids), 2000):
        part = ids[n : n + 2000]
        rows = Task.select().where(Task.work_order.in_(part) & Task.state.in_(("to do", "under way"))).dicts()
        task_of = {t["id"]: t for t in rows}
        for t in task_of.values():
            stop[t["work_order"]] |= t["asset_state"] == "stopped"
            steps[t["work_order"]] += 1
        for need in CrewNeed.select().where(CrewNeed.task.in_(list(task_of) or [0])).dicts():
            t = task_of[need["task"]]
            hours[t["work_order"]] += (t["hours_left"] or t["hours"]) * need["people"]
            enough = len(able(need["craft"], need["level"], need["certificate"])) >= need["people"]
            staffed[t["work_order"]] = staffed[t["work_order"]] and enough
    changed = [
        (
            priority_index(o["criticality"], o["kind"], o["raised"], today, w), round(hours[o["id"]], 3), steps[o["id"]] > 0 and hours[o["id"]] > 0,
            staffed[o["id"]], stop[o["id"]], o["id"],
        )
        for o in orders
    ]  # fmt: skip
    with db.connection().cursor() as cursor:
        cursor.executemany(
            "UPDATE work_order SET priority=%s, hours=%s, planned=%s, staffed=%s, needs_stop=%s WHERE id=%s",
            changed,
        )


def states_of_orders(numbers: set[str]) -> dict[str, tuple[str, str]]:
    """The state of each of these WOs, and the one that follows from its tasks."""
    rows = (
        Task.select(WorkOrder.number, WorkOrder.state, Task.state)
        .join(WorkOrder)
        .where(WorkOrder.number.in_(sorted(numbers) or [""]))
    )
    now: dict[str, str] = {}
    tasks: dict[str, list[str]] = defaultdict(list)
    for number, state, of_task in rows.tuples():
        now[number] = state
        tasks[number].append(of_task)
    return {n: (state, state_from_tasks(state, tasks[n])) for n, state in now.items()}


def needing(crafts: set[str]) -> set[str]:
    """Numbers of open WOs with a crew need in any of these crafts."""
    rows = CrewNeed.select(WorkOrder.number).join(Task).join(WorkOrder).switch(CrewNeed).join(Craft)
    chosen = Craft.key.in_(sorted(crafts) or [""]) & WorkOrder.state.in_(OPEN_STATES)
    return {n for (n,) in rows.where(chosen).distinct().tuples()}


def _able() -> Any:
    levels: dict[int, dict[int, int]] = defaultdict(dict)
    for c in PersonCraft.select().dicts():
        levels[c["craft"]][c["person"]] = c["level"]
    held: dict[str, set[int]] = defaultdict(set)
    for c in PersonCertificate.select().dicts():
        held[c["certificate"]].add(c["person"])

    def able(craft: int, level: int, certificate: str | None) -> set[int]:
        people = {p for p, have in levels[craft].items() if have >= level}
        return people & held[certificate] if certificate else people

    return able
