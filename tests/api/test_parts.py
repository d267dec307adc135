"""Parts: kept by hand, looked for, moved; what lies where follows from movements and is never less than
nothing."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.services.exchange.importing import run_import
from nundine.store.part import Movement, Part, Stock
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client
from tests.api.test_rights import signed_in

PART = {"part": "X-1", "name": "Seal kit", "unit": "set", "group": "Seals", "price": "10", "minimum": "2"}


@pytest.fixture
def sven(client: Client) -> TestClient:
    http = client("sven")
    kept(http, PART)
    return http


def kept(http: TestClient, cells: dict[str, str], revision: int | None = None, code: int = 200) -> Any:
    body = {"cells": cells, "revision": revision}
    answer = http.post("/api/parts/registers/parts", json=body)
    assert answer.status_code == code, answer.text
    return answer.json()


def posted(http: TestClient, *lines: dict[str, Any]) -> Any:
    usual = {"part": "X-1", "storeroom": "main"}
    body = {"lines": [{**usual, **line} for line in lines]}
    answer = http.post("/api/parts/movements", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json()


def came(http: TestClient, quantity: float, price: float, **more: Any) -> None:
    line = {"kind": "receipt", "quantity": quantity, "price": price, **more}
    assert posted(http, line) == {"count": 1, "failed": []}


def seen(http: TestClient, part: str = "X-1") -> dict[str, Any]:
    answer = http.get(f"/api/parts/one/{part}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def an_order() -> str:
    return str(
        WorkOrder.select().where(WorkOrder.state == "approved").order_by(WorkOrder.number).first().number
    )


def test_what_came_lies_in_its_place_at_the_average_price(sven: TestClient) -> None:
    came(sven, 4, 10.0, shelf="A-1")
    came(sven, 4, 20.0, storeroom="north")
    now = seen(sven)
    assert (now["on_hand"], now["average"], now["value"]) == (8, 15.0, 120.0)
    assert [(p["storeroom"], p["shelf"], p["on_hand"]) for p in now["places"]] == [
        ("main", "A-1", 4), ("north", "", 4),
    ]  # fmt: skip
    assert [m["kind"] for m in now["moves"]] == ["receipt", "receipt"]


def test_parts_go_to_a_wo_and_come_back_but_no_more_than_it_got(sven: TestClient) -> None:
    came(sven, 5, 10.0)
    order = an_order()
    assert posted(sven, {"kind": "hand-out", "quantity": 3, "order": order})["count"] == 1
    assert seen(sven)["moves"][0]["order"] == order and seen(sven)["on_hand"] == 2
    (failed,) = posted(sven, {"kind": "give-back", "quantity": 4, "order": order})["failed"]
    assert failed["why"] == f"{order} got 3 of X-1."
    assert posted(sven, {"kind": "give-back", "quantity": 1, "order": order})["count"] == 1
    assert seen(sven)["on_hand"] == 3


def test_lines_that_fail_say_why_and_are_posted_once_they_are_mended(sven: TestClient) -> None:
    kept(sven, {**PART, "part": "X-2", "blocked": "yes"})
    came(sven, 1, 10.0)
    first, second = {"kind": "hand-out", "quantity": 2}, {"kind": "hand-out", "part": "X-2", "quantity": 1}
    told = posted(sven, first, second)
    assert told["count"] == 0
    assert [(f["line"], f["field"], f["why"]) for f in told["failed"]] == [
        (0, "quantity", "1 of 2 are there in main."), (1, "part", "X-2 is blocked."),
    ]  # fmt: skip
    assert posted(sven, first, second)["failed"] == told["failed"]  # again without mending: the same
    row = next(r for r in kept(sven, PART, seen(sven)["revision"])["rows"] if r["cells"]["part"] == "X-2")
    kept(sven, {**row["cells"], "blocked": "no"}, row["revision"])
    came(sven, 1, 10.0)
    came(sven, 1, 10.0, part="X-2")
    assert posted(sven, first, second) == {"count": 2, "failed": []}


def test_a_count_that_differs_says_why_and_a_transfer_moves_all_or_nothing(sven: TestClient) -> None:
    came(sven, 5, 10.0, shelf="A-1")
    count = {"kind": "count", "quantity": 4, "shelf": "A-1"}
    (failed,) = posted(sven, count)["failed"]
    assert failed == {"line": 0, "field": "reason", "why": "5 should lie there. Say why it differs."}
    assert posted(sven, {**count, "reason": "one was broken"})["count"] == 1
    move = {"kind": "transfer", "quantity": 3, "shelf": "A-1", "to": "lake", "to_shelf": "Z-9"}
    assert posted(sven, move)["count"] == 1
    assert posted(sven, move)["count"] == 0
    places = {(p["storeroom"], p["shelf"]): p["on_hand"] for p in seen(sven)["places"]}
    assert places == {("main", "A-1"): 1, ("lake", "Z-9"): 3}


@pytest.mark.parametrize(
    ("line", "field"),
    [
        ({"kind": "receipt", "quantity": 0}, "quantity"),
        ({"kind": "receipt", "quantity": 1, "storeroom": "attic"}, "storeroom"),
        ({"kind": "receipt", "quantity": 1, "part": "X-9"}, "part"),
        ({"kind": "hand-out", "quantity": 1, "order": "WO-0"}, "order"),
        ({"kind": "give-back", "quantity": 1}, "order"),
        ({"kind": "transfer", "quantity": 1}, "to"),
    ],
)
def test_a_line_that_can_not_be_posted_names_its_field(
    sven: TestClient, line: dict[str, Any], field: str
) -> None:
    assert [f["field"] for f in posted(sven, line)["failed"]] == [field]
    assert Movement.select().join(Part).where(Part.key == "X-1").count() == 0


def test_twenty_who_want_the_last_one_get_it_once(client: Client, sven: TestClient) -> None:
    came(sven, 1, 10.0)

    def take(_: int) -> int:
        return int(posted(sven, {"kind": "hand-out", "quantity": 1})["count"])

    with ThreadPoolExecutor(20) as pool:
        assert sum(pool.map(take, range(20))) == 1
    assert seen(sven)["on_hand"] == 0
    assert Stock.select().join(Part).where(Part.key == "X-1").count() == 0


def test_the_demo_s_stock_is_the_sum_of_its_movements(sven: TestClient) -> None:
    for part in Part.select().where(Part.on_hand > 0).limit(40):
        moved = sum(m.quantity for m in part.movements)
        assert part.on_hand == pytest.approx(moved)
        assert part.on_hand == pytest.approx(sum(s.on_hand for s in part.stock))


def test_movements_that_come_in_may_take_no_more_than_there_was(sven: TestClient) -> None:
    head = "number,at,kind,part,storeroom,quantity,price\n"
    good = "M-1,2026-11-01 08:00,receipt,X-1,main,2,10\nM-2,2026-11-02 08:00,hand-out,X-1,main,-2,\n"
    bad = "M-3,2026-11-01 09:00,hand-out,X-1,main,-1,\n"
    report = run_import([("movements.csv", (head + good + bad).encode())])
    assert "M-2 takes too much: 1 of 2 are there in main" in report.errors[0].reason
    assert run_import([("movements.csv", (head + good).encode())]).errors == []
    assert seen(sven)["on_hand"] == 0


def test_a_part_is_put_on_an_assets_list_and_taken_off(sven: TestClient) -> None:
    body = {"asset": "L1", "part": "X-1", "quantity": 2, "remark": "drive side"}
    assert sven.post("/api/parts/lists", json=body).status_code == 204
    assert [(u["asset"], u["quantity"], u["remark"]) for u in seen(sven)["used_on"]] == [
        ("L1", 2, "drive side")
    ]
    assert sven.post("/api/parts/lists", json={**body, "asset": "nowhere"}).json()["field"] == "asset"
    key = {"asset": "L1", "part": "X-1"}
    assert sven.post("/api/parts/lists/removal", json=key).status_code == 204
    assert sven.post("/api/parts/lists/removal", json=key).status_code == 404
    assert seen(sven)["used_on"] == []


def test_alternates_are_seen_from_both_sides_where_they_do_both_ways(sven: TestClient) -> None:
    kept(sven, {**PART, "part": "X-2", "alternates": "X-1 both ways"})
    kept(sven, {**PART, "part": "X-3", "alternates": "X-1"})
    assert [a["part"] for a in seen(sven)["alternates"]] == ["X-2"]
    assert [a["part"] for a in seen(sven, "X-3")["alternates"]] == ["X-1"]
    assert kept(sven, {**PART, "part": "X-4", "alternates": "X-4"}, code=422)["field"] == "alternates"


def test_a_part_that_moved_can_not_be_taken_away(sven: TestClient) -> None:
    came(sven, 1, 10.0)
    body = {"key": "X-1", "revision": seen(sven)["revision"]}
    assert sven.post("/api/parts/registers/parts/removal", json=body).json()["code"] == "used"


def test_a_storekeeper_keeps_stock_and_a_reader_sees_it(sven: TestClient) -> None:
    with signed_in("storekeeper") as rudi:
        came(rudi, 2, 10.0)
    with signed_in("reader") as other:
        assert seen(other)["on_hand"] == 2
        line = {"kind": "receipt", "part": "X-1", "storeroom": "main", "quantity": 1}
        assert other.post("/api/parts/movements", json={"lines": [line]}).status_code == 403
