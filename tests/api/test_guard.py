"""Names, sizes, senders and texts are checked before anything is read; every error is a problem document with
our headers."""

from __future__ import annotations

import json
import socket
from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient

from nundine.api import connections, guard
from nundine.api.at_once import FILES_IN, FILES_OUT
from nundine.api.guard import Limit
from nundine.services import database_trouble
from nundine.store.account import Account
from tests.api.conftest import Client, Week
from tests.application import application
from tests.conftest import WEEK

EDIT = f"/api/weeks/{WEEK}/edits"


def chunks(count: int, size: int = 64 * 1024) -> Iterator[bytes]:
    """A body whose length nobody announces."""
    read.append(0)
    for _ in range(count):
        read[-1] += size
        yield b" " * size


read: list[int] = []


def is_problem(answer, status: int) -> dict:
    assert answer.status_code == status, answer.text[:300]
    assert answer.headers["content-type"] == "application/problem+json"
    assert answer.headers["x-content-type-options"] == "nosniff"
    assert "frame-ancestors 'none'" in answer.headers["content-security-policy"]
    body = answer.json()
    assert body["title"] and body["code"] and body["status"] == status
    return body


@pytest.mark.parametrize("path", ["/api/session", EDIT, "/api/imports", "/api/foreign"])
def test_a_body_that_says_it_is_too_large_is_refused_unread(client: Client, path: str) -> None:
    sven = client("sven")
    headers = {"content-length": str(500 * 2**20), "content-type": "application/json"}
    is_problem(sven.post(path, content=chunks(1), headers=headers), 413)


@pytest.mark.parametrize("path", ["/api/session", EDIT])
def test_a_body_that_turns_out_too_large_is_refused_where_it_crosses_the_limit(
    client: Client, path: str
) -> None:
    answer = client("sven").post(path, content=chunks(40), headers={"content-type": "application/json"})
    assert "at most" in is_problem(answer, 413)["title"]


def test_a_stranger_is_told_so_before_the_body_is_read(client: Client) -> None:
    client("sven")
    with TestClient(application(), headers={"x-nundine": "1"}) as nobody:
        is_problem(nobody.post("/api/imports", content=b"x" * 5_000_000), 401)


def said_to(address: str, text: str) -> str:
    """What a connection answers until it is closed."""
    host, port = address.removeprefix("http://").split(":")
    with socket.create_connection((host, int(port)), timeout=10) as line:
        line.sendall(text.encode())
        return b"".join(iter(lambda: line.recv(4096), b"")).decode()


def test_a_body_that_never_ends_is_given_up(served: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(guard, "SIGN_IN", Limit(4000, 1.0, 0.3))
    head = (
        "POST /api/session HTTP/1.1\r\nHost: 127.0.0.1\r\nx-nundine: 1\r\nContent-Type: application/json\r\n"
    )
    told = said_to(served, head + "Content-Length: 100\r\nConnection: close\r\n\r\n{")
    assert told.startswith("HTTP/1.1 408")
    assert "did not come to an end" in told


def test_a_connection_whose_headers_never_end_is_closed(served: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(connections, "PATIENCE", 0.3)
    assert said_to(served, "GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Slow: ") == ""


def test_one_account_has_few_files_under_way_at_once_and_others_have_theirs(
    published: Week, client: Client
) -> None:
    sven, mila = Account.get(Account.name == "sven"), client("mila")
    begun = [FILES_OUT.begin(sven) for _ in range(FILES_OUT.each)]
    try:
        refused = is_problem(published.http.get(f"{published.base}/week.xlsx"), 429)
        assert "Wait for one of them" in refused["title"]
        assert mila.get(f"{published.base}/week.xlsx").status_code == 200
    finally:
        for _ in begun:
            FILES_OUT.end(sven)
    assert published.http.get(f"{published.base}/week.xlsx").status_code == 200
    FILES_IN.begin(sven)
    FILES_IN.begin(sven)
    try:
        is_problem(published.http.post("/api/imports", files=[("files", ("a.csv", b"x"))]), 429)
    finally:
        FILES_IN.end(sven)
        FILES_IN.end(sven)


def test_another_name_than_ours_is_refused(client: Client) -> None:
    answer = client("sven").get("/api/session", headers={"host": "elsewhere.invalid"})
    assert "NUNDINE_NAMES" in is_problem(answer, 400)["title"]


@pytest.mark.parametrize("path", ["/%00", "/api/%00", "/" + "a" * 3000, "/api/nowhere", "/assets/%01.js"])
def test_addresses_that_can_not_be_are_not_found(client: Client, path: str) -> None:
    is_problem(client("sven").get(path), 404)


@pytest.mark.parametrize("bad", ["\x01", "\x7f", "\ufdd0", "\uffff", "\U0001ffff", "\ud800"])
def test_a_character_that_no_text_may_hold_is_refused_wherever_it_comes_in(client: Client, bad: str) -> None:
    sven = client("sven")
    form = {
        "order": {"title": f"Rope {bad}", "asset": "N1", "kind": "safety"},
        "revision": None,
        "tasks": [{"task": "10", "title": "Fix", "hours": "1", "needs": "hand"}],
    }
    sent = sven.post("/api/orders", content=json.dumps(form), headers={"content-type": "application/json"})
    assert f"U+{ord(bad):04X}" in is_problem(sent, 422)["title"]
    if bad != "\ud800":  # no address can carry half a pair
        asked = sven.get(f"/api/weeks/{WEEK}/backlog", params={"search": bad})
        assert "which no text may hold" in is_problem(asked, 422)["title"]


def test_a_name_in_arabic_and_a_flag_are_texts(client: Client) -> None:
    form = {
        "order": {"title": "فحص الحبل 🇨🇭", "asset": "N1", "kind": "safety"},
        "revision": None,
        "tasks": [{"task": "10", "title": "Fix\tit", "hours": "1", "needs": "hand"}],
    }
    assert client("sven").post("/api/orders", json=form).status_code == 200


@pytest.mark.parametrize("week", ["２０２６-W49", "2026-W٤٩", "2026-W49%0A"])
def test_weeks_are_named_in_plain_figures(client: Client, week: str) -> None:
    assert client("sven").get(f"/api/weeks/{week}").status_code in (404, 422)


def test_a_page_number_beyond_all_pages_is_refused(client: Client) -> None:
    is_problem(client("sven").get(f"/api/weeks/{WEEK}/backlog", params={"page": 10**18}), 422)


def test_a_wo_whose_number_has_a_slash_can_be_opened_changed_and_asked_about(client: Client) -> None:
    sven = client("sven")
    form = {
        "order": {"number": "4500/17", "title": "Old number", "asset": "N1", "kind": "safety"},
        "revision": None,
        "tasks": [{"task": "10", "title": "Fix", "hours": "1", "needs": "hand"}],
    }
    wo = "number,title,asset,kind,state,raised\n4500/17,Old number,N1,safety,approved,2026-11-01\n"
    tasks = "number,task,title,hours,needs\n4500/17,10,Fix,1,hand\n"
    files = [("files", ("work_orders.csv", wo.encode())), ("files", ("tasks.csv", tasks.encode()))]
    report = sven.post("/api/imports", files=files).json()["report"]
    assert report["done"], report
    for path in (
        "/api/orders/4500%2F17",
        f"/api/weeks/{WEEK}/jobs/4500%2F17",
        f"/api/weeks/{WEEK}/jobs/4500%2F17/why",
    ):
        assert sven.get(path).status_code == 200, path
    revision = sven.get("/api/orders/4500%2F17").json()["revision"]
    assert sven.post("/api/orders", json={**form, "revision": revision}).status_code == 200
    assert sven.post("/api/orders/4500%2F17/state", json={"to": "on hold"}).status_code == 204


@pytest.mark.parametrize("number", ["..", ".", "a;b", "a\nb"])
def test_a_number_that_no_address_or_cell_can_carry_is_refused_with_the_reason(
    client: Client, number: str
) -> None:
    wo = f'number,title,asset,kind,state,raised\n"{number}",T,N1,safety,approved,2026-11-01\n'
    report = (
        client("sven")
        .post("/api/imports", files=[("files", ("work_orders.csv", wo.encode()))])
        .json()["report"]
    )
    assert not report["done"]
    assert report["errors"][0]["column"] == "number"


def test_a_full_disk_refuses_changes_with_the_reason_and_nothing_else(
    week: Week, monkeypatch: pytest.MonkeyPatch
) -> None:
    job = week.get("/backlog?ready=true&size=1")["rows"][0]["number"]
    edit = {"edit": {"kind": "put", "jobs": [job], "day": "2026-12-01"}, "seen": 0}
    with monkeypatch.context() as full:
        full.setattr(database_trouble, "LEAST_ROOM", 2**62)
        assert "disk" in is_problem(week.http.post(f"{week.base}/edits", json=edit), 507)["title"]
        assert week.get()["edits"] == 0
    assert week.http.post(f"{week.base}/edits", json=edit).status_code == 200


def test_the_document_of_the_api_is_for_those_who_are_signed_in(client: Client) -> None:
    sven = client("sven")
    assert "/api/session" in sven.get("/api/openapi.json").json()["paths"]
    with TestClient(application()) as nobody:
        is_problem(nobody.get("/api/openapi.json"), 401)


def test_every_route_names_the_problems_that_it_can_answer(client: Client) -> None:
    document = client("sven").get("/api/openapi.json").json()
    for path, operations in document["paths"].items():
        for method, operation in operations.items():
            problems = {
                s
                for s, r in operation["responses"].items()
                if "application/problem+json" in r.get("content", {})
            }
            assert {"401", "403", "404", "422", "503"} <= problems, (method, path)
            assert method == "get" or {"413", "507"} <= problems, (method, path)


def test_an_error_that_nobody_foresaw_is_a_problem_too_and_tells_nothing_of_the_inside(
    client: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    sven = client("sven")

    def breaks(*_: object) -> None:
        raise ZeroDivisionError("secret of the inside")

    monkeypatch.setattr("nundine.api.week.routes.load_state", breaks)
    told = is_problem(sven.get(f"/api/weeks/{WEEK}/crew"), 500)
    assert "secret" not in str(told)
