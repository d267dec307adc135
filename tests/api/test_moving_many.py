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
