"""Why somebody is away is known to schedulers and supervisors; others see that they are."""

from __future__ import annotations

import io

import pytest
from openpyxl import load_workbook

from tests.api.conftest import Client, Week, answers_for
from tests.conftest import WEEK

SICK = "sick"


@pytest.fixture
def sick(week: Week) -> tuple[Week, str]:
    """The week, and somebody who was called in sick on a day of it."""
    for person in week.get("/crew")["people"]:
        for day in person["days"]:
            if day["shifts"] and not day["absence"]:
                week.edit(kind="absence", person=person["key"], day=day["day"], reason=SICK)
                return week, person["key"]
    raise AssertionError("nobody is there")


def absences(week: Week, person: str) -> set[str]:
    one = next(p for p in week.get("/crew")["people"] if p["key"] == person)
    return {h["note"] for d in one["days"] for h in d["by_hand"] if h["what"] == "absence"}


def test_schedulers_and_supervisors_see_why_and_others_that(sick: tuple[Week, str], client: Client) -> None:
    week, person = sick
    assert SICK in absences(week, person)
    assert SICK in absences(Week(client("karl")), person)
    for name in ("rene", "olivia", "ada"):
        assert absences(Week(client(name)), person) == {"away"}


@pytest.mark.parametrize("name", ["rene", "olivia", "ada"])
def test_nothing_that_others_can_read_says_why(sick: tuple[Week, str], client: Client, name: str) -> None:
    http = client(name)
    for path in ("", "/crew", "/log", "/agree", "/review", "/week.csv", "/problem.json", "/revisions"):
        assert SICK not in http.get(f"/api/weeks/{WEEK}{path}").text.lower(), path
    assert SICK not in http.get("/api/imports/exports/absences.csv").text
    made = http.post("/api/imports/exports").json()
    book = load_workbook(io.BytesIO(http.get(f"/api/runs/{made['id']}/file").content))
    assert {row[3].value for row in list(book["absences"].rows)[1:]} == {"other"}


def test_who_may_know_why_takes_it_out_with_the_rest(sick: tuple[Week, str]) -> None:
    week, _ = sick
    assert SICK in week.http.get("/api/imports/exports/absences.csv").text


def test_the_scheduler_does_not_look_after_accounts_and_the_administrator_does_not_schedule(
    client: Client,
) -> None:
    sven, ada = client("sven"), client("ada")
    assert sven.get("/api/accounts").status_code == 403
    assert sven.put("/api/accounts/olivia", json=answers_for([])).status_code == 403
    assert ada.get("/api/accounts").status_code == 200
    edit = {"edit": {"kind": "put", "jobs": ["WO-1000"], "day": "2026-12-01"}, "seen": 0}
    assert ada.post(f"/api/weeks/{WEEK}/edits", json=edit).status_code == 403


def test_operations_without_areas_answer_nothing(built: Week, client: Client) -> None:
    client("ada").put("/api/accounts/olivia", json=answers_for([]))
    key = next(p for a in built.get("/agree")["assets"] for p in a["placements"])
    form = {"key": [key["job"], key["task"], key["portion"]], "said": "agreed", "remark": "", "seen": 10**6}
    refused = client("olivia").post(f"/api/weeks/{WEEK}/answers", json=form)
    assert refused.status_code == 403
    assert "No area was given to you" in refused.json()["title"]
