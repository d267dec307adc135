"""What a WO says for a request that a preventive service raised: kind, date and tasks, as of its plan."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from datetime import date
from zoneinfo import ZoneInfo

from nundine.core.preventive.due import EVENING
from nundine.core.preventive.ladder import tasks_of
from nundine.core.timeline import at_local
from nundine.services.exchange.forms import Cells
from nundine.services.work.job_plans import copy_for_order
from nundine.store.preventive import Occurrence, PreventivePlan
from nundine.store.request import WorkRequest
from nundine.store.site import site


@dataclass(frozen=True)
class AskedService:
    """The preventive plan behind a request, the day on which its service falls due, and the cells of a WO
    and its tasks; without tasks where the plan has no job plan in force."""

    plan: str
    due: date
    order: Cells
    tasks: list[Cells]


def asked_service(request: WorkRequest) -> AskedService | None:
    """None where no preventive service asks for it."""
    rows = Occurrence.select(Occurrence, PreventivePlan).join(PreventivePlan)
    found = rows.where(Occurrence.request == request).first()
    if found is None:
        return None
    plan = found.plan
    said: Cells = {
        "kind": plan.kind,
        "due": at_local(found.due, EVENING, ZoneInfo(site().timezone)).isoformat(),
        "crew": plan.crew,
        "correction": repr(plan.correction),
        "must": "yes" if plan.kind == "statutory" else "no",
    }
    if plan.job_plan is None or plan.job_plan.state != "in force":
        return AskedService(plan.number, found.due, said, [])
    copied = copy_for_order(plan.job_plan.number)
    its = of_rungs(plan, [name for name, _ in found.rungs], copied.tasks)
    return AskedService(plan.number, found.due, {**copied.order, **said}, its)


def of_rungs(plan: PreventivePlan, rungs: Collection[str], tasks: list[Cells]) -> list[Cells]:
    """Those of a job plan's tasks that belong to rungs of a preventive plan; each follows only those that are
    there."""
    grid = {number: list(names) for number, names in plan.grid}
    chosen = set(tasks_of(list(rungs), {t["task"]: grid.get(t["task"], []) for t in tasks}))
    return [_after_those(t, chosen) for t in tasks if t["task"] in chosen]


def _after_those(task: Cells, chosen: set[str]) -> Cells:
    before = [p.strip() for p in task["after"].split(";") if p.strip()]
    return {**task, "after": "; ".join(p for p in before if p.partition("+")[0].strip() in chosen)}
