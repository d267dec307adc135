"""Work that waits for parts alone, as the asks of a week take it: what would come in if its parts came
sooner."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

from nundine.core.finding import Finding
from nundine.core.week.asks import Ask
from nundine.services.week.state import WeekState, with_work
from nundine.services.work.backlog import gate_truths
from nundine.store.gates import last_day_of, not_elsewhere
from nundine.store.part import Part, PartNeed
from nundine.store.work_order import WorkOrder

AHEAD, MOST = 14, 60
"""Days after the week until which parts may come for it to be worth asking, and how many WOs are tried: the
most urgent."""


def with_late_parts(state: WeekState) -> WeekState:
    """The week with the WOs whose parts come soon after it, and which nothing else holds back; none of them
    can be placed before its parts are there."""
    last = last_day_of(state.week)
    others = [open_ for gate, open_ in gate_truths(state).items() if gate != "parts"]
    late = ~WorkOrder.parts_unknown & WorkOrder.parts_ready.between(
        last + timedelta(days=1), last + timedelta(days=AHEAD)
    )
    rows = WorkOrder.select(WorkOrder.number).where(late, not_elsewhere(state.week), *others)
    first = rows.order_by(WorkOrder.must.desc(), WorkOrder.priority.desc(), WorkOrder.number).limit(MOST)
    return with_work(state, frozenset(n for (n,) in first.tuples()))


def naming_parts(ask: Ask) -> Ask:
    """An ask for a job that waits for parts says which, and how many days sooner they would have to come."""
    alternatives = tuple(naming_parts(other) for other in ask.alternatives)
    facts = ask.found.facts
    found = ask.found
    if found.code == "part":
        by = date.fromisoformat(facts["by"][:10])
        awaited = _awaited(facts["job"], by)
        if awaited:
            sooner = (max(day for _, day in awaited) - by).days
            parts = sorted({name for name, _ in awaited})
            days = f"{sooner} day{'s' if sooner > 1 else ''}"
            found = Finding("part", {**facts, "how": "comes", "parts": parts, "sooner": days})
    return replace(ask, found=found, alternatives=alternatives)


def _awaited(number: str, by: date) -> list[tuple[str, date]]:
    """Parts that a WO must have and that come after a day, with the order that brings them, and their day."""
    rows = (
        PartNeed.select(Part.name, Part.key, PartNeed.how, PartNeed.name, PartNeed.day)
        .join(Part)
        .join_from(PartNeed, WorkOrder)
        .where((WorkOrder.number == number) & PartNeed.must & Part.tracked)
        .where(PartNeed.day > by, PartNeed.given < PartNeed.quantity)
    )
    return [
        (f"{name} ({key}{f', {source}' if how == 'receipt' else ''})", day)
        for name, key, how, source, day in rows.tuples()
    ]
