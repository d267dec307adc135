"""Parts that do instead of others: picked, handed out, used and given back for what is wanted."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.services.work.part_needs import on_paper
from nundine.store.part import PartNeed
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client, Week
from tests.api.test_kits import deed, kits
from tests.api.test_parts import PART, an_order_with, came, kept, posted, seen, used, waits
from tests.conftest import WEEK


@pytest.fixture
def sven(client: Client) -> TestClient:
    """X-2 does instead of X-1, of which one lies on A-1; of X-2 there are five on B-1."""
    http = client("sven")
    kept(http, PART)
    kept(http, {**PART, "part": "X-2", "name": "Seal kit, blue", "alternates": "X-1 both ways"})
    came(http, 1, 10.0, shelf="A-1")
    came(http, 5, 10.0, part="X-2", shelf="B-1")
    return http


def need(order: str, part: str = "X-1") -> Any:
    rows = PartNeed.select().join(WorkOrder).where(WorkOrder.number == order)
    return next(n for n in rows if n.part.key == part)


def to_pick(http: TestClient, order: str) -> dict[str, dict[str, Any]]:
    rows = http.get("/api/lists/picking/rows", params={"week": WEEK, "q": "{}"}).json()["rows"]
    return {r["cells"]["part"]: r["cells"] for r in rows if r["cells"]["order"] == order}


def placed(http: TestClient, parts: str) -> str:
    order = an_order_with(http, parts)
    Week(http).edit(kind="put", jobs=[order], day="2026-12-01")
    return order


def test_what_to_pick_names_what_does_instead_and_where_it_lies(sven: TestClient) -> None:
    row = to_pick(sven, placed(sven, "X-1 x3"))["X-1"]
    assert (row["instead"], row["reserved"], row["short"]) == ("X-2", 1, False)
    assert set(row["lies"].split(", ")) == {"main A-1", "main B-1 (X-2)"}


def test_picking_hands_out_what_is_reserved_and_of_what_does_instead_the_rest(sven: TestClient) -> None:
    order = placed(sven, "X-1 x3")
    picked = {"picked": [{"order": order, "task": "10", "part": "X-1"}]}
    assert sven.post("/api/parts/picking", json=picked).json() == {"count": 1, "failed": []}
    assert (seen(sven)["on_hand"], seen(sven, "X-2")["on_hand"]) == (0, 3)
    move = seen(sven, "X-2")["moves"][0]
    assert (move["kind"], move["order"], move["reason"]) == ("hand-out", order, "Instead of X-1.")
    assert need(order).given == 3 and waits(order) == (None, False)
    assert to_pick(sven, order) == {}
    assert seen(sven, "X-2")["reserved"] == 0, "nothing more is kept for it"


def test_a_kit_goes_out_whole_with_what_does_instead(sven: TestClient) -> None:
    order = placed(sven, "X-1 x3")
    deed(sven, "", orders=[order], place="K3")
    assert (kits(sven)[order]["short"], kits(sven)[order]["parts"]) == (0, 1)
    day = sven.get("/api/buying/day").json()
    assert [p["short"] for p in day["to_pick"] if p["order"] == order] == [0]
    assert deed(sven, "/handing-out", orders=[order]) == {"count": 1, "failed": []}
    assert kits(sven)[order]["state"] == "handed out"


def test_the_sheet_of_a_wo_says_what_does_instead_and_where_it_lies(sven: TestClient) -> None:
    said = on_paper({(order := placed(sven, "X-1 x3")): [[["X-1", "", 3, None, True]]]})
    words = said(order, "10", ["X-1", "", 3, None, True])
    assert words == "3 set X-1 Seal kit (main A-1), X-2 instead (main B-1)"


def test_what_does_instead_meets_the_need_however_it_was_handed_out(sven: TestClient) -> None:
    order = an_order_with(sven, "X-1 x2; X-2")
    of = {"part": "X-2", "order": order, "shelf": "B-1"}
    posted(sven, {**of, "kind": "hand-out", "quantity": 2})
    assert (need(order, "X-2").given, need(order).given) == (1, 1), "its own need comes first"
    posted(sven, {**of, "kind": "give-back", "quantity": 1})
    assert (need(order, "X-2").given, need(order).given) == (1, 0)


def test_used_as_planned_takes_what_does_instead_and_what_is_left_of_it_goes_back(sven: TestClient) -> None:
    order = an_order_with(sven, "X-1 x3")
    tasks = {"tasks": [{"order": order, "task": "10"}]}
    (line,) = sven.post("/api/parts/used/planned", json=tasks).json()
    assert (line["planned"], line["given"], line["instead"]) == (3, 0, "X-2")
    assert used(sven, order, 3) == {"count": 1, "failed": []}
    (line,) = sven.post("/api/parts/used/planned", json=tasks).json()
    assert (line["given"], line["as_parts"]) == (3, {"X-1": 1, "X-2": 2})
    assert used(sven, order, 2) == {"count": 1, "failed": []}
    assert (seen(sven)["on_hand"], seen(sven, "X-2")["on_hand"]) == (0, 4)
    assert used(sven, order, 0) == {"count": 1, "failed": []}
    assert (seen(sven)["on_hand"], seen(sven, "X-2")["on_hand"]) == (1, 5)
    assert {(p["shelf"], p["on_hand"]) for p in seen(sven, "X-2")["places"]} == {("B-1", 5)}


def test_parts_that_do_instead_of_one_another_over_a_third_are_given_away_together(sven: TestClient) -> None:
    kept(sven, {**PART, "part": "X-3", "alternates": "X-2"})
    wants = an_order_with(sven, "X-3 x4")
    assert (need(wants, "X-3").how, need(wants, "X-3").name) == ("alternate", "X-2")
    came(sven, 1, 10.0)
    assert (need(wants, "X-3").how, need(wants, "X-3").name) == ("alternate", "X-2"), (
        "X-1 came, two steps away"
    )


def test_a_part_that_no_longer_does_instead_leaves_the_need_short(sven: TestClient) -> None:
    order, other = an_order_with(sven, "X-1 x3"), an_order_with(sven, "X-2 x4")
    assert need(order).how == "alternate" and need(other, "X-2").how == "unknown"
    kept(
        sven,
        {**PART, "part": "X-2", "name": "Seal kit, blue", "alternates": ""},
        seen(sven, "X-2")["revision"],
    )
    assert need(order).how == "unknown"
    assert need(other, "X-2").how == "stock", "what was kept for the other is free"
