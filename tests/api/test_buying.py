"""Buying: from what is lacking to a request, to an order, to what comes; and what each of them follows."""

from __future__ import annotations

import json
from concurrent.futures import ThreadPoolExecutor
from datetime import date, timedelta
from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.services.parts.supplier_feed import FEED, take_each_hour
from nundine.standins import supplier
from nundine.store.buying import Purchase, PurchaseLine
from nundine.store.part import Part, PartNeed
from nundine.store.week import Week as StoredWeek
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client, Week
from tests.api.test_parts import an_order_with, came, kept, seen
from tests.conftest import TODAY, WEEK

PART = {"part": "X-1", "name": "Seal kit", "unit": "set", "price": "10", "lead_days": "12"}


@pytest.fixture
def sven(client: Client) -> TestClient:
    http = client("sven")
    kept(http, PART)
    return http


def sent(http: TestClient, path: str, body: dict[str, Any], code: int = 204, way: str = "POST") -> Any:
    answer = http.request(way, f"/api/buying/{path}", json=body)
    assert answer.status_code == code, answer.text
    return answer.json() if answer.content else None


def asked(http: TestClient, *lines: dict[str, Any], code: int = 201) -> Any:
    return sent(http, "requests", {"lines": [{"part": "X-1", "quantity": 4, **li} for li in lines]}, code)


def request(http: TestClient, number: str) -> dict[str, Any]:
    return http.get(f"/api/buying/requests/{number}").json()


def purchase(http: TestClient, number: str) -> dict[str, Any]:
    return http.get(f"/api/buying/purchases/{number}").json()


def ordered(http: TestClient, number: str, line: str = "10", **more: Any) -> str:
    body = {"picked": [{"request": number, "line": line, **more}], "supplier": "Bellweather Drives"}
    return str(sent(http, "purchases/picked", body, 201)["number"])


def moved(http: TestClient, of: str, number: str, to: str, code: int = 204) -> Any:
    now = (request if of == "requests" else purchase)(http, number)
    return sent(http, f"{of}/{number}/state", {"to": to, "revision": now["revision"]}, code)


def done(http: TestClient, number: str, deed: str, code: int = 204, **body: Any) -> Any:
    now = purchase(http, number)
    return sent(http, f"purchases/{number}/{deed}", {"revision": now["revision"], **body}, code)


def placed(http: TestClient, *lines: dict[str, Any]) -> str:
    """An order from scratch that was placed."""
    body = {"supplier": "Bellweather Drives", "lines": [{"part": "X-1", "quantity": 4, **li} for li in lines]}
    number = str(sent(http, "purchases", body, 201)["number"])
    moved(http, "purchases", number, "placed")
    return number


def with_need(http: TestClient, quantity: float) -> str:
    """An approved WO that needs so many."""
    return an_order_with(http, f"X-1 x{quantity:g}")


def test_who_asks_within_their_limit_has_approved_it_and_beyond_somebody_else_does(client: Client) -> None:
    sven, rudi = client("sven"), client("rudi")
    kept(sven, PART)
    assert asked(rudi, {"quantity": 20})["state"] == "approved"
    more = asked(rudi, {"quantity": 21})
    assert more["state"] == "asked"
    refused = moved(rudi, "requests", more["number"], "approved", 422)
    assert refused["code"] == "limit" and "210" in refused["title"] and "200" in refused["title"]
    moved(sven, "requests", more["number"], "approved")
    now = request(sven, more["number"])
    assert (now["state"], now["by"], now["decided"]) == ("approved", "Rudi Kemper", "Sven Ostrova")


def test_what_has_no_price_is_written_down_and_asked_for_once_it_has_one(sven: TestClient) -> None:
    kept(sven, {**PART, "part": "X-2", "price": ""})
    made = asked(sven, {"part": "X-2"})
    assert made["state"] == "written"
    assert moved(sven, "requests", made["number"], "asked", 422)["code"] == "no line"
    now = request(sven, made["number"])
    (line,) = now["lines"]
    wanted = {"line": line["line"], "part": "X-2", "quantity": 4, "price": 3.5}
    body = {"lines": [wanted], "revision": now["revision"]}
    sent(sven, f"requests/{made['number']}", body, way="PUT")
    moved(sven, "requests", made["number"], "asked")
    assert request(sven, made["number"])["state"] == "approved", "within the limit of who asks"


def test_a_request_closes_when_its_lines_are_ordered_and_opens_when_one_leaves_its_order(
    sven: TestClient,
) -> None:
    number = asked(sven, {}, {"quantity": 2})["number"]
    first = ordered(sven, number, quantity=3)
    assert [li["left"] for li in request(sven, number)["lines"]] == [1, 2]
    body = {"picked": [{"request": number, "line": "10"}, {"request": number, "line": "20"}], "into": first}
    sent(sven, "purchases/picked", body, 201)
    assert request(sven, number)["state"] == "closed"
    assert [li["quantity"] for li in purchase(sven, first)["lines"]] == [3, 1, 2]
    done(sven, first, "removal", line="20")
    now = request(sven, number)
    assert (now["state"], [li["left"] for li in now["lines"]]) == ("approved", [1, 0])
    second = ordered(sven, number)
    assert request(sven, number)["state"] == "closed"
    moved(sven, "purchases", second, "cancelled")
    assert request(sven, number)["state"] == "approved"
    now = request(sven, number)
    body = {"line": "10", "how": "taken from the north store", "revision": now["revision"]}
    sent(sven, f"requests/{number}/settled", body)
    assert request(sven, number)["state"] == "closed"


def test_no_more_is_ordered_of_a_line_than_is_left_and_only_of_what_is_approved(client: Client) -> None:
    sven, rudi = client("sven"), client("rudi")
    kept(sven, PART)
    number = asked(sven, {})["number"]
    body = {"picked": [{"request": number, "line": "10", "quantity": 5}]}
    assert "4 of line 10" in sent(sven, "purchases/picked", body, 422)["title"]
    waits = asked(rudi, {"quantity": 100})["number"]
    body = {"picked": [{"request": waits, "line": "10"}]}
    assert sent(sven, "purchases/picked", body, 422)["code"] == "state"
    assert not Purchase.select().where(Purchase.supplier == "").exists(), "nothing is half made"


def test_two_who_order_the_same_line_at_one_moment_order_it_once(client: Client) -> None:
    sven = client("sven")
    kept(sven, PART)
    number = asked(sven, {})["number"]
    body = {"picked": [{"request": number, "line": "10"}]}
    with ThreadPoolExecutor(8) as pool:
        codes = list(pool.map(lambda _: sven.post("/api/buying/purchases/picked", json=body), range(8)))
    assert sorted(a.status_code for a in codes) == [201] + [422] * 7
    assert sum(li.quantity for li in PurchaseLine.select().where(PurchaseLine.request_line == "10")
               if li.request and li.request.number == number) == 4  # fmt: skip


def test_what_is_placed_comes_by_its_lead_time_and_the_wo_is_ready_from_then(sven: TestClient) -> None:
    order = with_need(sven, 2)
    number = placed(sven, {})
    (line,) = purchase(sven, number)["lines"]
    comes = TODAY + timedelta(days=12)
    assert line["day"] == comes.isoformat()
    need = PartNeed.get(PartNeed.part == Part.get(Part.key == "X-1"))
    assert (need.how, need.name, need.day) == ("receipt", number, comes)
    assert WorkOrder.get(WorkOrder.number == order).parts_ready == comes
    sooner = TODAY + timedelta(days=3)
    done(sven, number, "promise", line="10", day=sooner.isoformat(), confirmed=True)
    assert WorkOrder.get(WorkOrder.number == order).parts_ready == sooner
    assert seen(sven)["on_order"][0] == {
        "purchase": number, "supplier": "Bellweather Drives", "quantity": 4, "day": sooner.isoformat(),
        "confirmed": True, "order": None,
    }  # fmt: skip


def test_what_is_late_comes_tomorrow_at_the_earliest(sven: TestClient) -> None:
    order = with_need(sven, 2)
    number = placed(sven, {})
    done(sven, number, "promise", line="10", day=(TODAY - timedelta(days=2)).isoformat(), confirmed=True)
    assert WorkOrder.get(WorkOrder.number == order).parts_ready == TODAY + timedelta(days=1)


def test_it_comes_in_parts_at_its_price_and_the_order_is_delivered_with_the_last(sven: TestClient) -> None:
    number = placed(sven, {"price": 12.0, "storeroom": "north"})
    done(sven, number, "received", came=[{"line": "10", "quantity": 1, "shelf": "C-3"}])
    now = purchase(sven, number)
    assert (now["state"], now["lines"][0]["to_come"]) == ("placed", 3)
    assert (seen(sven)["on_hand"], seen(sven)["average"]) == (1, 12.0)
    assert seen(sven)["places"][0]["shelf"] == "C-3"
    done(sven, number, "received", came=[{"line": "10", "quantity": 4}])
    now = purchase(sven, number)
    assert (now["state"], now["lines"][0]["received"]) == ("delivered", 5), "one more than was ordered"
    back = {"line": "10", "quantity": 2, "shelf": ""}
    done(sven, number, "returned", back=back, reason="scratched")
    now = purchase(sven, number)
    assert (now["state"], now["lines"][0]["to_come"], seen(sven)["on_hand"]) == ("placed", 1, 3)
    done(sven, number, "promise", line="10", awaited=False)
    assert purchase(sven, number)["state"] == "delivered", "what is not awaited does not hold it up"


def test_of_what_came_all_is_taken_in_or_nothing(sven: TestClient) -> None:
    kept(sven, {**PART, "part": "X-2"})
    number = placed(sven, {}, {"part": "X-2"})
    came_in = [{"line": "10", "quantity": 4}, {"line": "30", "quantity": 1}]
    done(sven, number, "received", 404, came=came_in)
    assert seen(sven)["on_hand"] == 0 and purchase(sven, number)["lines"][0]["received"] == 0
    refused = done(sven, number, "returned", 422, back={"line": "10", "quantity": 1}, reason="wrong one")
    assert "0 of line 10 came" in refused["title"]


def test_what_goes_straight_to_a_job_lies_in_no_storeroom_and_is_charged_to_it(sven: TestClient) -> None:
    order = with_need(sven, 4)
    number = placed(sven, {"order": order, "price": 11.0}, {"part": None, "words": "Crane", "quantity": 1,
                                                             "order": order, "price": 300.0})  # fmt: skip
    (need,) = PartNeed.select().where(PartNeed.part == Part.get(Part.key == "X-1"))
    assert (need.how, need.name, need.reserved) == ("receipt", number, 0)
    came_in = [{"line": "10", "quantity": 4}, {"line": "20", "quantity": 1}]
    done(sven, number, "received", came=came_in)
    assert seen(sven)["on_hand"] == 0
    assert seen(sven)["moves"][0]["order"] == order and seen(sven)["moves"][0]["quantity"] == -4
    (need,) = PartNeed.select().where(PartNeed.part == Part.get(Part.key == "X-1"))
    assert need.given == 4
    costs = sven.get(f"/api/orders/{order}/costs").json()
    assert costs["parts_used"] == 4 * 1100 + 30_000
    assert purchase(sven, number)["state"] == "delivered"


def test_what_is_straight_for_one_job_is_no_help_to_another(sven: TestClient) -> None:
    order = with_need(sven, 2)
    other = WorkOrder.select().where((WorkOrder.state == "approved") & (WorkOrder.number != order)).first()
    placed(sven, {"order": other.number, "day": TODAY.isoformat()})
    need = PartNeed.get(PartNeed.order == WorkOrder.get(WorkOrder.number == order))
    assert need.how == "bought"


def test_the_list_of_what_to_buy_leaves_out_what_is_asked_for_or_ordered(sven: TestClient) -> None:
    def to_buy() -> dict[str, Any]:
        found = sven.get("/api/lists/to buy/rows", params={"week": WEEK, "q": "{}"}).json()
        return next((r["cells"] for r in found["rows"] if r["cells"]["part"] == "X-1"), {})

    with_need(sven, 3)
    now = to_buy()
    assert (now["quantity"], now["why"], now["orders"]) == (3, "work waits", 1)
    number = asked(sven, {"quantity": 2})["number"]
    assert to_buy()["quantity"] == 1
    asked(sven, {"quantity": 1})
    assert to_buy() == {}
    order = ordered(sven, number)
    assert to_buy() == {}
    moved(sven, "purchases", order, "placed")
    assert to_buy() == {}, "what is on its way is given to the need"


@pytest.mark.parametrize("column", ["quantity", "name", "due"])
def test_the_list_of_what_to_buy_is_counted_summed_and_sorted_as_its_rows_are(
    sven: TestClient, column: str
) -> None:
    with_need(sven, 3)
    question = json.dumps({"sort": [{"column": column, "down": False}]})
    found = sven.get("/api/lists/to buy/rows", params={"week": WEEK, "q": question, "size": 500}).json()
    cells = [r["cells"] for r in found["rows"]]
    assert found["counted"]["total"] == len(cells) > 1
    assert found["counted"]["sums"]["value"] == pytest.approx(sum(c["value"] or 0 for c in cells))
    told = [c[column].lower() if column == "name" else c[column] for c in cells]
    there = [v for v in told if v is not None]
    assert told == sorted(there) + [None] * (len(told) - len(there))
    some = sven.get("/api/lists/to buy/rows", params={"week": WEEK, "q": question, "size": 2}).json()
    assert [r["key"] for r in some["rows"]] == [r["key"] for r in found["rows"][:2]]


def test_suppliers_confirm_and_bring_by_files_and_lines_that_can_not_be_lie_beside(
    sven: TestClient,
) -> None:
    number = placed(sven, {})
    comes = TODAY + timedelta(days=5)
    lines = [
        (number, "10", "confirms", comes.isoformat(), ""),
        (number, "20", "confirms", comes.isoformat(), ""),
        (number, "10", "brings", "", "3"),
        (number, "10", "brings", "", "many"),
    ]
    FEED.put("one.csv", lines)
    ((new, refused),) = [(f.new, f.refused) for f in take_each_hour()]
    assert (new, refused) == (1, 2)
    (line,) = purchase(sven, number)["lines"]
    assert (line["day"], line["confirmed"], line["noted"], line["received"]) == (
        comes.isoformat(), True, 3, 0,
    )  # fmt: skip
    FEED.put("two.csv", lines[2:3])
    assert [(f.new, f.refused) for f in take_each_hour()] == [(0, 0)], "twice changes nothing"
    assert "no quantity" in (FEED.folder() / "refused" / "one.csv").read_text()


def test_the_simulated_supplier_confirms_first_and_brings_all_in_the_end(sven: TestClient) -> None:
    number = placed(sven, *({"quantity": n + 1} for n in range(12)))
    day: date = TODAY
    for _ in range(60):
        supplier.write_file(day)
        take_each_hour()
        day += timedelta(days=1)
    lines = purchase(sven, number)["lines"]
    assert all(li["confirmed"] and li["quantity"] <= li["noted"] <= li["quantity"] + 1 for li in lines)


def test_a_write_that_saw_an_older_order_is_told_so(sven: TestClient) -> None:
    number = placed(sven, {})
    seen_at = purchase(sven, number)["revision"]
    done(sven, number, "promise", line="10", day=None)
    body = {"revision": seen_at, "came": [{"line": "10", "quantity": 1}]}
    assert sent(sven, f"purchases/{number}/received", body, 409)["code"] == "changed"
    came(sven, 1, 10.0)
    assert seen(sven)["on_hand"] == 1


def test_the_site_says_up_to_which_amount_a_role_approves(client: Client) -> None:
    ada, rudi = client("ada"), client("rudi")
    kept(client("sven"), PART)
    now = client("sven").get("/api/setup").json()
    assert {"role": "storekeeper", "limit": 200.0} in now["approvals"]
    held = {c["key"]: c["held_back"] for c in now["crafts"]}
    body = {"seconds": now["seconds"], "weights": now["weights"], "held_back": held}
    wrong = client("sven").put("/api/setup", json={**body, "approvals": {"reader": 10}})
    assert wrong.status_code == 422 and wrong.json()["field"] == "approvals"
    answer = client("sven").put("/api/setup", json={**body, "approvals": {"scheduler": 50}})
    assert answer.status_code == 200, answer.text
    assert asked(rudi, {"quantity": 1})["state"] == "asked", "storekeepers approve nothing any more"
    assert ada.get("/api/setup").json()["approvals"][0] == {"role": "scheduler", "limit": 50.0}


def test_the_storekeepers_day_says_what_to_pick_what_came_and_what_is_short(sven: TestClient) -> None:
    came(sven, 2, 10.0)
    there, short = an_order_with(sven, "X-1 x2"), an_order_with(sven, "X-1 x3")
    week = Week(sven)
    week.edit(kind="put", jobs=[there, short], day="2026-12-01")
    day = sven.get("/api/buying/day").json()
    assert day["picking_for"] == "2026-12-01" and day["short"] == [], "the week is not agreed yet"
    pick = {p["order"]: (p["parts"], p["short"]) for p in day["to_pick"]}
    assert (pick[there], pick[short]) == ((1, 0), (1, 1))
    assert [c["brought"] for c in day["coming_in"]] == [4], "by the delivery note of the demo"
    StoredWeek.update(status="published").where(StoredWeek.name == WEEK).execute()
    (one,) = [s for s in sven.get("/api/buying/day").json()["short"] if s["part"] == "X-1"]
    comes = (TODAY + timedelta(days=12)).isoformat()
    assert (one["order"], one["lacks"], one["comes"], one["week"]) == (short, 3, comes, WEEK)
    assert "Karl Reuter" in one["tell"], "who supervises should know"


def test_parts_that_are_lacking_are_asked_for_with_how_many_and_until_when(sven: TestClient) -> None:
    order = an_order_with(sven, "X-1 x3", due="2026-12-04 16:00")
    made = sent(sven, "requests/lacking", {"parts": ["X-1"]}, 201)
    (line,) = request(sven, made["number"])["lines"]
    assert (line["quantity"], line["day"], line["price"]) == (3, "2026-12-04", 10.0)
    assert sent(sven, "requests/lacking", {"parts": ["X-1"]}, 422)["code"] == "lines", order
