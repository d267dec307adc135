"""Job plans: a library in editions, copied into WOs, learning from what they took."""

from __future__ import annotations

import json
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.store.base import db
from nundine.store.job_plan import JobPlan
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client

PLAN = {"title": "Exchange brake pads", "kind": "preventive", "words": "drive"}
TASKS = [
    {"task": "10", "title": "Take off", "hours": "1", "needs": "mech x2", "asset_state": "stopped"},
    {"task": "20", "title": "Put on", "hours": "2", "needs": "mech x2", "after": "10"},
]


@pytest.fixture
def sven(client: Client) -> TestClient:
    return client("sven")


def saved(http: TestClient, plan: dict[str, str], tasks: list[dict[str, str]], code: int = 200) -> Any:
    answer = http.post("/api/plans", json={"plan": plan, "tasks": tasks, "revision": None})
    assert answer.status_code == code, answer.text
    return answer.json()["number"] if code == 200 else answer.json()


def seen(http: TestClient, number: str) -> dict[str, Any]:
    answer = http.get(f"/api/plans/{number}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def put(http: TestClient, number: str, to: str, code: int = 204) -> Any:
    body = {"to": to, "revision": seen(http, number)["revision"]}
    answer = http.post(f"/api/plans/{number}/state", json=body)
    assert answer.status_code == code, answer.text
    return answer


def changed(http: TestClient, number: str, **hours: str) -> None:
    """Other hours for tasks, by `t10="2"`."""
    now = seen(http, number)
    tasks = [{**t, "hours": hours.get(f"t{t['task']}", t["hours"])} for t in now["tasks"]]
    body = {"plan": now["plan"], "tasks": tasks, "revision": now["revision"]}
    answer = http.post("/api/plans", json=body)
    assert answer.status_code == 200, answer.text


def in_force(http: TestClient) -> str:
    number = saved(http, PLAN, TASKS)
    put(http, number, "in force")
    return str(number)


def asset(http: TestClient, words: str) -> str:
    choices = http.get("/api/orders/choices").json()["assets"]
    return str(next(a["key"] for a in choices if words in a["name"]))


def made(http: TestClient, plan: str, key: str) -> str:
    """A WO made of a plan, as its form makes it."""
    copy = http.get(f"/api/plans/{plan}/copy").json()
    order = {**copy["order"], "asset": key}
    answer = http.post("/api/orders", json={"order": order, "tasks": copy["tasks"], "revision": None})
    assert answer.status_code == 200, answer.text
    return str(answer.json()["number"])


def test_a_plan_being_written_changes_at_will_and_one_in_force_gets_an_edition_that_says_what_changed(
    sven: TestClient,
) -> None:
    number = saved(sven, PLAN, TASKS)
    changed(sven, number, t10="1.5")
    one = seen(sven, number)
    assert (one["plan"]["state"], one["plan"]["edition"], one["editions"]) == ("being written", "1", [])
    put(sven, number, "in force")
    changed(sven, number, t20="3")
    one = seen(sven, number)
    assert one["plan"]["edition"] == "2"
    newest, first = one["editions"]
    assert (newest["edition"], newest["by"], first["changes"]) == (2, "Sven Ostrova", [])
    assert newest["changes"] == [{"task": "20", "field": "hours", "before": "2", "after": "3"}]


def test_saving_what_is_there_already_makes_no_edition(sven: TestClient) -> None:
    number = in_force(sven)
    changed(sven, number)
    assert seen(sven, number)["plan"]["edition"] == "1"


def test_a_task_that_is_added_or_taken_off_is_said_with_its_words(sven: TestClient) -> None:
    number = in_force(sven)
    now = seen(sven, number)
    tasks = [now["tasks"][1] | {"after": ""}, {"task": "30", "title": "Test", "hours": "1", "needs": "mech"}]
    body = {"plan": now["plan"], "tasks": tasks, "revision": now["revision"]}
    assert sven.post("/api/plans", json=body).status_code == 200
    said = [(c["task"], c["before"], c["after"]) for c in seen(sven, number)["editions"][0]["changes"]]
    assert ("30", "–", "Test") in said
    assert ("10", "Take off", "–") in said


def test_plans_that_apply_to_an_asset_come_first_and_the_others_stay_within_reach(sven: TestClient) -> None:
    number = in_force(sven)
    drive = asset(sven, "drive station")
    offered = sven.get("/api/plans/choices", params={"asset": drive}).json()
    applying = [c["applies"] for c in offered]
    assert applying == sorted(applying, reverse=True)
    assert {True, False} == set(applying)
    assert number in [c["number"] for c in offered if c["applies"]]
    pump = sven.get("/api/plans/choices", params={"asset": asset(sven, "ump house")}).json()
    assert number in [c["number"] for c in pump if not c["applies"]]


def test_plans_being_written_or_retired_are_not_offered_and_not_copied(sven: TestClient) -> None:
    number = saved(sven, PLAN, TASKS)
    assert sven.get(f"/api/plans/{number}/copy").status_code == 422
    put(sven, number, "retired")
    assert number not in [c["number"] for c in sven.get("/api/plans/choices").json()]
    assert "retired" in sven.get(f"/api/plans/{number}/copy").text
    now = seen(sven, number)
    refused = sven.post("/api/plans", json={"plan": now["plan"], "tasks": TASKS, "revision": now["revision"]})
    assert refused.status_code == 422
    put(sven, number, "being written", 422)


def test_a_wo_keeps_its_copy_and_the_edition_that_it_was_made_with(sven: TestClient) -> None:
    number = in_force(sven)
    order = made(sven, number, asset(sven, "drive station"))
    changed(sven, number, t10="9")
    form = sven.get(f"/api/orders/{order}").json()
    assert (form["order"]["plan"], form["order"]["plan_edition"]) == (number, "1")
    assert [t["hours"] for t in form["tasks"]] == ["1.0", "2.0"]
    tasks = [{**form["tasks"][0], "hours": "5"}, form["tasks"][1]]
    body = {"order": form["order"], "tasks": tasks, "revision": form["revision"]}
    assert sven.post("/api/orders", json=body).status_code == 200
    assert seen(sven, number)["tasks"][0]["hours"] == "9.0"


def test_a_plan_is_made_of_what_a_wo_says_and_the_wo_is_one_of_its_uses(sven: TestClient) -> None:
    order = WorkOrder.get(WorkOrder.plan.is_null() & (WorkOrder.state == "approved")).number
    form = sven.get(f"/api/orders/{order}").json()
    answer = sven.post(f"/api/orders/{order}/plan", json={"revision": form["revision"]})
    assert answer.status_code == 200, answer.text
    one = seen(sven, answer.json()["number"])
    assert one["plan"]["title"] == form["order"]["title"]
    assert one["plan"]["state"] == "being written"
    assert one["asset_names"].keys() == {form["order"]["asset"]}
    assert [t["needs"] for t in one["tasks"]] == [t["needs"] for t in form["tasks"]]
    assert sven.get(f"/api/orders/{order}").json()["order"]["plan"] == one["plan"]["number"]


def finish(order: str, spent: float) -> None:
    """All tasks of a WO are done, each in so many hours."""
    done = {"state": "done", "hours_spent": spent}
    with db.atomic():
        wanted = changes_to("task", {(order, t): done for t in ("10", "20")})
        write("files", None, Edit("progress", "Done", wanted), checked=True)


def test_estimates_learn_from_the_last_uses_and_a_suggestion_is_taken_over(sven: TestClient) -> None:
    number, drive = in_force(sven), asset(sven, "drive station")
    for spent in (2.0, 2.0, 2.5):
        finish(made(sven, number, drive), spent)
    one = seen(sven, number)
    by_task = {e["task"]: e for e in one["estimates"]}
    assert (by_task["10"]["uses"], by_task["10"]["median"], by_task["10"]["off"]) == (3, 2.0, True)
    assert (by_task["10"]["suggested"], by_task["20"]["suggested"]) == (2.0, None)
    assert (by_task[None]["planned"], by_task[None]["median"], by_task[None]["off"]) == (3.0, 4.0, False)
    assert len(one["uses"]) == 3
    body = {"tasks": ["10"], "revision": one["revision"]}
    assert sven.post(f"/api/plans/{number}/estimates", json=body).status_code == 204
    one = seen(sven, number)
    assert (one["tasks"][0]["hours"], one["plan"]["edition"]) == ("2.0", "2")
    refused = sven.post(f"/api/plans/{number}/estimates", json={"tasks": ["20"], "revision": one["revision"]})
    assert refused.status_code == 422


def test_what_was_seen_too_long_ago_is_refused_with_what_differs(sven: TestClient) -> None:
    number = saved(sven, PLAN, TASKS)
    old = seen(sven, number)
    changed(sven, number, t10="4")
    body = {"plan": {**old["plan"], "title": "Mine"}, "tasks": old["tasks"], "revision": old["revision"]}
    answer = sven.post("/api/plans", json=body)
    assert answer.status_code == 409
    assert [(d["record"], d["label"], d["after"]) for d in answer.json()["differs"]] == [("10", "hours", "4")]
    assert seen(sven, number)["plan"]["title"] == PLAN["title"]


@pytest.mark.parametrize(
    ("plan", "tasks", "field"),
    [
        ({**PLAN, "title": ""}, TASKS, "title"),
        ({**PLAN, "assets": "moon"}, TASKS, "assets"),
        (PLAN, [], "tasks"),
        (PLAN, [{**TASKS[0], "after": "20"}, TASKS[1]], "tasks.1.after"),
        (PLAN, [{**TASKS[0], "needs": "wizard x1"}], "tasks.0.needs"),
        (PLAN, [{**TASKS[0], "hours": "-1"}], "tasks.0.hours"),
    ],
)
def test_what_is_wrong_is_said_with_its_field_and_nothing_is_kept(
    sven: TestClient, plan: dict[str, str], tasks: list[dict[str, str]], field: str
) -> None:
    before = JobPlan.select().count()
    assert saved(sven, plan, tasks, 422)["field"] == field
    assert JobPlan.select().count() == before


def test_plans_made_at_one_moment_get_a_number_each(sven: TestClient) -> None:
    with ThreadPoolExecutor(6) as pool:
        numbers = list(pool.map(lambda _: saved(sven, PLAN, TASKS), range(6)))
    assert len(set(numbers)) == 6


def test_the_list_tells_uses_and_how_hours_came_out(sven: TestClient) -> None:
    number, drive = in_force(sven), asset(sven, "drive station")
    finish(made(sven, number, drive), 3.0)
    asked = json.dumps({"find": "brake pads"})
    rows = sven.get("/api/lists/job plans/rows", params={"q": asked}).json()["rows"]
    cells = rows[0]["cells"]
    assert (cells["number"], cells["tasks"], cells["hours"]) == (number, 2, 3.0)
    assert (cells["uses"], cells["actual"]) == (1, 200)
