"""Kits: parts of a job set aside for its crew, handed out or put back."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.api.conftest import Client, Week
from tests.api.test_parts import PART, an_order_with, came, kept, seen
from tests.conftest import WEEK


@pytest.fixture
def sven(client: Client) -> TestClient:
    http = client("sven")
    kept(http, PART)
    return http


def deed(http: TestClient, what: str, code: int = 200, **body: Any) -> Any:
    answer = http.post(f"/api/parts/kits{what}", json=body)
    assert answer.status_code == code, answer.text
    return answer.json()


def kits(http: TestClient) -> dict[str, dict[str, Any]]:
    rows = http.get("/api/lists/kits/rows", params={"q": "{}"}).json()["rows"]
    return {r["cells"]["order"]: r["cells"] for r in rows}


@pytest.fixture
def job(sven: TestClient) -> str:
    """A job of the week that waits for four of X-1, which are there."""
    came(sven, 4, 10.0, shelf="A-1")
    order = an_order_with(sven, "X-1 x4")
    Week(sven).edit(kind="put", jobs=[order], day="2026-12-01")
    return order


def test_a_kit_says_where_its_parts_lie_beside_the_job_on_the_board_and_in_the_day(
    sven: TestClient, job: str
) -> None:
    assert deed(sven, "", orders=[job], place="kit shelf K3") == 1
    assert deed(sven, "", orders=[job], place="kit shelf K3") == 0, "twice is once"
    one = kits(sven)[job]
    assert (one["kit"], one["state"], one["parts"], one["day"]) == (
        "kit shelf K3", "staged", 1, "2026-12-01"
    )  # fmt: skip
    week = Week(sven)
    assert week.get(f"/jobs/{job}")["kit"] == "kit shelf K3"
    assert {t["kit"] for t in week.get("/review")["tasks"] if t["job"] == job} == {"kit shelf K3"}
    crew = week.get("/crew")
    seats = [*crew["open_seats"], *(w for p in crew["people"] for d in p["days"] for w in d["work"])]
    assert {s["kit"] for s in seats if s["job"] == job} == {"kit shelf K3"}
    day = sven.get("/api/buying/day").json()
    assert [p["kit"] for p in day["to_pick"] if p["order"] == job] == ["kit shelf K3"]
    rows = sven.get("/api/lists/picking/rows", params={"week": WEEK, "q": "{}"}).json()["rows"]
    assert {r["cells"]["kit"] for r in rows if r["cells"]["order"] == job} == {"kit shelf K3"}
    assert "set aside in kit shelf K3" in sven.get(f"/api/history/work%20order?key={job}").text


def test_a_kit_that_is_handed_out_whole_leaves_nothing_to_pick(sven: TestClient, job: str) -> None:
    deed(sven, "", orders=[job], place="K3")
    assert deed(sven, "/handing-out", orders=[job]) == {"count": 1, "failed": []}
    assert (kits(sven)[job]["state"], seen(sven)["on_hand"]) == ("handed out", 0)
    assert deed(sven, "/handing-out", orders=[job]) == {"count": 0, "failed": []}
    said = deed(sven, "", code=422, orders=[job], place="K4")
    assert said["field"] == "orders" and job in said["title"]


def test_a_job_that_leaves_the_week_gives_its_kit_back(sven: TestClient, job: str) -> None:
    deed(sven, "", orders=[job], place="K3")
    Week(sven).edit(kind="take out", jobs=[job])
    assert kits(sven)[job]["state"] == "to put back"
    (back,) = sven.get("/api/buying/day").json()["to_put_back"]
    assert (back["order"], back["kit"], back["parts"]) == (job, "K3", 1)
    assert deed(sven, "/putting-back", orders=[job]) == 1
    assert job not in kits(sven) and not sven.get("/api/buying/day").json()["to_put_back"]
    assert seen(sven)["on_hand"] == 4, "nothing moved"


@pytest.mark.parametrize(
    ("body", "code", "field"),
    [
        ({"orders": [], "place": "K3"}, 422, "orders"),
        ({"orders": ["WO-0"], "place": "K3"}, 404, ""),
        ({"orders": None, "place": "  "}, 422, "place"),
    ],
)
def test_what_can_not_be_set_aside_says_why(
    sven: TestClient, job: str, body: dict[str, Any], code: int, field: str
) -> None:
    said = deed(
        sven, "", code=code, **{**body, "orders": [job] if body["orders"] is None else body["orders"]}
    )
    assert said.get("field", "") == field and kits(sven) == {}
