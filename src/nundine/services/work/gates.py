"""The gates of one WO in words, and a week with jobs in it that are placed by hand before their gates are
open."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from nundine.core.gates import WorkFacts, may_be_placed, shut
from nundine.services import wording
from nundine.services.cache import remember
from nundine.services.errors import NotFound, Refused
from nundine.services.week.state import WeekState, with_work
from nundine.store.asset import Asset
from nundine.store.gates import last_day_of, placed_elsewhere
from nundine.store.many_ids import one_of
from nundine.store.week import Week
from nundine.store.work_order import Task, WorkOrder

FACTS = ("state", "planned", "parts_ready", "parts_unknown", "permit", "staffed", "needs_stop")


def free_assets(state: WeekState) -> list[int]:
    """Assets that may be stopped at some time of the week, windows of the assets above them included."""

    def make() -> list[int]:
        free = {a.id for a in state.problem.assets if a.work_windows is None or a.work_windows}
        return [a.id for a in Asset.select(Asset.id, Asset.key) if a.key in free]

    return list(remember(("open assets", id(state.problem)), state.problem, make))


def facts_of(state: WeekState, number: str) -> WorkFacts:
    """What the gates look at for a WO and this week. Raises NotFound."""
    return facts_of_all(state, [number])[number]


def facts_of_all(state: WeekState, numbers: Collection[str]) -> dict[str, WorkFacts]:
    """The same for many WOs. Raises NotFound, naming one that is not there."""
    ids = dict(
        WorkOrder.select(WorkOrder.number, WorkOrder.id)
        .where(WorkOrder.number.in_(list(numbers) or [""]))
        .tuples()
    )
    for number in numbers:
        if number not in ids:
            raise NotFound("work order", f"There is no WO {number}.", job=number)
    facts = facts_by_id(state, list(ids.values()))
    return {number: facts[id_] for number, id_ in ids.items()}


def facts_by_id(state: WeekState, ids: Collection[int]) -> dict[int, WorkFacts]:
    """The same for WOs by their ids."""
    columns = [getattr(WorkOrder, name) for name in FACTS]
    chosen = WorkOrder.select(WorkOrder.id, WorkOrder.asset, *columns)
    rows = chosen.where(one_of(WorkOrder.id, ids)).dicts()
    free = set(free_assets(state))
    elsewhere = placed_elsewhere(state.week).select(Task.work_order, Week.name)
    other = dict(elsewhere.where(one_of(Task.work_order, ids)).tuples())
    return {
        r["id"]: WorkFacts(
            **{name: r[name] for name in FACTS}, asset_free=r["asset"] in free, elsewhere=other.get(r["id"])
        )
        for r in rows
    }


@dataclass(frozen=True)
class ShutGate:
    """A gate that is shut, and in words what would open it."""

    gate: str
    text: str


def shut_gates(state: WeekState, facts: WorkFacts) -> list[ShutGate]:
    """The gates that are shut, each with what is missing."""
    return [ShutGate(s.code, wording.gate(s, wording.PLAIN)) for s in shut(facts, last_day_of(state.week))]


def why_not_placed(facts: WorkFacts) -> str | None:
    """Why a WO can not be placed even by hand; None if it can."""
    found = may_be_placed(facts)
    return wording.gate(found, wording.PLAIN) if found is not None else None


def why_none(state: WeekState, numbers: list[str]) -> dict[str, str]:
    """By WO why it can not be placed even by hand; those that can are not in it. Raises NotFound."""
    missing = [n for n in numbers if n not in state.problem.job_by_id]
    facts = facts_of_all(state, missing) if missing else {}
    told = {n: why_not_placed(f) for n, f in facts.items()}
    return {n: why for n, why in told.items() if why is not None}


def placeable(state: WeekState, numbers: list[str]) -> WeekState:
    """The week with these WOs among its jobs, whether their gates are open or not.

    Raises
    ------
    Refused
        Naming what stands in the way of placing one even by hand.
    """
    for number, why in why_none(state, numbers).items():
        raise Refused("not ready", f"{number} can not be placed: {why}.", job=number)
    missing = [n for n in numbers if n not in state.problem.job_by_id]
    return with_work(state, frozenset(missing)) if missing else state
