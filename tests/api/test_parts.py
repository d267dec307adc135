"""Parts: kept by hand, looked for, moved; what lies where follows from movements and is never less than
nothing."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.services.exchange.importing import run_import
from nundine.store.part import Movement, Part, PartNeed, Stock
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client, Week
from tests.api.test_rights import signed_in
from tests.conftest import WEEK

PART = {"part": "X-1", "name": "Seal kit", "unit": "set", "group": "Seals", "price": "10", "minimum": "2"}


@pytest.fixture
def sven(client: Client) -> TestClient:
    http = client("sven")
    kept(http, PART)
    return http


def kept(http: TestClient, cells: dict[str, str], revision: int | None = None, code: int = 204) -> Any:
    body = {"cells": cells, "revision": revision}
    answer = http.post("/api/parts/registers/parts", json=body)
    assert answer.status_code == code, answer.text
    return answer.json() if answer.content else None


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
    other = seen(sven, "X-2")
    kept(sven, {**other["part"], "blocked": "no"}, other["revision"])
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


def an_order_with(http: TestClient, parts: str, state: str = "approved", **more: str) -> str:
    """A WO with one task that needs parts."""
    order = {"title": "Change the seal", "asset": "L1", "kind": "corrective", "state": state, **more}
    task = {"task": "10", "title": "Change it", "hours": "1", "needs": "mech", "parts": parts}
    answer = http.post("/api/orders", json={"order": order, "tasks": [task], "revision": None})
    assert answer.status_code == 200, answer.text
    return str(answer.json()["number"])


def need_of(order: str) -> tuple[float, str, str | None]:
    """How much is reserved for a WO, how the rest comes, and from which day."""
    one = PartNeed.select().join(WorkOrder).where(WorkOrder.number == order).get()
    return one.reserved, one.how, str(one.day) if one.day else None


def waits(order: str) -> tuple[str | None, bool]:
    one = WorkOrder.get(WorkOrder.number == order)
    return (str(one.parts_ready) if one.parts_ready else None, one.parts_unknown)


def put(http: TestClient, order: str, to: str) -> None:
    body = {"to": to, "revision": WorkOrder.get(WorkOrder.number == order).revision}
    answer = http.post(f"/api/orders/{order}/state", json=body)
    assert answer.status_code < 300, answer.text


def test_an_approved_wo_reserves_and_cancelling_it_gives_back(sven: TestClient) -> None:
    came(sven, 1, 10.0)
    first = an_order_with(sven, "X-1")
    assert need_of(first) == (1.0, "stock", "2026-11-23")
    second = an_order_with(sven, "X-1")
    assert need_of(second) == (0.0, "unknown", None) and waits(second) == (None, True)
    put(sven, first, "cancelled")
    assert PartNeed.select().join(WorkOrder).where(WorkOrder.number == first).count() == 0
    assert need_of(second) == (1.0, "stock", "2026-11-23") and waits(second) == (None, False)


def test_a_wo_that_waits_frees_what_it_reserved_and_one_that_begins_keeps_it(sven: TestClient) -> None:
    came(sven, 1, 10.0)
    first, second = an_order_with(sven, "X-1"), an_order_with(sven, "X-1")
    assert (need_of(first)[0], need_of(second)[0]) == (1.0, 0.0)
    put(sven, first, "on hold")
    assert (need_of(first)[0], need_of(second)[0]) == (0.0, 1.0), "it wants it still, behind who may begin"
    put(sven, first, "approved")
    assert (need_of(first)[0], need_of(second)[0]) == (0.0, 1.0), "what is reserved stays so"
    week = Week(sven)
    week.edit(kind="put", jobs=[second], day=None)
    for to, reserved in (("under way", 1.0), ("to do", 1.0), ("done", None)):
        said = {"tasks": [[second, "10"]], "to": to, "seen": week.get()["edits"]}
        assert sven.post(f"{week.base}/progress", json=said).status_code == 200
        needs = PartNeed.select().join(WorkOrder).where(WorkOrder.number == second)
        assert [n.reserved for n in needs] == ([] if reserved is None else [reserved]), to
    assert need_of(first)[0] == 1.0, "who is done needs it no more"


def test_what_is_short_is_there_when_it_would_come_if_it_were_bought_today(sven: TestClient) -> None:
    kept(sven, {**PART, "lead_days": "12"}, seen(sven)["revision"])
    order = an_order_with(sven, 'X-1 x2; "rags" x3')
    assert need_of(order) == (0.0, "bought", "2026-12-05") and waits(order) == ("2026-12-05", False)
    came(sven, 1, 10.0)
    assert need_of(order) == (1.0, "bought", "2026-12-05")
    came(sven, 1, 10.0)
    assert need_of(order) == (2.0, "stock", "2026-11-23") and waits(order) == (None, False)
    assert posted(sven, {"kind": "hand-out", "quantity": 2, "order": order})["count"] == 1
    assert waits(order) == (None, False) and seen(sven)["on_hand"] == 0


def test_what_may_be_used_keeps_nobody_waiting(sven: TestClient) -> None:
    order = an_order_with(sven, "X-1 x2 may")
    assert need_of(order)[1] == "unknown" and waits(order) == (None, False)


def test_nobody_waits_for_consumables(sven: TestClient) -> None:
    kept(sven, {**PART, "part": "X-2", "tracked": "no"})
    order = an_order_with(sven, "X-2 x50")
    assert waits(order) == (None, False)
    assert posted(sven, {"kind": "receipt", "part": "X-2", "quantity": 1})["failed"][0]["field"] == "part"


def test_needs_name_parts_and_storerooms_that_there_are(sven: TestClient) -> None:
    order = {"title": "Change the seal", "asset": "L1", "kind": "corrective", "state": "approved"}
    for parts, told in (("X-9", "'X-9' is unknown"), ("X-1 from attic", "'attic' is unknown")):
        task = {"task": "10", "title": "It", "hours": "1", "needs": "mech", "parts": parts}
        answer = sven.post("/api/orders", json={"order": order, "tasks": [task], "revision": None})
        assert answer.status_code == 422 and answer.json()["field"] == "tasks.0.parts"
        assert told in answer.text


def test_a_copied_job_plan_brings_its_parts(sven: TestClient) -> None:
    plan = {"title": "Seal care", "kind": "corrective"}
    task = {"task": "10", "title": "It", "hours": "1", "needs": "mech", "parts": "X-1 x2 from main"}
    made = sven.post("/api/plans", json={"plan": plan, "tasks": [task], "revision": None}).json()["number"]
    tasks = sven.get(f"/api/plans/{made}").json()["tasks"]
    assert tasks[0]["parts"] == "X-1 x2 from main"


def test_a_part_that_does_instead_and_is_there_keeps_nobody_waiting(sven: TestClient) -> None:
    kept(sven, {**PART, "part": "X-2", "alternates": "X-1 both ways"})
    came(sven, 2, 10.0, part="X-2")
    order = an_order_with(sven, "X-1 x2")
    one = PartNeed.select().join(WorkOrder).where(WorkOrder.number == order).get()
    assert (one.how, one.name, waits(order)) == ("alternate", "X-2", (None, False))
    there = seen(sven, "X-2")
    assert (there["on_hand"], there["reserved"]) == (2, 2), "what does instead is kept for its WO"
    assert [(w["order"], w["instead_of"]) for w in there["wanted_by"]] == [(order, "X-1")]
    rows = sven.get("/api/lists/parts/rows", params={"q": '{"find": "X-2"}'}).json()["rows"]
    (cells,) = (r["cells"] for r in rows if r["cells"]["part"] == "X-2")
    assert (cells["free"], cells["reserved"]) == (0, 2)
    other = an_order_with(sven, "X-2")
    assert need_of(other)[1] == "unknown", "both are spoken for"
    posted(sven, {"kind": "hand-out", "part": "X-2", "quantity": 1})
    assert waits(order) == (None, True)


def test_parts_of_the_week_are_picked_by_day_and_handed_out_as_kits(sven: TestClient) -> None:
    kept(sven, {**PART, "part": "X-2"})
    came(sven, 3, 10.0, shelf="A-1")
    came(sven, 1, 10.0, storeroom="lake")
    order = an_order_with(sven, "X-1 x4; X-2")
    week = Week(sven)
    week.edit(kind="put", jobs=[order], day="2026-12-01")

    def to_pick() -> dict[str, dict[str, Any]]:
        rows = sven.get("/api/lists/picking/rows", params={"week": WEEK, "q": "{}"}).json()["rows"]
        return {r["cells"]["part"]: r["cells"] for r in rows if r["cells"]["order"] == order}

    one, two = to_pick()["X-1"], to_pick()["X-2"]
    assert (one["day"], one["quantity"], one["short"]) == ("2026-12-01", 4, False)
    assert set(one["lies"].split(", ")) == {"main A-1", "lake"}
    assert (two["quantity"], two["short"], two["lies"]) == (1, True, "")
    picked = [{"order": order, "task": "10", "part": p} for p in ("X-1", "X-2")]
    told = sven.post("/api/parts/picking", json={"picked": picked}).json()
    assert (told["count"], [(f["part"], f["order"]) for f in told["failed"]]) == (1, [("X-2", order)])
    assert set(to_pick()) == {"X-2"} and seen(sven)["on_hand"] == 0
    came(sven, 1, 10.0, part="X-2")
    few = an_order_with(sven, "X-2 x3")
    half = {"picked": [{"order": few, "task": "10", "part": "X-2"}]}
    (failed,) = sven.post("/api/parts/picking", json=half).json()["failed"]
    assert failed["why"] == "1 of 3 are there in main." and seen(sven, "X-2")["on_hand"] == 1
    again = sven.post("/api/parts/picking", json={"picked": picked[:1]}).json()
    assert again["failed"][0]["why"] == "Nothing is left to hand out of it."


def used(http: TestClient, order: str, quantity: float, part: str = "X-1", code: int = 200) -> Any:
    lines = [{"order": order, "task": "10", "part": part, "quantity": quantity}]
    answer = http.post("/api/parts/used", json={"used": lines})
    assert answer.status_code == code, answer.text
    return answer.json()


def test_what_a_job_used_is_told_at_its_end_and_what_it_did_not_goes_back_to_its_place(
    sven: TestClient,
) -> None:
    came(sven, 5, 10.0, shelf="A-1")
    order = an_order_with(sven, "X-1 x3")
    asked = sven.post("/api/parts/used/planned", json={"tasks": [{"order": order, "task": "10"}]}).json()
    assert [(a["part"], a["planned"], a["given"], a["must"]) for a in asked] == [("X-1", 3, 0, True)]
    assert used(sven, order, 4) == {"count": 1, "failed": []}
    assert (seen(sven)["on_hand"], seen(sven)["moves"][0]["kind"]) == (1, "hand-out")
    assert used(sven, order, 3) == {"count": 1, "failed": []}, "told again"
    assert (seen(sven)["on_hand"], seen(sven)["moves"][0]["kind"]) == (2, "give-back")
    assert seen(sven)["places"] == [
        {
            "storeroom": "main",
            "name": seen(sven)["places"][0]["name"],
            "shelf": "A-1",
            "lot": "",
            "on_hand": 2,
        }
    ]
    assert used(sven, order, 3) == {"count": 1, "failed": []}
    assert seen(sven)["on_hand"] == 2, "what is told already moves nothing"


def test_use_that_can_not_be_posted_says_why_again_and_again_until_it_is_mended(sven: TestClient) -> None:
    order = an_order_with(sven, "X-1 x3")
    for _ in range(2):
        (failed,) = used(sven, order, 3)["failed"]
        assert failed["why"].startswith("There is no storeroom") or "are there" in failed["why"]
    came(sven, 3, 10.0)
    assert used(sven, order, 3) == {"count": 1, "failed": []}
    assert "plans no X-9" in used(sven, order, 1, "X-9")["failed"][0]["why"]


def test_who_reports_in_some_areas_tells_what_was_used_there_alone(client: Client) -> None:
    sven, ada, karl = client("sven"), client("ada"), client("karl")
    kept(sven, PART)
    came(sven, 9, 10.0)
    order = an_order_with(sven, "X-1")
    assert used(karl, order, 1)["count"] == 1
    now = next(a for a in ada.get("/api/accounts").json() if a["name"] == "karl")
    roles = [{"role": "supervisor", "areas": ["north"]}]
    assert (
        ada.put("/api/accounts/karl", json={"roles": roles, "revision": now["revision"]}).status_code == 200
    )
    assert used(karl, order, 2, code=403)["code"] == "area"


def ready_line(http: TestClient, order: str) -> dict[str, Any]:
    answer = http.get(f"/api/parts/ready/{order}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_when_parts_are_there_is_told_with_who_is_before_and_what_would_be_if_it_came_first(
    sven: TestClient,
) -> None:
    kept(sven, {**PART, "lead_days": "20"}, 2)
    came(sven, 2, 10.0)
    before = an_order_with(sven, "X-1 x2")
    body = {"supplier": "", "lines": [{"part": "X-1", "quantity": 1, "storeroom": "main"}]}
    number = sven.post("/api/buying/purchases", json=body).json()["number"]
    move = {"to": "placed", "revision": 2}
    assert sven.post(f"/api/buying/purchases/{number}/state", json=move).status_code == 204
    order = an_order_with(sven, "X-1 x1")
    now = ready_line(sven, order)
    (one,) = now["parts"]
    assert (one["how"], one["name"], now["ready"], now["known"]) == ("receipt", number, "2026-12-13", True)
    assert [(a["order"], a["quantity"]) for a in one["ahead"]] == [(before, 2)]
    assert [(c["purchase"], c["quantity"], c["straight"]) for c in one["coming"]] == [(number, 1, False)]
    assert now["first"] == "2026-11-23"
    assert [(s["order"], s["was"], s["becomes"]) for s in now["shifted"]] == [
        (before, "2026-11-23", "2026-12-13"),
    ]  # fmt: skip
    assert need_of(before) == (2.0, "stock", "2026-11-23"), "tried only"


def test_what_nobody_can_get_is_told_so(sven: TestClient) -> None:
    now = ready_line(sven, an_order_with(sven, "X-1 x1"))
    assert (now["ready"], now["known"], now["first"], now["shifted"]) == (None, False, None, [])
    assert sven.get("/api/parts/ready/WO-none").status_code == 404
