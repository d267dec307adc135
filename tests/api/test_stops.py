"""Preventive work around the week: what comes, one stop for an asset, putting off past tolerance."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.services.admin import accounts
from nundine.store.preventive import Occurrence, PreventivePlan
from tests.api.conftest import Client
from tests.api.test_rights import signed_in


@pytest.fixture
def sven(client: Client) -> TestClient:
    """The site without the plans of the demo."""
    PreventivePlan.update(state="ended").execute()
    Occurrence.delete().execute()
    return client("sven")


def running(http: TestClient, started: str, **more: str) -> str:
    cells = {"title": "Rollers", "job_plan": "JP-1002", "assets": "L1", "rungs": "monthly: 1 month", **more}
    body = {"plan": cells, "started": started, "revision": None}
    number: str = http.post("/api/preventive/plans", json=body).json()["number"]
    revision = http.get(f"/api/preventive/plans/{number}").json()["revision"]
    body = {"to": "running", "revision": revision}
    assert http.post(f"/api/preventive/plans/{number}/state", json=body).status_code == 204
    return number


def coming(http: TestClient, until: str, **params: Any) -> list[tuple[str, str]]:
    found = http.get("/api/preventive/coming", params={"until": until, **params}).json()
    return [(c["plan"], c["due"]) for c in found]


def raised(http: TestClient, plan: str, asset: str = "L1") -> str:
    body = {"picked": [{"plan": plan, "asset": asset}]}
    order: str = http.post("/api/preventive/raising/picked", json=body).json()["made"][0]["order"]
    return order


def put_off(http: TestClient, plan: str, to: str, reason: str = "", code: int = 204) -> Any:
    body = {"plan": plan, "asset": "L1", "to": to, "reason": reason}
    answer = http.post("/api/preventive/putting-off", json=body)
    assert answer.status_code == code, answer.text
    return answer


def test_what_falls_due_until_a_day_is_told_until_it_is_raised(sven: TestClient) -> None:
    soon, later = running(sven, "2026-11-06"), running(sven, "2026-11-20")
    assert coming(sven, "2026-12-13") == [(soon, "2026-12-06")]
    assert coming(sven, "2026-12-31") == [(soon, "2026-12-06"), (later, "2026-12-20")]
    assert coming(sven, "2026-12-31", areas="north") == []
    raised(sven, soon)
    assert coming(sven, "2026-12-13") == []


def test_other_services_of_the_asset_and_its_parts_are_offered_as_one_stop(sven: TestClient) -> None:
    first = running(sven, "2026-11-06")
    near, far = running(sven, "2026-11-18", title="Near"), running(sven, "2026-11-25", title="Far")
    of_part = running(sven, "2026-11-10", assets="L1-1", title="Part")
    elsewhere = running(sven, "2026-11-10", assets="M1")
    found = sven.get(f"/api/preventive/orders/{raised(sven, first)}").json()
    assert [b["plan"] for b in found["beside"]] == [of_part, near]
    assert found["of_plan"]["plan"] == first and {far, elsewhere}.isdisjoint(
        b["plan"] for b in found["beside"]
    )


def test_within_tolerance_it_is_put_off_without_a_word_and_past_it_with_a_reason(sven: TestClient) -> None:
    plan = running(sven, "2026-11-06", behind="7")
    put_off(sven, plan, "2026-12-13")
    assert coming(sven, "2026-12-31") == [(plan, "2026-12-13")]
    told = put_off(sven, plan, "2026-12-20", code=422).json()
    assert told["field"] == "reason" and "Sun 13 Dec" in told["title"]
    put_off(sven, plan, "2026-12-20", "the crane comes only then")
    assert coming(sven, "2026-12-31") == [(plan, "2026-12-20")]


def test_putting_off_what_is_raised_moves_its_wo_and_keeps_the_reason(sven: TestClient) -> None:
    plan = running(sven, "2026-11-06")
    order = raised(sven, plan)
    put_off(sven, plan, "2026-12-09", "no window before")
    assert sven.get(f"/api/orders/{order}").json()["order"]["due"].startswith("2026-12-09T18:00")
    of_plan = sven.get(f"/api/preventive/orders/{order}").json()["of_plan"]
    assert (of_plan["due"], of_plan["reason"]) == ("2026-12-06", "no window before")


def test_statutory_work_past_its_tolerance_takes_who_may_change_the_set_up(sven: TestClient) -> None:
    plan = running(sven, "2026-11-06", kind="statutory")
    with signed_in("planner") as planner:
        put_off(planner, plan, "2026-12-09", "the inspector is ill", code=403)
        put_off(planner, plan, "2026-12-05")
    put_off(sven, plan, "2026-12-09", "the inspector is ill")
    assert coming(sven, "2026-12-31") == [(plan, "2026-12-09")]


def test_a_day_that_is_over_is_refused(sven: TestClient) -> None:
    plan = running(sven, "2026-11-06")
    assert put_off(sven, plan, str(date(2026, 11, 22)), code=422).json()["field"] == "to"


def many(http: TestClient, act: str, *plans: str, **more: Any) -> dict[str, Any]:
    body = {"picked": [{"plan": p, "asset": "L1"} for p in plans], "act": act, **more}
    answer = http.post("/api/preventive/services", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_many_are_held_and_taken_up_again_and_those_that_stay_say_why(sven: TestClient) -> None:
    one, other = running(sven, "2026-11-06"), running(sven, "2026-11-07")
    assert many(sven, "hold", one) == {"count": 1, "refused": []}
    told = many(sven, "hold", one, other)
    assert told["count"] == 1 and told["refused"][0]["why"] == "It is held already."
    assert coming(sven, "2026-12-31") == []
    many(sven, "take up", one, other)
    assert len(coming(sven, "2026-12-31")) == 2


def test_many_shift_by_days_as_far_as_each_may(sven: TestClient) -> None:
    near, far = running(sven, "2026-11-06", behind="2"), running(sven, "2026-11-06", behind="9")
    told = many(sven, "shift", near, far, days=5)
    assert [(r["plan"], r["why"]) for r in told["refused"]] == [
        (near, "It may be done from Sun 6 Dec to Tue 8 Dec.")
    ]
    assert coming(sven, "2026-12-31") == [(near, "2026-12-06"), (far, "2026-12-11")]


def test_many_are_reported_done_on_one_day_and_their_next_dates_appear_at_once(sven: TestClient) -> None:
    one, other = running(sven, "2026-10-18"), running(sven, "2026-10-18", basis="floating")
    idle = running(sven, "2026-11-06")
    orders = [raised(sven, one), raised(sven, other)]
    told = many(sven, "done", one, other, idle, day="2026-11-20")
    assert told["count"] == 2 and told["refused"][0]["why"] == "Nothing is raised of it."
    assert {sven.get(f"/api/orders/{o}").json()["order"]["state"] for o in orders} == {"done"}
    assert coming(sven, "2026-12-31") == [
        (idle, "2026-12-06"), (one, "2026-12-18"), (other, "2026-12-20"),
    ]  # fmt: skip


def test_a_crew_is_answerable_for_many_plans(sven: TestClient) -> None:
    one, other = running(sven, "2026-11-06"), running(sven, "2026-11-07")
    many(sven, "give", one, other, crew="Crew north")
    assert {sven.get(f"/api/preventive/plans/{p}").json()["plan"]["crew"] for p in (one, other)} == {
        "Crew north"
    }


def test_who_plans_in_some_areas_alone_moves_no_service_elsewhere(client: Client, sven: TestClient) -> None:
    plan = running(sven, "2026-11-06", behind="7")
    accounts.change(None, "mila", None, roles={"scheduler": ["north"]})
    mila = client("mila")
    put_off(mila, plan, "2026-12-08", code=403)
    shifts = [{"plan": plan, "asset": "L1", "day": "2026-12-06", "to": "2026-12-07"}]
    assert mila.post("/api/preventive/shifts", json={"shifts": shifts}).status_code == 403
    held = {"asset": "L1", "held": True}
    assert mila.post(f"/api/preventive/plans/{plan}/holding", json=held).status_code == 403
    assert many(mila, "hold", plan)["count"] == 0
    assert coming(sven, "2026-12-31") == [(plan, "2026-12-06")]
