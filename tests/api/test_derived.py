"""What a WO's row holds computed follows what it is computed from: age, reports, skills."""

from __future__ import annotations

from datetime import date

import pytest

from nundine.core.priority import PriorityWeights, priority_index
from nundine.services.derived import craft_marks
from nundine.services.work.ageing import grow_older
from nundine.store.asset import Asset
from nundine.store.site import Site
from nundine.store.work_order import CrewNeed, Task, WorkOrder
from tests.api.conftest import Week
from tests.conftest import TODAY


def priorities() -> dict[str, float]:
    return dict(WorkOrder.select(WorkOrder.number, WorkOrder.priority).tuples())


def test_priorities_age_with_the_days_of_the_site_once_a_day(
    week: Week, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert grow_older()
    before = priorities()
    assert not grow_older(), "there is nothing to do twice on one day"
    monkeypatch.setenv("NUNDINE_TODAY", "2026-12-21")
    assert grow_older()
    after = priorities()
    facts = (WorkOrder.kind, WorkOrder.raised, WorkOrder.correction, Asset.criticality)
    for w in WorkOrder.select(WorkOrder.number, *facts).join(Asset).dicts():
        raised = (w["criticality"], w["kind"], w["raised"], date(2026, 12, 21), PriorityWeights())
        assert after[w["number"]] == priority_index(*raised, w["correction"]), w["number"]
    aged = [n for n in before if after[n] > before[n]]
    assert len(aged) > len(before) / 2
    assert before == {w: p for w, p in before.items() if p <= after[w]}
    assert Site.get().aged == date(2026, 12, 21) > TODAY


def hours(week: Week, number: str) -> float:
    return float(
        next(r for r in week.get("/backlog", search=number)["rows"] if r["number"] == number)["hours"]
    )


def test_hours_left_of_a_wo_follow_a_report_and_its_undo(published: Week) -> None:
    job = next(j for j in published.get("/review")["tasks"] if j["task"] == "10")
    number, before = job["job"], hours(published, job["job"])
    task = published.get(f"/jobs/{number}")["tasks"][0]
    people = sum(n["people"] for n in task["needs"])
    form = {"tasks": [[number, "10"]], "to": "under way", "hours_left": task["hours"] / 2, "seen": 10**6}
    assert published.http.post(f"{published.base}/progress", json=form).status_code == 200
    assert hours(published, number) == pytest.approx(before - people * task["hours"] / 2, abs=0.01)
    published.edit(kind="undo")
    assert hours(published, number) == pytest.approx(before)


def test_the_people_gate_follows_the_skills_of_people_and_their_undo(week: Week) -> None:
    welders = [p for p in week.get("/crew")["people"] if any(c["craft"] == "weld" for c in p["crafts"])]
    rows = week.get("/backlog", craft=["weld"], ready=True, size=200)["rows"]
    assert rows
    for p in welders:
        others = [[c["craft"], c["level"]] for c in p["crafts"] if c["craft"] != "weld"] or [["hand", 1]]
        week.edit(kind="skills", person=p["key"], crafts=others, certificates=[])
    now = {r["number"]: r["gates"]["people"] for r in week.get("/backlog", craft=["weld"], size=200)["rows"]}
    assert not any(now[r["number"]] for r in rows)
    for _ in welders:
        week.edit(kind="undo")
    assert week.get("/backlog", craft=["weld"], ready=True, size=200)["total"] == len(rows)


def test_a_row_names_the_crafts_that_its_tasks_need_done_ones_too(week: Week) -> None:
    needed: dict[int, set[int]] = {}
    for order, craft in CrewNeed.select(Task.work_order, CrewNeed.craft).join(Task).tuples():
        needed.setdefault(order, set()).add(craft)
    assert needed
    for order, crafts in WorkOrder.select(WorkOrder.id, WorkOrder.crafts).tuples():
        assert crafts == craft_marks(needed.get(order, set()))
