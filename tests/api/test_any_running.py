"""Whatever is reported, answered, drawn and mended in a published week: taken whole or refused, undone whole,
and the figures agree."""

from __future__ import annotations

import pytest

from nundine.core.week.check import check
from nundine.core.week.files import read_problem
from nundine.services.cache import forget
from nundine.services.week import loaded
from nundine.services.week.state import load_state
from nundine.store.reading import jobs as reading
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Week
from tests.api.hands import RunningHand, stands
from tests.conftest import WEEK

pytestmark = pytest.mark.long


def runs(week: Week) -> tuple:
    """All that a running week shows."""
    return (*stands(week), week.get("/review")["tasks"], week.get("/review/compliance"), week.get("/closing"))


@pytest.mark.parametrize("seed", [21, 22])
def test_whatever_is_done_in_a_running_week_is_taken_or_refused_with_a_reason_and_undo_leads_all_the_way_back(
    published: Week, seed: int
) -> None:
    kinds = RunningHand(published, seed).there_and_back(30, runs)
    assert kinds > {"progress", "answers"} and len(kinds) > 3


def test_a_running_week_reads_the_same_after_a_new_start(published: Week) -> None:
    for done, _ in RunningHand(published, 23).walk(12):
        told = runs(published)
        forget()
        assert runs(published) == told, done


def test_of_more_work_than_is_looked_at_the_same_is_known_after_a_new_start(
    published: Week, monkeypatch: pytest.MonkeyPatch
) -> None:
    for module in (loaded, reading):
        monkeypatch.setattr(module, "MOST_JOBS", 40)
    forget()
    known = load_state(WEEK).problem.jobs
    firsts = iter([t for t in published.get("/review")["tasks"] if t["task"] == "10"])
    for n in range(12):
        if n % 3 == 0:
            _is_must(published, {j.id for j in known})
        else:
            task = next(firsts)
            form = {"tasks": [[task["job"], task["task"]]], "to": ("done", "under way")[n % 2], "seen": 10**6}
            assert published.http.post(f"{published.base}/progress", json=form).status_code == 200
        told = load_state(WEEK).problem.jobs
        forget()
        known = load_state(WEEK).problem.jobs
        assert known == told


def _is_must(week: Week, known: set[str]) -> None:
    """Another WO comes to count for more than the last of those that are looked at."""
    order = WorkOrder.select().where(WorkOrder.number.not_in(known), WorkOrder.state == "approved").first()
    form = week.http.get(f"/api/orders/{order.number}").json()
    body = {**{k: form[k] for k in ("tasks", "revision")}, "order": {**form["order"], "must": "yes"}}
    answer = week.http.post("/api/orders", json=body)
    assert answer.status_code == 200, answer.text


def test_a_week_mended_after_anything_breaks_fewer_rules_and_needs_no_second_mending(published: Week) -> None:
    hand = RunningHand(published, 24)
    for _ in hand.walk(30):
        pass
    for person in hand.people:
        if published.get()["conflicts"]:
            break
        published.edit(kind="absence", person=person, day=hand.days[-4], reason="sick")
    broken = len(published.get()["conflicts"])
    assert len(published.edit(kind="mend")["conflicts"]) < broken
    again = published.send(kind="mend")
    assert (again.status_code, again.json()["code"]) == (422, "nothing")
    problem = read_problem(published.get("/problem.json"))
    assert len(check(problem, problem.fixed).conflicts) == len(published.get()["conflicts"])
