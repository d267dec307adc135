"""Many WOs are moved at once: who may go goes, of each other it is said why not, and it can be taken back."""

from __future__ import annotations

from typing import Any

from fastapi.testclient import TestClient

from nundine.services.admin import accounts
from nundine.store.base import db
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client, Week


def move(http: TestClient, numbers: list[str], to: str) -> dict[str, Any]:
    answer = http.post("/api/orders/moves", json={"numbers": numbers, "to": to})
    assert answer.status_code == 200, answer.text
    return answer.json()


def states(numbers: list[str]) -> dict[str, str]:
    rows = WorkOrder.select(WorkOrder.number, WorkOrder.state).where(WorkOrder.number.in_(numbers))
    return dict(rows.tuples())


def some(state: str, count: int) -> list[str]:
    rows = WorkOrder.select(WorkOrder.number).where(WorkOrder.state == state).order_by(WorkOrder.id)
    return [n for (n,) in rows.limit(count).tuples()]


def test_those_that_may_go_go_and_of_each_other_it_is_said_why_not(week: Week) -> None:
    free, placed, done = some("approved", 6)[:5], some("approved", 6)[5], some("done", 1)[0]
    week.edit(kind="put", jobs=[placed], day=None)
    told = move(week.http, [*free, placed, done, "WO-none", free[0]], "on hold")
    assert told["count"] == 5
    why = {r["number"]: r["why"] for r in told["refused"]}
    assert set(why) == {placed, done, "WO-none"}
    assert "Take it out there first" in why[placed]
    assert why[done].startswith(f"{done} is done")
    assert set(states(free).values()) == {"on hold"}
    assert states([placed]) == {placed: "approved"}


def test_it_is_taken_back_once_by_whoever_did_it(client: Client) -> None:
    sven, mila = client("sven"), client("mila")
    planned, held = some("planned", 4), some("approved", 3)
    first = move(sven, planned, "approved")
    second = move(sven, held, "on hold")
    assert mila.delete(f"/api/orders/moves/{first['deed']}").status_code == 403
    assert sven.delete(f"/api/orders/moves/{first['deed']}").json() == 4
    assert set(states(planned).values()) == {"planned"}
    assert set(states(held).values()) == {"on hold"}
    again = sven.delete(f"/api/orders/moves/{first['deed']}")
    assert (again.status_code, again.json()["code"]) == (409, "undone")
    assert sven.delete("/api/orders/moves/999999").status_code == 404
    assert sven.delete(f"/api/orders/moves/{second['deed']}").json() == 3


def test_what_others_did_since_is_in_the_way_and_then_nothing_moves(week: Week, client: Client) -> None:
    held = some("on hold", 1) or []
    free = some("approved", 3)
    told = move(week.http, free, "on hold")
    client("mila").post(f"/api/orders/{free[0]}/state", json={"to": "cancelled"})
    answer = week.http.delete(f"/api/orders/moves/{told['deed']}")
    assert answer.status_code == 409
    assert states(free) == {free[0]: "cancelled", free[1]: "on hold", free[2]: "on hold"}
    back = move(week.http, free[1:], "approved")
    week.edit(kind="put", jobs=[free[1]], day=None)
    assert week.http.delete(f"/api/orders/moves/{back['deed']}").status_code == 422
    assert set(states(free[1:]).values()) == {"approved"}
    assert some("on hold", 1) == held


def test_who_plans_in_one_area_moves_its_work_alone(client: Client) -> None:
    with db.connection_context():
        accounts.change(None, "karl", None, roles={"planner": ["north"]})
    told = move(client("karl"), some("approved", 12), "on hold")
    assert 0 < told["count"] < 12
    assert {r["why"] for r in told["refused"]} == {"It lies in an area in which you do not plan."}


def give(http: TestClient, numbers: list[str], name: str, cell: str) -> dict[str, Any]:
    answer = http.post("/api/orders/fields", json={"numbers": numbers, "name": name, "cell": cell})
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_many_get_an_answerable_crew_or_a_date_at_once_but_those_that_are_over(week: Week) -> None:
    open_, over = some("approved", 5), some("done", 2)
    was = [week.http.get(f"/api/orders/{n}").json()["order"]["due"] for n in open_]
    told = give(week.http, [*open_, *over], "crew", "Lake 2")
    assert (told["count"], len(told["refused"])) == (5, 2)
    assert {w.crew for w in WorkOrder.select().where(WorkOrder.number.in_(open_))} == {"Lake 2"}
    told = give(week.http, open_, "due", "2026-12-09 18:00")
    form = week.http.get(f"/api/orders/{open_[0]}").json()
    assert form["order"]["due"].startswith("2026-12-09T18:00")
    assert week.http.delete(f"/api/orders/moves/{told['deed']}").status_code == 200
    assert [week.http.get(f"/api/orders/{n}").json()["order"]["due"] for n in open_] == was
    give(week.http, open_, "crew", "")
    assert {w.crew for w in WorkOrder.select().where(WorkOrder.number.in_(open_))} == {""}


def test_what_can_not_be_read_or_is_no_such_field_is_refused(week: Week) -> None:
    for name, cell, field in (("due", "someday", "cell"), ("title", "x", "name"), ("state", "done", "name")):
        body = {"numbers": some("approved", 2), "name": name, "cell": cell}
        answer = week.http.post("/api/orders/fields", json=body)
        assert (answer.status_code, answer.json()["field"]) == (422, field)
