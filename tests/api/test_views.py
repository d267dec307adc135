"""Views of lists: kept as one's own, shared, pinned with their figure, the first of a role."""

from __future__ import annotations

from fastapi.testclient import TestClient

from nundine.demo.views import PINNED, SHARED
from tests.api.conftest import Client, Week
from tests.api.test_lists import SIZE, asked
from tests.conftest import WEEK


def view(http: TestClient, title: str, status: int = 200, **more: object) -> list[dict]:
    body = {
        "question": {"filters": [{"column": "must", "how": "is", "values": ["yes"]}]},
        "columns": ["number"],
    }
    answer = http.post("/api/lists/backlog/views", json={"title": title, "body": body, **more})
    assert answer.status_code == status, answer.text
    return [v for v in answer.json() if v["title"] == title] if status == 200 else []


def others() -> set[str]:
    """Titles of the views that the demo has."""
    return {title for title, *_ in SHARED}


def views(http: TestClient) -> list[dict]:
    """Views of the backlog but for the demo's."""
    found = http.get("/api/lists/backlog", params={"week": WEEK}).json()["views"]
    return [v for v in found if v["title"] not in others()]


def test_a_view_is_ones_own_until_it_is_shared(client: Client) -> None:
    sven, mila = client("sven"), client("mila")
    made = view(sven, "Must-work")[0]
    assert made["mine"] and not made["shared"]
    assert views(mila) == []
    kept = {"title": "Must-work", "shared": True, "body": made["body"], "revision": made["revision"]}
    assert sven.put(f"/api/lists/backlog/views/{made['key']}", json=kept).status_code == 200
    (seen,) = views(mila)
    assert (seen["title"], seen["mine"], seen["owner"]) == ("Must-work", False, made["owner"])
    answer = mila.put(f"/api/lists/backlog/views/{made['key']}", json=kept)
    assert answer.status_code == 403
    assert "copy of your own" in answer.json()["title"]
    left = sven.delete(f"/api/lists/backlog/views/{made['key']}").json()
    assert {v["title"] for v in left} == others()


def test_a_view_that_was_changed_meanwhile_is_not_overwritten(client: Client) -> None:
    sven = client("sven")
    made = view(sven, "One")[0]
    kept = {"title": "Two", "shared": False, "body": made["body"], "revision": made["revision"]}
    assert sven.put(f"/api/lists/backlog/views/{made['key']}", json=kept).status_code == 200
    again = sven.put(f"/api/lists/backlog/views/{made['key']}", json={**kept, "title": "Three"})
    assert again.status_code == 409
    assert again.json()["differs"]


def test_a_view_keeps_questions_and_nothing_else(client: Client) -> None:
    sven = client("sven")
    for body in (
        {},
        {"question": {"filters": "all"}},
        {"question": {"filters": [{"column": "x", "how": "like"}]}},
    ):
        answer = sven.post("/api/lists/backlog/views", json={"title": "Odd", "body": body})
        assert answer.status_code == 422, body
    gone = {"question": {"filters": [{"column": "gone", "how": "empty"}]}}
    made = sven.post("/api/lists/backlog/views", json={"title": "Gone", "body": gone}).json()
    key = next(v["key"] for v in made if v["title"] == "Gone")
    sven.put(f"/api/lists/backlog/views/{key}/pin", json={"on": True})
    counted = sven.get("/api/lists", params={"week": WEEK})
    assert counted.status_code == 200
    assert key not in {p["key"] for p in counted.json()}


def test_the_figure_of_a_pinned_view_is_the_count_of_its_rows(client: Client) -> None:
    sven = client("sven")
    made = view(sven, "Must-work")[0]
    now = sven.put(f"/api/lists/backlog/views/{made['key']}/pin", json={"on": True}).json()
    assert made["key"] in {v["key"] for v in now if v["pinned"]}
    (pinned,) = [p for p in sven.get("/api/lists", params={"week": WEEK}).json() if p["key"] == made["key"]]
    expected = asked(sven, made["body"]["question"], size=1)["counted"]["total"]
    assert (pinned["title"], pinned["count"]) == ("Must-work", expected)
    assert client("mila").get("/api/lists", params={"week": WEEK}).json() == []


def test_the_views_of_the_demo_show_open_seats_and_what_nobody_has_reported(built: Week) -> None:
    state = built.get("/crew")
    open_jobs = {s["job"] for s in state["open_seats"]}
    shown = asked(
        built.http, {"filters": [{"column": "open_seats", "how": "between", "values": ["1", ""]}]}, size=SIZE
    )
    assert {r["key"] for r in shown["rows"]} == open_jobs
    late = asked(built.http, {"filters": [{"column": "not_reported", "how": "not empty"}]}, size=SIZE)
    assert late["counted"]["total"] == 0, "the demo's week lies ahead"
    (pinned,) = built.http.get("/api/lists", params={"week": WEEK}).json()
    assert pinned["title"] == PINNED


def test_a_role_begins_with_one_view_that_who_looks_after_the_site_chose(client: Client) -> None:
    ada, mila = client("ada"), client("mila")
    view(mila, "Mine", 403, shared=True, role="scheduler")
    view(ada, "Alone", 422, role="scheduler")
    view(ada, "First", shared=True, role="scheduler")
    view(ada, "Second", shared=True, role="scheduler")
    begins = {v["title"]: v["begins"] for v in views(mila)}
    assert begins == {"First": False, "Second": True}
    offered = [c.get("/api/lists/backlog", params={"week": WEEK}).json()["roles"] for c in (ada, mila)]
    assert "scheduler" in offered[0] and offered[1] == []
