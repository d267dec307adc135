"""Tasks that say more: long texts, checklists and their answers, people from outside, and what does
not hold on a day."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.store.roster import Person, RosterLine
from nundine.store.site import Craft
from tests.api.conftest import Client
from tests.api.test_orders import changed, made

OIL, NOISE = "Oil level [mm 12..18]", "Noise {none, !loud}"


@pytest.fixture
def sven(client: Client) -> TestClient:
    return client("sven")


@pytest.fixture
def order(sven: TestClient) -> str:
    number = made(sven)
    retold(sven, number, checklist=f"{OIL}; {NOISE}; Seals tight")
    return number


def retold(http: TestClient, number: str, code: int = 200, **cells: str) -> Any:
    """Other cells for the first task of a WO."""
    now = http.get(f"/api/orders/{number}").json()
    tasks = [{**now["tasks"][0], **cells}, *now["tasks"][1:]]
    body = {"order": now["order"], "tasks": tasks, "revision": now["revision"]}
    answer = http.post("/api/orders", json=body)
    assert answer.status_code == code, answer.text
    return answer.json()


def answered(http: TestClient, number: str, answers: dict[str, str], code: int = 200) -> Any:
    answer = http.post(f"/api/orders/{number}/tasks/10/answers", json={"answers": answers})
    assert answer.status_code == code, answer.text
    return answer.json()


def first_task(http: TestClient, number: str) -> dict[str, Any]:
    found = http.get(f"/api/weeks/2026-W49/jobs/{number}")
    assert found.status_code == 200, found.text
    return found.json()["tasks"][0]


def test_an_answer_out_of_limits_is_told_and_stays_with_who_gave_it(client: Client, order: str) -> None:
    sven = client("sven")
    out = answered(client("karl"), order, {OIL: "9,5", NOISE: "none", "Seals tight": "done"})
    assert [(c["what"], c["answer"], c["limits"]) for c in out] == [("Oil level", "9,5", "12 to 18 mm")]
    lines = {c["what"]: c for c in first_task(sven, order)["checklist"]}
    assert {w: c["within"] for w, c in lines.items()} == {
        "Oil level": False, "Noise": True, "Seals tight": True,
    }  # fmt: skip
    assert lines["Noise"]["by"]
    assert answered(sven, order, {OIL: ""}) == []
    assert first_task(sven, order)["checklist"][0]["answer"] is None


def test_an_answer_that_the_entry_does_not_take_is_refused_and_nothing_is_kept(
    sven: TestClient, order: str
) -> None:
    refused = answered(sven, order, {"Seals tight": "done", NOISE: "deafening"}, code=422)
    assert refused["field"] == NOISE and "none, loud" in refused["title"]
    assert all(c["answer"] is None for c in first_task(sven, order)["checklist"])
    assert answered(sven, order, {"Not asked": "done"}, code=404)["code"] == "entry"


def test_two_who_answer_at_one_moment_both_are_kept(client: Client, order: str) -> None:
    https = [client(name) for name in ("sven", "karl")]
    given = [{OIL: "15"}, {NOISE: "loud"}]
    with ThreadPoolExecutor(2) as pool:
        list(pool.map(lambda n: answered(https[n], order, given[n]), range(2)))
    lines = first_task(https[0], order)["checklist"]
    assert [c["answer"] for c in lines] == ["15", "loud", None]


def test_people_from_outside_need_no_own_crew_and_cost_what_their_contract_says(sven: TestClient) -> None:
    number = made(sven)
    before = sven.get(f"/api/orders/{number}/costs").json()
    retold(sven, number, outside="Seilbau Ost x2 at 95", hours="3")
    after = sven.get(f"/api/orders/{number}/costs").json()
    assert after["outside"] == 3 * 2 * 9_500 and before["outside"] == 0
    assert after["planned"] == sum(t["planned"] for t in after["tasks"])
    retold(sven, number, needs="", outside="Seilbau Ost x2 at 95")
    assert first_task(sven, number)["needs"] == []
    assert "nobody from outside" in retold(sven, number, code=422, needs="", outside="")["title"]
    assert {"name": "Seilbau Ost", "rate": 95.0} in sven.get("/api/orders/choices").json()["contracts"]


def test_a_contract_is_offered_however_many_tasks_without_one_were_made_since(sven: TestClient) -> None:
    retold(sven, made(sven), outside="Seilbau Ost x2 at 95")
    for _ in range(3):
        made(sven)
    contracts = {c["name"]: c["rate"] for c in sven.get("/api/orders/choices").json()["contracts"]}
    assert contracts["Seilbau Ost"] == 95.0
    assert "" not in contracts


def test_what_does_not_hold_on_the_day_is_said_while_it_is_entered(sven: TestClient) -> None:
    Craft.update(valid_from="2027-01-01").where(Craft.key == "rig").execute()
    who = Person.get(Person.key == "p01")
    RosterLine.update(first="2027-02-01").where(RosterLine.person == who).execute()
    tasks = [{"task": "10", "needs": "hand x1"}, {"task": "20", "needs": "rig x1"}]

    def said(**order: str) -> list[tuple[str, str]]:
        answer = sven.post("/api/orders/validity", json={"order": order, "tasks": tasks})
        assert answer.status_code == 200, answer.text
        return [(r["field"], r["text"]) for r in answer.json()]

    (craft, crew) = said(due="2026-12-01 18:00", crew=who.name)
    assert craft[0] == "tasks.1.needs" and "from Fri 1 Jan" in craft[1]
    assert crew[0] == "crew" and "from Mon 1 Feb" in crew[1]
    assert said(due="2027-03-01", crew=who.name) == []
    assert said(earliest="2020-01-01", due="2027-03-01")[0][0] == "tasks.1.needs"
    assert said(due="no day", crew="Somebody unknown")[0][0] == "tasks.1.needs"


def test_a_text_of_a_task_is_found_by_its_words(sven: TestClient, order: str) -> None:
    retold(sven, order, text="Grease with the yellow gun, never with the green one")
    hits = sven.get("/api/lists/found", params={"text": "yellow gun"}).json()
    assert [(h["list"], h["key"]) for h in hits] == [("all tasks", f"{order} / 10")]


def test_a_changed_checklist_keeps_the_answers_to_entries_that_stay(sven: TestClient, order: str) -> None:
    answered(sven, order, {OIL: "15", NOISE: "none"})
    retold(sven, order, checklist=f"{OIL}; Colour [text]")
    assert [(c["what"], c["answer"]) for c in first_task(sven, order)["checklist"]] == [
        ("Oil level", "15"), ("Colour", None),
    ]  # fmt: skip
    changed(sven, order, title="Another title")
    assert first_task(sven, order)["checklist"][0]["answer"] == "15"
