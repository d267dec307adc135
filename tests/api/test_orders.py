"""Work by hand: WOs are made, changed, held, cancelled; a break-in comes into the week at once."""

from __future__ import annotations

from fastapi.testclient import TestClient

from nundine.store.work_order import Task, WorkOrder
from tests.api.conftest import Client, Week
from tests.conftest import WEEK

ORDER = {"title": "Fence torn down", "asset": "N1", "kind": "safety", "due": "2026-12-05 18:00"}
TASKS = [
    {"task": "10", "title": "Set posts", "hours": "2.5", "needs": "hand x2"},
    {"task": "20", "title": "Mend net", "hours": "1", "needs": "rig x1 level 2; hand", "after": "10"},
]


def made(http: TestClient, order: dict | None = None, tasks: list | None = None) -> str:
    answer = http.post(
        "/api/orders",
        json={"order": order or ORDER, "tasks": TASKS if tasks is None else tasks, "revision": None},
    )
    assert answer.status_code == 200, answer.text
    return answer.json()["number"]


def changed(http: TestClient, number: str, **order: str) -> object:
    form = http.get(f"/api/orders/{number}").json()
    return http.post(
        "/api/orders",
        json={"order": {**form["order"], **order}, "tasks": form["tasks"], "revision": form["revision"]},
    )


def test_a_wo_made_by_hand_gets_the_next_number_and_can_be_placed_at_once(client: Client) -> None:
    http = client("sven")
    highest = max(int(w.number[3:]) for w in WorkOrder.select() if w.number.startswith("WO-"))
    number = made(http)
    assert number == f"WO-{highest + 1}"
    week = Week(http)
    job = week.get(f"/jobs/{number}")
    assert (job["hours"], all(job["gates"].values())) == (7.0, True)
    assert [t["after"] for t in job["tasks"]] == [[], [{"task": "10", "lag": 0.0}]]
    week.edit(kind="put", jobs=[number], day=None)
    assert week.get(f"/jobs/{number}")["placements"]


def test_the_form_of_a_wo_reads_back_what_was_saved_and_saving_it_changes_nothing(client: Client) -> None:
    http = client("sven")
    number = made(http)
    before = http.get(f"/api/orders/{number}").json()
    assert before["order"]["due"].startswith("2026-12-05T18:00")
    assert changed(http, number).status_code == 200
    assert http.get(f"/api/orders/{number}").json() == before


def test_what_is_wrong_names_its_field_and_nothing_is_saved(client: Client) -> None:
    http = client("sven")
    count = WorkOrder.select().count()
    for order, tasks, field in (
        ({**ORDER, "asset": "moon"}, TASKS, "asset"),
        ({**ORDER, "title": " "}, TASKS, "title"),
        (ORDER, [{**TASKS[0], "hours": "soon"}], "tasks.0.hours"),
        (ORDER, [TASKS[0], {**TASKS[1], "needs": "magician"}], "tasks.1.needs"),
        (ORDER, [{**TASKS[0], "after": "20"}, TASKS[1]], "tasks.1.after"),
        (ORDER, [], "tasks"),
    ):
        answer = http.post("/api/orders", json={"order": order, "tasks": tasks, "revision": None})
        assert (answer.status_code, answer.json()["field"]) == (422, field), answer.text
    assert WorkOrder.select().count() == count


def test_a_wo_that_somebody_else_changed_meanwhile_is_not_overwritten(client: Client) -> None:
    sven, mila = client("sven"), client("mila")
    number = made(sven)
    seen = sven.get(f"/api/orders/{number}").json()
    assert changed(mila, number, title="Fence gone").status_code == 200
    late = sven.post(
        "/api/orders",
        json={
            "order": {**seen["order"], "title": "Other"},
            "tasks": seen["tasks"],
            "revision": seen["revision"],
        },
    )
    assert late.status_code == 409
    assert WorkOrder.get(WorkOrder.number == number).title == "Fence gone"


def test_a_task_taken_off_the_form_goes_and_a_placed_one_is_skipped(client: Client) -> None:
    http = client("sven")
    number = made(http)
    form = http.get(f"/api/orders/{number}").json()
    http.post("/api/orders", json={**{k: form[k] for k in ("order", "revision")}, "tasks": form["tasks"][:1]})
    assert [t.number for t in Task.select().join(WorkOrder).where(WorkOrder.number == number)] == ["10"]
    other = made(http)
    Week(http).edit(kind="put", jobs=[other], day=None)
    form = http.get(f"/api/orders/{other}").json()
    assert (
        http.post(
            "/api/orders", json={**{k: form[k] for k in ("order", "revision")}, "tasks": form["tasks"][:1]}
        ).status_code
        == 200
    )
    assert {t.number: t.state for t in Task.select().join(WorkOrder).where(WorkOrder.number == other)} == {
        "10": "to do",
        "20": "skipped",
    }


def test_a_wo_is_held_released_and_cancelled_but_not_while_it_is_placed(client: Client) -> None:
    http = client("sven")
    number = made(http)
    week = Week(http)
    free = [{"to": "on hold", "why": None}, {"to": "cancelled", "why": None}]
    assert http.get(f"/api/orders/{number}").json()["moves"] == free
    week.edit(kind="put", jobs=[number], day=None)
    refused = http.post(f"/api/orders/{number}/state", json={"to": "on hold"})
    assert (refused.status_code, refused.json()["guard"]) == (422, "in no week")
    assert WEEK in refused.json()["title"]
    assert [m["why"] is None for m in http.get(f"/api/orders/{number}").json()["moves"]] == [False, False]
    week.edit(kind="take out", jobs=[number])
    for to in ("on hold", "approved", "cancelled"):
        assert http.post(f"/api/orders/{number}/state", json={"to": to}).status_code == 204
    assert http.post(f"/api/orders/{number}/state", json={"to": "done"}).status_code == 422


def test_a_break_in_is_a_must_and_mending_says_where_it_fits_and_what_it_pushes_out(client: Client) -> None:
    http, week = client("sven"), Week(client("sven"))
    form = {
        "title": "Gearbox screams",
        "asset": "N1-1",
        "hours": 2,
        "craft": "mech",
        "people": 2,
        "urgency": "now",
    }
    number = http.post(f"/api/weeks/{WEEK}/break-ins", json=form).json()["number"]
    order = WorkOrder.get(WorkOrder.number == number)
    assert (order.kind, order.must, order.hours) == ("breakdown", True, 4.0)
    found = http.post(f"/api/weeks/{WEEK}/mend", json={"put_in": [number]}).json()
    assert any(m["job"] == number and m["kind"] == "in" for m in found["moves"])
    week.edit(kind="mend", put_in=[number])
    assert week.get(f"/jobs/{number}")["placements"]


def test_readers_and_operations_may_not_make_work(client: Client) -> None:
    for name in ("rene", "olivia", "karl"):
        http = client(name)
        assert (
            http.post("/api/orders", json={"order": ORDER, "tasks": TASKS, "revision": None}).status_code
            == 403
        )


def test_a_priority_is_explained_part_by_part_and_a_correction_is_logged(client: Client) -> None:
    http = client("sven")
    week, number = Week(http), made(http)
    before = week.get(f"/jobs/{number}")
    parts = before["priority_parts"]
    assert before["priority"] == parts["criticality"] * parts["kind_weight"] + round(parts["ageing"], 1)
    assert changed(http, number, correction="12.5").status_code == 200
    after = week.get(f"/jobs/{number}")
    assert (after["priority"], after["priority_parts"]["correction"]) == (before["priority"] + 12.5, 12.5)
    told = http.get("/api/history/work order", params={"key": number}).json()["rows"][0]
    assert told["by"] == "Sven Ostrova"
    assert [(line["label"], line["after"]) for line in told["lines"]] == [("priority corrected by", "12.5")]
    assert changed(http, number, correction="1000").json()["field"] == "correction"


def test_the_cost_account_of_a_wo_is_that_of_its_asset_until_it_has_its_own(client: Client) -> None:
    http = client("sven")
    week, number = Week(http), made(http)
    assert week.get(f"/jobs/{number}")["cost_account"] == "4100-N1"
    assert changed(http, number, cost_account="7100-x", sub_kind="storm", crew="North 1").status_code == 200
    job = week.get(f"/jobs/{number}")
    assert (job["cost_account"], job["sub_kind"], job["crew"]) == ("7100-x", "storm", "North 1")
    assert "storm" in http.get("/api/orders/choices").json()["sub_kinds"]
