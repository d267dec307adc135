"""Somebody reports a need; planners make work of it, and whoever asked sees what became of it."""

from __future__ import annotations

import json
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from fastapi.testclient import TestClient
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.likeness import likeness
from nundine.store.asset import Asset
from nundine.store.request import WorkRequest
from tests.api.conftest import Client, Week
from tests.conftest import WEEK

PNG = b"\x89PNG\r\n\x1a\n" + b"0" * 40


def asset() -> str:
    return str(Asset.select(Asset.key).where(Asset.parent.is_null(False)).order_by(Asset.id).first().key)


def reported(http: TestClient, title: str = "Door closes slowly", **more: Any) -> str:
    answer = http.post("/api/requests", json={"title": title, "asset": asset(), **more})
    assert answer.status_code == 200, answer.text
    return answer.json()["number"]


def seen(http: TestClient, number: str) -> dict[str, Any]:
    answer = http.get(f"/api/requests/{number}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def do(http: TestClient, number: str, what: str, code: int | None = None, **form: Any) -> Any:
    body = {"revision": seen(http, number)["revision"], **form}
    answer = http.post(f"/api/requests/{number}/{what}", json=body)
    assert answer.status_code in ((code,) if code else (200, 204)), answer.text
    return answer


TASK = {"task": "10", "title": "Mend it", "hours": "2", "needs": "mech x1"}


def test_anybody_reports_and_a_planner_makes_a_wo_of_it_with_texts_and_files(client: Client) -> None:
    rene, sven = client("rene"), client("sven")
    number = reported(rene, description="Since Monday, worse when cold.", urgency="this week")
    picture = ("door.png", PNG, "image/png")
    assert rene.post(f"/api/requests/{number}/files", files={"file": picture}).status_code == 200
    one = seen(sven, number)
    assert (one["state"], one["reporter"], one["mine"]) == ("new", "René Aubert", False)
    made = do(sven, number, "order", order={"kind": "corrective"}, tasks=[TASK]).json()["number"]
    one = seen(rene, number)
    assert (one["state"], one["order"], one["mine"]) == ("in work", made, True)
    order = sven.get(f"/api/orders/{made}").json()["order"]
    assert order["title"] == "Door closes slowly"
    assert "worse when cold" in order["description"]
    assert number in order["description"]
    file = rene.get(f"/api/requests/{number}/files/{one['files'][0]['id']}")
    assert (file.content, file.headers["content-type"]) == (PNG, "image/png")


def test_it_is_done_with_its_wo_and_in_work_again_when_that_is_opened_again(week: Week) -> None:
    sven = week.http
    number = reported(sven)
    made = do(sven, number, "order", order={}, tasks=[TASK]).json()["number"]
    week.edit(kind="put", jobs=[made], day=None)

    def say(to: str) -> None:
        answer = sven.post(
            f"/api/weeks/{WEEK}/progress",
            json={"tasks": [[made, "10"]], "to": to, "seen": week.get()["edits"]},
        )
        assert answer.status_code == 200, answer.text

    say("done")
    assert seen(sven, number)["state"] == "done"
    say("under way")
    assert seen(sven, number)["state"] == "in work"


def test_what_is_asked_back_is_new_again_once_answered_and_nothing_said_is_lost(client: Client) -> None:
    rene, sven = client("rene"), client("sven")
    number = reported(rene)
    do(sven, number, "question", text="Which of the two doors?")
    assert seen(rene, number)["state"] == "asked back"
    do(rene, number, "words", text="The left one, seen from the valley.")
    do(sven, number, "declining", text="Adjusted already.")
    one = seen(rene, number)
    assert one["state"] == "declined"
    assert [s["text"] for s in one["talk"]] == [
        "Which of the two doors?",
        "The left one, seen from the valley.",
        "Adjusted already.",
    ]
    do(sven, number, "opening")
    assert seen(rene, number)["state"] == "new"


def test_a_double_is_offered_and_joined(client: Client) -> None:
    sven = client("sven")
    first = reported(sven, "Door of the cabin closes slowly")
    made = do(sven, first, "order", order={}, tasks=[TASK]).json()["number"]
    second = reported(client("rene"), "Cabin doors close too slowly")
    offered = seen(sven, second)["doubles"]
    assert {"request", "work order"} <= {d["kind"] for d in offered if d["number"] in (first, made)}
    do(sven, second, "joining", order=made)
    assert seen(sven, second)["order"] == made
    do(sven, second, "joining", code=422, order=made)


def test_only_those_who_plan_decide_and_what_is_wrong_is_told_at_its_field(client: Client) -> None:
    rene, sven = client("rene"), client("sven")
    number = reported(rene)
    for what, form in (("question", {"text": "?"}), ("joining", {"order": "WO-1"}), ("opening", {})):
        do(rene, number, what, code=403, **form)
    answer = rene.post("/api/requests", json={"title": "It leaks"})
    assert (answer.status_code, answer.json()["field"]) == (422, "asset")
    assert rene.post("/api/requests", json={"title": " ", "place": "yard"}).json()["field"] == "title"
    assert do(sven, number, "declining", code=422, text=" ").json()["field"] == "text"
    assert do(sven, number, "joining", code=422, order="WO-none").json()["field"] == "order"
    bad = do(sven, number, "order", code=422, order={}, tasks=[{**TASK, "hours": "many"}]).json()
    assert bad["field"] == "tasks.0.hours"
    assert seen(sven, number)["state"] == "new"


def test_who_saw_an_older_one_decides_nothing(client: Client) -> None:
    sven, mila = client("sven"), client("mila")
    number = reported(sven)
    old = seen(mila, number)["revision"]
    do(sven, number, "declining", text="No.")
    assert do(mila, number, "question", code=409, text="Where?", revision=old).json()["code"] == "changed"


def test_two_reported_at_one_moment_get_two_numbers(client: Client) -> None:
    people = [client(n) for n in ("sven", "mila", "karl", "rene")]
    with ThreadPoolExecutor(4) as pool:
        numbers = list(pool.map(lambda http: reported(http), people * 3))
    assert len(set(numbers)) == 12 == WorkRequest.select().where(WorkRequest.number.in_(numbers)).count()


def test_what_only_calls_itself_a_picture_is_never_shown_as_one(client: Client) -> None:
    sven = client("sven")
    number = reported(sven)
    script = ("evil.png", b"<svg onload=alert(1)>", "image/png")
    files = sven.post(f"/api/requests/{number}/files", files={"file": script}).json()
    given = sven.get(f"/api/requests/{number}/files/{files[0]['id']}")
    assert given.headers["content-type"] == "application/octet-stream"
    assert given.headers["content-disposition"].startswith("attachment")
    other = reported(sven)
    assert sven.get(f"/api/requests/{other}/files/{files[0]['id']}").status_code == 404
    assert sven.post(f"/api/requests/{number}/files", files={"file": ("a", b"")}).status_code == 422


def test_open_requests_are_a_list_and_the_palette_finds_them(client: Client) -> None:
    sven = client("sven")
    number = reported(sven, "Chair 44 squeaks terribly", place="")
    asked = {
        "filters": [{"column": "state", "how": "is", "values": ["new", "asked back"]}],
        "find": "terribly",
    }
    rows = sven.get("/api/lists/requests/rows", params={"q": json.dumps(asked)}).json()["rows"]
    assert [r["key"] for r in rows] == [number]
    hits = sven.get("/api/lists/found", params={"text": "terribly"}).json()
    assert [(h["list"], h["key"]) for h in hits] == [("requests", number)]


def test_a_wo_keeps_what_was_said_of_it_and_shows_who_asked_and_what_was_done_there_before(
    client: Client,
) -> None:
    sven, karl = client("sven"), client("karl")
    number = reported(client("rene"))
    sven.post(f"/api/requests/{number}/files", files={"file": ("door.png", PNG, "image/png")})
    made = do(sven, number, "order", order={}, tasks=[TASK]).json()["number"]
    before = sven.get(f"/api/orders/{made}").json()["revision"]
    for http, text in ((sven, "Key hangs at the desk."), (karl, "مفتاح عند المكتب")):
        assert http.post(f"/api/orders/{made}/notes", json={"text": text}).status_code == 204
    assert client("rene").post(f"/api/orders/{made}/notes", json={"text": "x"}).status_code == 403
    assert sven.post(f"/api/orders/{made}/notes", json={"text": "  "}).json()["field"] == "text"
    told = sven.get(f"/api/orders/{made}/beside").json()
    assert [(n["by"], n["text"]) for n in told["notes"]] == [
        ("Karl Reuter", "مفتاح عند المكتب"),
        ("Sven Ostrova", "Key hangs at the desk."),
    ]
    assert [(r["number"], r["reporter"]) for r in told["requests"]] == [(number, "René Aubert")]
    file = sven.get(f"/api/orders/{made}/files/{told['files'][0]['id']}")
    assert (file.content, file.headers["content-type"]) == (PNG, "image/png")
    assert sven.get(f"/api/orders/{made}").json()["revision"] == before, "a note is in nobody's way"
    done = WorkRequest.select().where(WorkRequest.state == "done").first()
    there = {"title": "Again", "asset": done.asset.key, "kind": "corrective"}
    again = sven.post("/api/orders", json={"order": there, "tasks": [TASK], "revision": None}).json()[
        "number"
    ]
    earlier = sven.get(f"/api/orders/{again}/beside").json()["earlier"]
    assert done.order.number in [e["number"] for e in earlier]
    assert sven.get("/api/orders/none/beside").status_code == 404


@given(st.text(max_size=40), st.text(max_size=40))
def test_likeness_lies_between_0_and_1_whichever_text_comes_first(one: str, other: str) -> None:
    assert 0 <= likeness(one, other) == likeness(other, one) <= 1


def test_endings_capitals_and_accents_do_not_make_texts_unlike() -> None:
    assert likeness("Türen schliessen langsam", "TUREN SCHLIESSEND LANGSAME") == 1
    assert likeness("Door closes slowly", "Oil on the floor") == 0
