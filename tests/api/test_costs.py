"""Costs of WOs: planned, actual, shared out, tried and closed."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client
from tests.api.test_orders import changed, made


@pytest.fixture
def sven(client: Client) -> TestClient:
    return client("sven")


def reported(order: str, **tasks: dict[str, Any]) -> None:
    """Tasks done by `t10={"hours_spent": 2}`."""
    with db.atomic():
        wanted = {(order, name[1:]): {"state": "done", **told} for name, told in tasks.items()}
        write("files", None, Edit("progress", "Done", changes_to("task", wanted)), checked=True)


def costs(http: TestClient, number: str) -> dict[str, Any]:
    answer = http.get(f"/api/orders/{number}/costs")
    assert answer.status_code == 200, answer.text
    return answer.json()


HAND, RIG = 62.0, 98.0


def test_planned_costs_are_hours_by_people_by_rate_and_actual_ones_follow_reports(sven: TestClient) -> None:
    number = made(sven)
    one = costs(sven, number)
    planned = [100 * 2.5 * 2 * HAND, 100 * (RIG + HAND)]
    assert [t["planned"] for t in one["tasks"]] == planned
    assert (one["planned"], one["actual"], one["currency"]) == (sum(planned), None, "CHF")
    reported(number, t10={"hours_spent": 3.0})
    one = costs(sven, number)
    assert (one["actual"], one["state"]) == (100 * 3 * 2 * HAND, "under way")
    reported(number, t20={"hours_spent": 1.0, "hours_by": {"p01": 2.0}})
    assert costs(sven, number)["tasks"][1]["actual"] == 100 * 2 * RIG


def test_costs_go_to_the_accounts_of_the_assets_that_share_and_add_up_to_the_cent(sven: TestClient) -> None:
    number = made(sven)
    assert changed(sven, number, shares="N2:33.3; M1:33.3").status_code == 200
    one = costs(sven, number)
    assert {c["account"] for c in one["charges"]} == {"4100-N1", "4100-N2", "4200-M1"}
    assert sum(c["amount"] for c in one["charges"]) == one["planned"]
    assert changed(sven, number, cost_account="7100-x").status_code == 200
    assert [c["account"] for c in costs(sven, number)["charges"]] == ["7100-x"]


@pytest.mark.parametrize("shares", ["N2:70; M1:40", "N1:20", "moon:10", "N2", "N2:0", "N2:10; N2:10"])
def test_shares_that_make_no_sense_are_refused_with_their_field(sven: TestClient, shares: str) -> None:
    answer = changed(sven, made(sven), shares=shares)
    assert (answer.status_code, answer.json()["field"]) == (422, "shares")


def trial(http: TestClient, *numbers: str) -> dict[str, Any]:
    answer = http.post("/api/orders/closing/trial", json={"numbers": numbers})
    assert answer.status_code == 200, answer.text
    return answer.json()


def done(http: TestClient) -> str:
    number = made(http)
    reported(number, t10={"hours_spent": 3.0}, t20={"hours_spent": 1.0})
    return number


def test_a_trial_says_what_would_be_charged_and_why_others_can_not_be_closed(sven: TestClient) -> None:
    ready, open_, poor, silent = done(sven), made(sven), done(sven), made(sven)
    Asset.update(cost_account=None).where(Asset.key == "N2").execute()
    assert changed(sven, poor, asset="N2").status_code == 200
    reported(silent, t10={}, t20={})
    found = trial(sven, ready, open_, poor, silent, "WO-none")
    assert [one["number"] for one in found["orders"]] == [ready]
    assert found["actual"] - found["planned"] == 100 * 0.5 * 2 * HAND
    assert found["accounts"] == [{"account": "4100-N1", "amount": found["actual"]}]
    why = {r["number"]: r["why"] for r in found["refused"]}
    assert "once it is done" in why[open_]
    assert "no cost account" in why[poor]
    assert "No hours are reported" in why[silent]
    assert "no WO" in why["WO-none"]
    assert WorkOrder.get(WorkOrder.number == ready).state == "done"


def test_what_is_closed_keeps_its_costs_though_rates_change_and_is_taken_back_in_one_go(
    sven: TestClient,
) -> None:
    numbers = [done(sven), done(sven)]
    before = costs(sven, numbers[0])
    moved = sven.post("/api/orders/closing", json={"numbers": numbers}).json()
    assert (moved["count"], moved["refused"]) == (2, [])
    form = sven.get("/api/setup").json()
    body = {k: form[k] for k in ("seconds", "weights", "reasons", "revision")}
    answer = sven.put(
        "/api/setup", json={**body, "held_back": {}, "rates": {"hand": 99.0}, "currency": "EUR"}
    )
    assert answer.status_code == 200, answer.text
    one = costs(sven, numbers[0])
    assert (one["state"], one["final"], one["actual"]) == ("closed", True, before["actual"])
    assert one["charges"] == before["charges"]
    assert sven.delete(f"/api/orders/moves/{moved['deed']}").json() == 2
    one = costs(sven, numbers[0])
    assert (one["state"], one["final"], one["currency"]) == ("done", False, "EUR")
    assert one["actual"] > before["actual"]


def test_nothing_is_closed_by_hand_without_its_costs(sven: TestClient) -> None:
    moved = sven.post("/api/orders/moves", json={"numbers": [done(sven)], "to": "closed"}).json()
    assert (moved["count"], len(moved["refused"])) == (0, 1)


def test_parts_cost_as_planned_what_one_costs_now_and_as_used_what_was_handed_out(sven: TestClient) -> None:
    part = {"cells": {"part": "X-1", "name": "Seal kit", "price": "10"}, "revision": None}
    assert sven.post("/api/parts/registers/parts", json=part).status_code == 204

    def moved(kind: str, quantity: float, **more: Any) -> None:
        line = {"kind": kind, "part": "X-1", "storeroom": "main", "quantity": quantity, **more}
        assert sven.post("/api/parts/movements", json={"lines": [line]}).json()["failed"] == []

    number = made(sven)
    before = costs(sven, number)["planned"]
    form = sven.get(f"/api/orders/{number}").json()
    form["tasks"][0]["parts"] = 'X-1 x3; "rags" x9'
    body = {"order": form["order"], "tasks": form["tasks"], "revision": form["revision"]}
    assert sven.post("/api/orders", json=body).status_code == 200
    one = costs(sven, number)
    assert (one["parts"], one["parts_used"], one["planned"], one["actual"]) == (3000, 0, before + 3000, None)
    moved("receipt", 4, price=12.5)
    moved("hand-out", 3, order=number)
    moved("give-back", 1, order=number)
    one = costs(sven, number)
    assert (one["parts"], one["parts_used"], one["actual"]) == (3750, 2500, 2500)
    assert one["part_lines"] == [
        {
            "name": "Seal kit", "unit": "pcs", "planned": 3.0, "used": 2.0, "planned_cents": 3750,
            "used_cents": 2500,
        }
    ]  # fmt: skip
    assert sum(c["amount"] for c in one["charges"]) == 2500
