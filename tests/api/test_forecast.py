"""The forecast: what falls due by craft and week, what could move, and the list of it."""

from __future__ import annotations

import json
from datetime import date, timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.store.roster import Person, PersonCertificate, PersonCraft
from nundine.store.site import Craft
from tests.api.conftest import Client
from tests.api.preventive import (
    PLAN,
    falling_due,
    next_dues,
    raised,
    reported,
    running,
    without_the_plans_of_the_demo,
)


@pytest.fixture
def sven(client: Client) -> TestClient:
    """The site without the plans of the demo."""
    without_the_plans_of_the_demo()
    return client("sven")


def test_work_that_is_typed_in_is_raised_as_one_task_and_counts_in_the_forecast(sven: TestClient) -> None:
    number = running(
        sven, assets="L1", job_plan="", grid="", rungs="yearly: 1 year", hours="2.5", needs="hand x2",
        description="Walk round and pick up litter", asset_state="stopped", correction="12",
    )  # fmt: skip
    body = {"picked": [{"plan": number, "asset": "L1"}]}
    (made,) = sven.post("/api/preventive/raising/picked", json=body).json()["made"]
    order = sven.get(f"/api/orders/{made['order']}").json()
    assert order["order"]["description"] == "Walk round and pick up litter"
    assert [(t["title"], t["hours"], t["needs"], t["asset_state"]) for t in order["tasks"]] == [
        ("Brake care", "2.5", "hand x2 level 1", "stopped")
    ]
    assert order["order"]["correction"] == "12.0"
    found = sven.get("/api/preventive/forecast", params={"first": "2026-11-23", "days": 1000}).json()
    assert {line["hours"]["hand"] for line in falling_due(found) if line["plan"] == number} == {5.0}


def test_the_forecast_of_a_person_holds_what_that_person_can_take_a_seat_of_on_its_day(
    sven: TestClient,
) -> None:
    seat = "mech x2 level 2 with rope"
    number = running(
        sven, "2026-11-20", assets="L1", job_plan="", hours="2", needs=seat, grid="", notice="31"
    )
    people = sven.get("/api/orders/choices").json()["people"]
    holders = {key for (key,) in Person.select(Person.key)
               .join(PersonCraft).join(Craft).where((Craft.key == "mech") & (PersonCraft.level >= 2))
               .switch(Person).join(PersonCertificate).where(PersonCertificate.certificate == "rope")
               .where(PersonCertificate.until.is_null() | (PersonCertificate.until >= date(2026, 12, 20)))
               .tuples()}  # fmt: skip
    assert holders and len(holders) < len(people)
    for one in people:
        asked = {"first": "2026-12-01", "days": 31, "person": one["value"]}
        lines = falling_due(sven.get("/api/preventive/forecast", params=asked).json())
        assert [x["plan"] for x in lines if x["plan"] == number] == [number] * (one["value"] in holders)
    nobody = sven.get("/api/preventive/forecast?first=2026-12-01&days=31&person=nobody")
    assert nobody.status_code == 422 and nobody.json()["field"] == "person"


def test_the_form_draws_what_comes_next_while_it_is_filled_in(sven: TestClient) -> None:
    body = {"plan": {**PLAN, "rungs": "monthly: 1 month; quarterly: 3 months"}, "started": "2026-11-15"}
    body["plan"]["grid"] = "20=quarterly"
    drawn = sven.post("/api/preventive/plans/ahead", json=body).json()["ahead"]
    assert [d["day"] for d in drawn[:3]] == ["2026-12-15", "2027-01-15", "2027-02-15"]
    assert [len(d["tasks"]) for d in drawn[:3]] == [1, 1, 2]
    wrong = sven.post("/api/preventive/plans/ahead", json={"plan": {**PLAN, "rungs": "now and then"}})
    assert wrong.status_code == 422 and wrong.json()["field"] == "rungs"


def test_the_forecast_holds_what_is_raised_and_what_is_to_come_by_craft_and_week(sven: TestClient) -> None:
    number = running(sven, assets="L1")
    (made,) = raised(sven)["made"]
    found = sven.get("/api/preventive/forecast", params={"first": "2026-11-23", "days": 182}).json()
    mine = [line for line in falling_due(found) if line["plan"] == number]
    assert [(line["day"], line["state"], line["order"]) for line in mine[:2]] == [
        ("2026-12-01", "raised", made["order"]), ("2027-01-01", "to come", None),
    ]  # fmt: skip
    week = next(
        w for c in found["crafts"] if c["craft"] == "mech" for w in c["weeks"] if w["week"] == "2026-W49"
    )
    assert week["due"] == week["raised"] > 0 and week["there"] > week["due"]
    assert sven.get("/api/preventive/forecast", params={"first": "2026-11-23", "days": 0}).status_code == 422


def test_an_overfull_week_proposes_what_could_move_within_tolerance(sven: TestClient) -> None:
    keys = [a["key"] for a in sven.get("/api/orders/choices").json()["assets"]]
    running(sven, "2026-12-20", assets="; ".join(keys), before="20", behind="20", grid="")
    found = sven.get("/api/preventive/forecast", params={"first": "2026-11-23", "days": 120}).json()
    assert found["shifts"]
    for shift in found["shifts"]:
        moved = date.fromisoformat(shift["to"]) - date.fromisoformat(shift["day"])
        assert abs(moved) <= timedelta(days=20) and shift["before"] > 1 and shift["after"] < shift["before"]


def test_a_week_is_overfull_when_preventive_work_takes_more_than_its_share_of_the_hours(
    sven: TestClient,
) -> None:
    running(sven, "2026-12-20", assets="L1; L2", before="10", behind="10", grid="")
    asked = {"first": "2026-11-23", "days": 120}
    whole = sven.get("/api/preventive/forecast", params=asked).json()
    part = sven.get("/api/preventive/forecast", params={**asked, "share": 0.02}).json()
    assert whole["shifts"] == [] and part["shifts"]
    there = [[w["there"] for c in found["crafts"] for w in c["weeks"]] for found in (whole, part)]
    assert there[1] == pytest.approx([hours * 0.02 for hours in there[0]], abs=0.011)


def test_a_service_moves_within_its_tolerance_and_its_cadence_stays(sven: TestClient) -> None:
    number = running(sven, "2026-11-20", assets="L1", behind="5", notice="31")

    def shifted(day: str, to: str, code: int = 200) -> Any:
        body = {"shifts": [{"plan": number, "asset": "L1", "day": day, "to": to}]}
        answer = sven.post("/api/preventive/shifts", json=body)
        assert answer.status_code == code, answer.text
        return answer.json()

    assert shifted("2026-12-20", "2026-12-26", code=422)["code"] == "tolerance"
    assert shifted("2026-12-19", "2026-12-22", code=422)["code"] == "due"
    assert shifted("2026-12-20", "2026-12-24") == 1
    assert next_dues(sven, number) == {"L1": "2026-12-24"}
    (made,) = raised(sven)["made"]
    assert made["due"] == "2026-12-24"
    reported(made["order"], "2026-12-24")
    assert next_dues(sven, number) == {"L1": "2027-01-20"}


def falls(http: TestClient, of: str, **filters: str) -> dict[str, Any]:
    asked = [{"column": c, "how": "is", "values": [v]} for c, v in filters.items()]
    answer = http.get("/api/lists/falls due/rows", params={"of": of, "q": json.dumps({"filters": asked})})
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_the_list_of_what_falls_due_holds_the_forecast_and_what_became_of_it(sven: TestClient) -> None:
    number = running(sven)
    made = raised(sven)["made"]
    reported(made[0]["order"], "2026-11-25")
    rows = falls(sven, "2026-11-23 130", plan=number)
    forecast = sven.get("/api/preventive/forecast?first=2026-11-23&days=130").json()
    of_plan = [x for x in falling_due(forecast) if x["plan"] == number]
    assert [r["cells"]["day"] for r in rows["rows"]] == [x["day"] for x in of_plan]
    first = rows["rows"][0]["cells"]
    assert (first["raised"], first["state"], first["done"]) == (made[0]["order"], "done", "2026-11-25")
    assert rows["counted"]["sums"]["hours"] == pytest.approx(sum(sum(x["hours"].values()) for x in of_plan))
    assert (first["order"], first["request"]) == (made[0]["order"], None)
    people = sven.get("/api/orders/choices").json()["people"]
    of_each = [falls(sven, f"2026-11-23 130 {p['value']}", plan=number)["counted"]["total"] for p in people]
    assert 0 in of_each and rows["counted"]["total"] in of_each


@pytest.mark.parametrize("of", ["soon", "2026-11-23 many", "2026-11-23 0", "9999-12-31 364", "2026-13-01 7"])
def test_what_is_no_range_of_days_is_refused(sven: TestClient, of: str) -> None:
    answer = sven.get("/api/lists/falls due/rows", params={"of": of, "q": "{}"})
    assert answer.status_code == 422, answer.text
