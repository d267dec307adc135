"""Preventive plans: kept, drawn ahead, raised once however often and by whom, done with their WOs."""

from __future__ import annotations

import json
from concurrent.futures import ThreadPoolExecutor
from datetime import date
from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.job_plan import JobPlan
from nundine.store.preventive import Occurrence, PreventivePlan, Service
from nundine.store.roster import Person
from nundine.store.site import Area, Craft
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client
from tests.api.preventive import (
    PLAN,
    _at,
    falling_due,
    next_dues,
    put,
    raised,
    reported,
    running,
    saved,
    seen,
    without_the_plans_of_the_demo,
)


@pytest.fixture
def sven(client: Client) -> TestClient:
    """The site without the plans of the demo."""
    without_the_plans_of_the_demo()
    return client("sven")


def test_a_plan_has_a_service_on_each_of_its_assets_that_falls_due_by_its_rungs(sven: TestClient) -> None:
    number = saved(sven, "2026-11-10")
    assert number.startswith("PP-")
    assert next_dues(sven, number) == {"L1": "2026-12-10", "L2": "2026-12-10"}
    assert raised(sven)["made"] == []  # it is being written
    put(sven, number, "running")
    now = seen(sven, number)
    body = {"plan": {**now["plan"], "assets": "L2; L3"}, "started": "2026-10-01", "revision": now["revision"]}
    answer = sven.post("/api/preventive/plans", json=body)
    assert answer.status_code == 200, answer.text
    assert next_dues(sven, number) == {"L2": "2026-12-10", "L3": "2026-11-01"}


def test_what_falls_due_within_its_notice_is_raised_once_however_often_it_is_asked_for(
    sven: TestClient,
) -> None:
    number = running(sven)
    made = raised(sven)["made"]
    assert [(m["plan"], m["asset"], m["due"]) for m in made if m["plan"] == number] == [
        (number, "L1", "2026-12-01"), (number, "L2", "2026-12-01"),
    ]  # fmt: skip
    assert raised(sven) == {"made": [], "not_made": []}
    order = WorkOrder.get(WorkOrder.number == made[0]["order"])
    assert (order.kind, order.must, order.plan.number) == ("statutory", True, "JP-1002")
    assert order.title == "Brake care: monthly" and str(order.due) == "2026-12-01 17:00:00+00:00"
    assert [t.number for t in order.tasks] == ["10"]  # the other task belongs to the yearly rung
    assert {s["order"] for s in seen(sven, number)["services"]} == {m["order"] for m in made}


def test_two_who_raise_at_one_moment_raise_each_service_once(client: Client, sven: TestClient) -> None:
    https = [sven, client("mila")]
    number = running(sven)
    with ThreadPoolExecutor(2) as pool:
        both = list(pool.map(lambda http: raised(http)["made"], https))
    assert sum(len(made) for made in both) == 2
    assert Occurrence.select().count() == 2
    assert len({s["order"] for s in seen(https[0], number)["services"]}) == 2


def test_a_service_is_done_with_its_wo_and_the_next_date_appears_at_once(sven: TestClient) -> None:
    fixed, floating = running(sven, assets="L1"), running(sven, assets="L2", basis="floating")
    order = {m["plan"]: m["order"] for m in raised(sven)["made"]}
    for number in (fixed, floating):
        reported(order[number], "2026-12-04")
    assert next_dues(sven, fixed) == {"L1": "2027-01-01"}
    assert next_dues(sven, floating) == {"L2": "2027-01-04"}
    (line,) = seen(sven, floating)["happened"]
    assert (line["state"], line["done"], line["late"]) == ("done", "2026-12-04", 0)
    reported(order[fixed], None, "to do")  # opened again
    assert next_dues(sven, fixed) == {"L1": "2026-12-01"}
    assert seen(sven, fixed)["happened"][0]["state"] == "raised"


def test_a_service_whose_wo_is_cancelled_is_left_out_and_goes_on(sven: TestClient) -> None:
    number = running(sven, assets="L1")
    (made,) = raised(sven)["made"]
    moved = {"numbers": [made["order"]], "to": "cancelled"}
    assert sven.post("/api/orders/moves", json=moved).status_code == 200
    assert seen(sven, number)["happened"][0]["state"] == "left out"
    assert next_dues(sven, number) == {"L1": "2027-01-01"}
    found = sven.get("/api/preventive/forecast", params={"first": "2026-11-23", "days": 14}).json()
    assert [line["state"] for line in falling_due(found) if line["plan"] == number] == ["left out"]
    assert [w["due"] for c in found["crafts"] for w in c["weeks"] if w["due"]] == []  # it fills no week


def test_what_is_held_or_has_no_work_is_not_raised_and_says_why(sven: TestClient) -> None:
    number = running(sven, assets="L1; L2", job_plan="")
    body = {"asset": "L2", "held": True}
    assert sven.post(f"/api/preventive/plans/{number}/holding", json=body).status_code == 204
    told = raised(sven)
    assert told["made"] == []
    assert [(n["asset"], n["why"]) for n in told["not_made"]] == [
        ("L1", "It has neither a job plan nor hours of its own that say what is to be done.")
    ]


def test_what_is_in_store_is_not_raised_until_it_is_fitted_again(sven: TestClient) -> None:
    number = running(sven, assets="L1")
    fitted(sven, in_store=True)
    assert raised(sven) == {"made": [], "not_made": []}
    fitted(sven, in_store=False, parent="M1")
    assert [m["plan"] for m in raised(sven)["made"]] == [number]
    one = Asset.get(Asset.key == "L1")
    assert (one.parent.key, one.area.key) == ("M1", "middle")


def test_an_asset_is_not_fitted_into_a_part_of_itself(sven: TestClient) -> None:
    body = {"assets": ["L1"], "in_store": False, "parent": "L1-1"}
    answer = sven.post("/api/assets/fitting", json=body)
    assert answer.status_code == 422 and answer.json()["code"] == "part"


def fitted(http: TestClient, **how: Any) -> None:
    answer = http.post("/api/assets/fitting", json={"assets": ["L1"], **how})
    assert answer.status_code == 200 and answer.json() == 1, answer.text


def test_notice_as_a_share_of_the_interval_raises_at_once_or_on_the_day(sven: TestClient) -> None:
    """Common practice, no source."""
    running(sven, "2026-11-20", assets="L1", notice="0 %")
    running(sven, "2026-11-20", assets="L2", notice="100 %")
    assert [m["asset"] for m in raised(sven)["made"]] == ["L1"]


def test_tolerance_as_a_share_of_the_interval_says_in_days_when_it_may_be_done(sven: TestClient) -> None:
    number = running(sven, "2026-11-20", assets="L1", before="10 %", behind="20 %", notice="31")
    (line,) = falling_due(sven.get("/api/preventive/forecast?first=2026-12-01&days=31").json())
    stored = PreventivePlan.get(PreventivePlan.number == number)
    assert (line["day"], stored.days_before, stored.days_behind) == ("2026-12-20", 3, 6)
    plan = sven.get(f"/api/preventive/plans/{number}").json()["plan"]
    assert (plan["before"], plan["behind"]) == ("10 %", "20 %")


def test_what_is_picked_is_raised_whenever_it_falls_due(sven: TestClient) -> None:
    number = running(sven, "2026-11-22", assets="L1; L2")
    body = {"picked": [{"plan": number, "asset": "L2"}]}
    answer = sven.post("/api/preventive/raising/picked", json=body).json()
    assert [(m["asset"], m["due"]) for m in answer["made"]] == [("L2", "2026-12-22")]


@pytest.mark.parametrize(
    ("cells", "field"),
    [
        ({"assets": "nowhere"}, "assets"),
        ({"assets": ""}, "assets"),
        ({"rungs": "monthly: 0 months"}, "rungs"),
        ({"rungs": "a: 1 month; a: 1 year"}, "rungs"),
        ({"grid": "20=weekly"}, "grid"),
        ({"notice": "soon"}, "notice"),
        ({"behind": "60 %"}, "behind"),
        ({"before": "10 %", "rungs": "overhaul: shutdown autumn +2"}, "before"),
        ({"season": "13"}, "season"),
        ({"job_plan": "JP-0"}, "job_plan"),
    ],
)
def test_what_is_wrong_names_its_field_and_nothing_is_saved(
    sven: TestClient, cells: dict[str, str], field: str
) -> None:
    before = Service.select().count()
    assert saved(sven, code=422, **cells)["field"] == field
    assert Service.select().count() == before


def test_a_reader_sees_plans_and_raises_none(client: Client, sven: TestClient) -> None:
    number = running(sven)
    rene = client("rene")
    assert seen(rene, number)["plan"]["title"] == "Brake care"
    assert rene.post("/api/preventive/raising", json={}).status_code == 403


def test_what_does_not_hold_on_a_date_is_said_while_a_plan_is_filled_in(sven: TestClient) -> None:
    JobPlan.update(valid_from=date(2027, 1, 1)).where(JobPlan.number == "JP-1002").execute()
    Craft.update(valid_to=date(2027, 6, 30)).where(Craft.key == "mech").execute()
    body = {"plan": {**PLAN, "assets": "L1"}, "started": "2026-11-15"}
    drawn = sven.post("/api/preventive/plans/ahead", json=body).json()
    assert drawn["ahead"][0]["day"] == "2026-12-15"
    (told,) = [r["text"] for r in drawn["remarks"] if r["field"] == "plan"]
    assert "JP-1002 holds from Fri 1 Jan on, not yet on Tue 15 Dec" in told
    JobPlan.update(valid_from=None).where(JobPlan.number == "JP-1002").execute()
    drawn = sven.post("/api/preventive/plans/ahead", json=body).json()
    assert ["until Wed 30 Jun" in r["text"] for r in drawn["remarks"]] == [True]


@pytest.mark.parametrize(
    ("cells", "field", "why"),
    [({"hours": ""}, "hours", "neither a job plan nor hours"), ({"hours": "2"}, "needs", "names no craft")],
)
def test_a_plan_without_work_says_so_while_it_is_filled_in_and_is_not_raised(
    sven: TestClient, cells: dict[str, str], field: str, why: str
) -> None:
    bare = {"assets": "L1", "job_plan": "", "grid": "", **cells}
    drawn = sven.post("/api/preventive/plans/ahead", json={"plan": {**PLAN, **bare}, "started": None}).json()
    assert [r["field"] for r in drawn["remarks"]] == [field] and drawn["ahead"]
    running(sven, **bare)
    told = raised(sven)
    assert told["made"] == [] and [why in n["why"] for n in told["not_made"]] == [True]


def test_a_plan_after_the_pattern_of_one_that_runs_runs_at_once(sven: TestClient) -> None:
    pattern = running(sven, assets="L1")
    cells = {**PLAN, "assets": "L2", "number": ""}
    body = {"plan": cells, "started": "2026-11-01", "revision": None, "like": pattern}
    made = sven.post("/api/preventive/plans", json=body).json()["number"]
    assert seen(sven, made)["plan"]["state"] == "running" and next_dues(sven, made) == {"L2": "2026-12-01"}
    put(sven, pattern, "on hold")
    other = sven.post("/api/preventive/plans", json=body).json()["number"]
    assert seen(sven, other)["plan"]["state"] == "being written"


def test_when_a_service_was_done_last_is_corrected_and_its_next_date_follows(sven: TestClient) -> None:
    """Common practice, no source: monthly with last done 20 October is next due 20 November."""
    number = running(sven, "2026-11-01", assets="L1", rungs="monthly: 1 month", grid="")

    def corrected(day: str) -> Any:
        picked = [{"plan": number, "asset": "L1"}]
        answer = sven.post(
            "/api/preventive/services", json={"picked": picked, "act": "last done", "day": day}
        )
        return answer.json() if answer.status_code == 200 else answer.json()["code"]

    assert corrected("2026-10-20") == {"count": 1, "refused": []}
    (service,) = seen(sven, number)["services"]
    assert (service["last_done"], service["next_due"]) == ("2026-10-20", "2026-11-20")
    assert corrected("2026-12-01") == "day"
    raised(sven)
    (stays,) = corrected("2026-10-21")["refused"]
    assert stays["why"] == "It is raised; its WO says when it was done."


def asked(http: TestClient, number: str) -> dict[str, Any]:
    answer = http.get(f"/api/requests/{number}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_a_service_that_is_raised_as_a_request_is_done_with_the_wo_that_comes_of_it(sven: TestClient) -> None:
    number = running(sven, "2026-11-01", assets="L1", raises="request", crew="Day crew")
    (made,) = raised(sven)["made"]
    assert made["order"] is None and raised(sven)["made"] == []
    request = asked(sven, made["request"])
    assert request["state"] == "new" and request["asset"] == "L1" and "Brake care" in request["title"]
    service = request["service"]
    assert (service["plan"], service["due"], service["order"]["kind"]) == (number, "2026-12-01", "statutory")
    assert [t["task"] for t in service["tasks"]] == ["10"]  # 20 belongs to the yearly rung
    body = {"order": {}, "tasks": [], "revision": request["revision"]}
    order = sven.post(f"/api/requests/{made['request']}/order", json=body).json()["number"]
    (line,) = seen(sven, number)["services"]
    assert (line["order"], line["request"]) == (order, None)
    assert WorkOrder.get(WorkOrder.number == order).kind == "statutory"
    WorkOrder.update(state="approved").where(WorkOrder.number == order).execute()
    reported(order, "2026-12-03")
    (line,) = seen(sven, number)["services"]
    assert (line["last_done"], line["next_due"]) == ("2026-12-03", "2027-01-01")
    assert asked(sven, made["request"])["state"] == "done"


def test_a_service_whose_request_is_declined_is_left_out_and_raised_again_when_it_opens(
    sven: TestClient,
) -> None:
    number = running(sven, "2026-11-01", assets="L1", raises="request")
    (made,) = raised(sven)["made"]

    def decided(what: str, **more: str) -> None:
        body = {"revision": asked(sven, made["request"])["revision"], **more}
        answer = sven.post(f"/api/requests/{made['request']}/{what}", json=body)
        assert answer.status_code < 300, answer.text

    decided("declining", text="Not this month")
    assert [h["state"] for h in seen(sven, number)["happened"]] == ["left out"]
    assert next_dues(sven, number) == {"L1": "2027-01-01"}
    decided("opening")
    assert [h["state"] for h in seen(sven, number)["happened"]] == ["raised"]
    assert next_dues(sven, number) == {"L1": "2026-12-01"}


def test_who_stands_in_for_somebody_away_is_answerable_for_what_falls_due_meanwhile(sven: TestClient) -> None:
    first, other = Person.select().order_by(Person.key).limit(2)
    away = {"start": _at("2026-11-30"), "end": _at("2026-12-03"), "reason": "leave", "stand_in": other.key}
    with db.atomic():
        changes = changes_to("absence", {(first.key, _at("2026-11-30").isoformat()): away})
        write("files", None, Edit("absence", "Away", changes), checked=True)
    running(sven, "2026-11-01", assets="L1", crew=first.name)
    running(sven, "2026-11-05", assets="L2", crew=first.name)
    crews = {m["asset"]: WorkOrder.get(WorkOrder.number == m["order"]).crew for m in raised(sven)["made"]}
    assert crews == {"L1": other.name, "L2": first.name}


def test_of_the_services_that_are_shown_alone_what_is_due_is_raised(sven: TestClient) -> None:
    elsewhere = Asset.select().join(Area).where(Area.key != Asset.get(Asset.key == "L1").area.key).get()
    running(sven, assets=f"L1; L2; {elsewhere.key}")
    assert [m["asset"] for m in raised(sven, elsewhere.area.key)["made"]] == [elsewhere.key]
    assert {m["asset"] for m in raised(sven)["made"]} == {"L1", "L2"}


def test_the_record_tells_who_did_a_service_and_the_hours_by_asset_task_and_person(sven: TestClient) -> None:
    number = running(sven, assets="L1", started="2026-10-20")
    (made,) = raised(sven)["made"]
    one, other = Person.select().order_by(Person.name).limit(2)
    with db.atomic():
        told = {
            "state": "done",
            "ended": _at("2026-11-20"),
            "hours_spent": 2.0,
            "done_by": [one.key, other.key],
        }
        changes = changes_to(
            "task", {(made["order"], "10"): told | {"hours_by": {one.key: 2.0, other.key: 1.5}}}
        )
        write("files", None, Edit("progress", "Told", changes), checked=True)
    q = json.dumps({"find": number})
    row = sven.get("/api/lists/done services/rows", params={"q": q}).json()["rows"][0]["cells"]
    assert row["by"] == f"{one.name}, {other.name}" and row["parts"] == 0
    before = row["found"]
    asked = {"title": "Crack seen", "asset": "L1", "description": "", "urgency": "now"}
    assert sven.post("/api/requests", json=asked).status_code == 200
    row = sven.get("/api/lists/done services/rows", params={"q": q}).json()["rows"][0]["cells"]
    assert row["found"] == before + 1, "a request that follows counts as found"

    def hours(by: str) -> dict[str, float]:
        lines = sven.get(f"/api/preventive/record/hours?by={by}&days=90").json()
        return {x["name"]: x["hours"] for x in lines}

    assert hours("person") == {one.name: 2.0, other.name: 1.5}
    assert list(hours("asset").values()) == [3.5]
    assert [(n.split()[:2], h) for n, h in hours("task").items()] == [([number, "10"], 3.5)]
    assert "SMRP" in sven.get("/api/preventive/record").json()["formula"]


def test_sheets_are_printed_of_what_is_raised_of_services_and_refused_where_nothing_is(
    sven: TestClient,
) -> None:
    number = running(sven)
    picked = [{"plan": number, "asset": asset} for asset in ("L1", "L2")]

    def orders(of: list[dict[str, str]]) -> Any:
        return sven.post("/api/preventive/services/orders", json={"picked": of})

    assert orders(picked).status_code == 422 and "no sheet" in orders(picked).text
    made = {m["asset"]: m["order"] for m in raised(sven)["made"]}
    assert orders(picked).json() == sorted(made.values())
    assert orders(picked[:1]).json() == [made["L1"]]
