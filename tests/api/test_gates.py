"""Gates are decided once: in the core for one WO, in SQL for lists, and both say the same; what is shut is
named."""

from __future__ import annotations

from datetime import date

import pytest
from peewee import Case

from nundine.core.gates import GATES, WorkFacts, gates, is_ready, may_be_placed, shut
from nundine.core.lifecycle import FILE
from nundine.services import wording
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.services.week.state import load_state
from nundine.services.work.backlog import gate_truths, ready_numbers
from nundine.services.work.gates import facts_of
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.gates import last_day_of
from nundine.store.work_order import STATES, WorkOrder
from tests.api.conftest import Week
from tests.conftest import WEEK

SUNDAY = date(2026, 12, 6)
READY = WorkFacts("approved", True)


def became(number: str, state: str) -> None:
    """A WO in another state, by whatever way."""
    with db.atomic():
        changes = changes_to("work order", {(number,): {"state": state}})
        write("files", None, Edit("import", f"{number} is {state}", changes, by=FILE))


@pytest.mark.parametrize(
    ("facts", "gate", "said"),
    [
        (WorkFacts("planned", True), "plan", "it is planned; it has to be approved first"),
        (WorkFacts("approved", False), "plan", "no tasks with hours"),
        (WorkFacts("approved", True, date(2026, 12, 7)), "parts", "Mon 7 Dec, after this week"),
        (WorkFacts("approved", True, None, True), "parts", "nobody knows"),
        (WorkFacts("approved", True, permit="waiting"), "permit", "not been granted"),
        (WorkFacts("approved", True, staffed=False), "people", "too few people"),
        (WorkFacts("approved", True, needs_stop=True, asset_free=False), "window", "no work window"),
    ],
)
def test_a_shut_gate_says_what_is_missing_and_no_more(facts: WorkFacts, gate: str, said: str) -> None:
    (found,) = shut(facts, SUNDAY)
    assert found.code == gate
    assert said in wording.gate(found, wording.PLAIN)
    assert not is_ready(facts, SUNDAY)


def test_parts_that_come_on_the_last_day_of_the_week_are_in_time() -> None:
    assert is_ready(WorkFacts("approved", True, SUNDAY), SUNDAY)


def test_what_stands_in_another_open_week_is_not_ready_and_can_not_be_placed() -> None:
    there = WorkFacts("approved", True, elsewhere="2026-W50")
    assert gates(there, SUNDAY) == dict.fromkeys(GATES, True)
    assert not is_ready(there, SUNDAY)
    assert "2026-W50" in str(may_be_placed(there))


@pytest.mark.parametrize("state", STATES)
def test_only_planned_and_open_work_is_placed_by_hand(state: str) -> None:
    assert (may_be_placed(WorkFacts(state, True)) is None) == (state in ("planned", "approved", "under way"))
    assert may_be_placed(WorkFacts(state, False)) is not None


def test_lists_and_the_core_say_the_same_of_every_wo(week: Week) -> None:
    """With every kind of trouble of the demo, and some more."""
    numbers = [n for (n,) in WorkOrder.select(WorkOrder.number).order_by(WorkOrder.id).tuples()]
    for n, state in enumerate(STATES):
        WorkOrder.update(state=state).where(WorkOrder.number.in_(numbers[n : n + 2])).execute()
    Asset.update(limited=True).where(Asset.key == "N1-1").execute()
    week.edit(
        kind="put", jobs=[j["number"] for j in week.get("/backlog", ready=True, size=2)["rows"]], day=None
    )
    for name in (WEEK, "2026-W50"):
        here = load_state(name)
        columns = [Case(None, [(t, 1)], 0).alias(f"gate_{g}") for g, t in gate_truths(here).items()]
        listed = {r.pop("number"): r for r in WorkOrder.select(WorkOrder.number, *columns).dicts()}
        ready = ready_numbers(here)
        for number in numbers:
            facts = facts_of(here, number)
            decided = gates(facts, last_day_of(here.week))
            assert {g: bool(listed[number][f"gate_{g}"]) for g in GATES} == decided, number
            assert (number in ready) == is_ready(facts, last_day_of(here.week)), number


def waiting_for(week: Week, gate: str) -> str:
    rows = week.get("/backlog", ready=False, placed=False, size=200)["rows"]
    return next(
        r["number"] for r in rows if [g for g, is_open in r["gates"].items() if not is_open] == [gate]
    )


@pytest.mark.parametrize("gate", ["parts", "permit", "window", "people"])
def test_work_with_a_shut_gate_may_be_placed_by_hand_and_is_marked(week: Week, gate: str) -> None:
    number = waiting_for(week, gate)
    job = week.get(f"/jobs/{number}")
    assert [g["gate"] for g in job["shut"]] == [gate]
    assert job["why_not_placed"] is None
    week.edit(kind="put", jobs=[number], day="2026-12-01")
    job = week.get(f"/jobs/{number}")
    assert {p["day"] for p in job["placements"]} == {"2026-12-01"}
    assert [g["gate"] for g in job["shut"]] == [gate]
    if gate in ("window", "people"):
        assert {c["code"] for c in week.get()["conflicts"]} & {"window", "nobody"}


def test_what_has_no_hours_can_not_be_placed_and_the_refusal_says_so(week: Week) -> None:
    number = week.get("/backlog", ready=True, size=1)["rows"][0]["number"]
    became(number, "draft")
    assert week.get(f"/jobs/{number}")["why_not_placed"] == "it is draft"
    refused = week.send(kind="put", jobs=[number], day=None)
    assert (refused.status_code, refused.json()["code"]) == (422, "not ready")
    assert f"{number} can not be placed: it is draft" in refused.json()["title"]


def test_why_names_the_gates_that_are_shut_and_nothing_that_is_there(week: Week) -> None:
    number = week.get("/backlog", ready=True, size=1)["rows"][0]["number"]
    became(number, "planned")
    (reason,) = week.get(f"/jobs/{number}/why")["reasons"]
    assert reason["text"] == "it is planned; it has to be approved first"


def test_a_job_that_fits_needs_nothing_that_would_let_it_in(week: Week) -> None:
    number = week.get("/backlog", ready=True, placed=False, size=1)["rows"][0]["number"]
    found = week.get(f"/jobs/{number}/why")
    assert [r["code"] for r in found["reasons"]] == ["fits"]
    assert found["would_help"] == []
