"""Nothing without signing in, nothing beyond one's role, nothing from elsewhere."""

from __future__ import annotations

import pytest
from fastapi.routing import APIRoute
from fastapi.testclient import TestClient

from nundine.settings import Settings
from tests.api.conftest import Client
from tests.application import application
from tests.conftest import WEEK

OPEN = {("POST", "/api/session"), ("GET", "/api/session"), ("GET", "/api/health"), ("GET", "/{path:path}")}


def routes() -> list[tuple[str, str]]:
    spec = application().openapi()
    return [(m.upper(), path) for path, methods in spec["paths"].items() for m in methods]


@pytest.mark.parametrize(("method", "path"), [r for r in routes() if r not in OPEN])
def test_every_route_refuses_who_is_not_signed_in(database: Settings, method: str, path: str) -> None:
    filled = (
        path.replace("{week}", WEEK)
        .replace("{build}", "1")
        .replace("{number}", "1")
        .replace("{portion}", "1")
        .replace("{seat}", "0")
    )
    filled = filled.replace("{day}", "2026-11-30").replace("{", "").replace("}", "")
    with TestClient(application(), headers={"x-nundine": "1"}) as nobody:
        assert nobody.request(method, filled, json={}).status_code == 401


def test_all_routes_of_the_application_are_in_the_document_that_these_tests_read() -> None:
    hidden = {r.path for r in application().routes if isinstance(r, APIRoute) and not r.include_in_schema}
    assert hidden <= {"/api/health", "/api/openapi.json", "/{path:path}"}


@pytest.mark.parametrize("name", ["karl", "olivia", "rene"])
def test_only_schedulers_and_administrators_edit_the_week(client: Client, name: str) -> None:
    refused = client(name).post(
        f"/api/weeks/{WEEK}/edits", json={"edit": {"kind": "put", "jobs": ["WO-1804"]}, "seen": 0}
    )
    assert refused.status_code == 403
    assert refused.json()["code"] == "role"
    assert refused.headers["content-type"] == "application/problem+json"


def test_a_reader_may_read_and_neither_answer_nor_report_nor_import(client: Client) -> None:
    reader = client("rene")
    assert reader.get(f"/api/weeks/{WEEK}").status_code == 200
    assert (
        reader.post(
            f"/api/weeks/{WEEK}/answers", json={"key": ["a", "b", 1], "said": None, "seen": 0}
        ).status_code
        == 403
    )
    assert (
        reader.post(
            f"/api/weeks/{WEEK}/progress", json={"tasks": [["a", "b"]], "to": "done", "seen": 0}
        ).status_code
        == 403
    )
    assert reader.post("/api/imports", files=[("files", ("a.csv", b"x"))]).status_code == 403


def test_a_write_from_another_page_is_refused(client: Client) -> None:
    sven = client("sven")
    edit = {"edit": {"kind": "undo"}, "seen": 0}
    assert sven.post(f"/api/weeks/{WEEK}/edits", json=edit, headers={"x-nundine": ""}).status_code == 403
    assert (
        sven.post(
            f"/api/weeks/{WEEK}/edits", json=edit, headers={"origin": "http://elsewhere.invalid"}
        ).status_code
        == 403
    )


def test_a_wrong_password_and_an_unknown_name_are_answered_alike(demo: None) -> None:
    with TestClient(application(), headers={"x-nundine": "1"}) as http:
        known = http.post("/api/session", json={"name": "sven", "password": "wrong-password"})
        unknown = http.post("/api/session", json={"name": "nobody", "password": "wrong-password"})
        assert known.status_code == unknown.status_code == 401
        assert known.json() == unknown.json()


def test_signing_out_ends_the_session_on_the_server(client: Client) -> None:
    sven = client("sven")
    token = sven.cookies["nundine_session"]
    assert sven.delete("/api/session").status_code == 204
    sven.cookies.set("nundine_session", token)
    assert sven.get("/api/session").json() is None


def test_answers_carry_security_headers(client: Client) -> None:
    headers = client("sven").get("/api/session").headers
    assert "frame-ancestors 'none'" in headers["content-security-policy"]
    assert headers["x-content-type-options"] == "nosniff"
    assert headers["cache-control"] == "no-store"


def test_no_file_outside_the_front_end_is_served(client: Client) -> None:
    for path in ("/../pyproject.toml", "/..%2f..%2fpyproject.toml", "/assets/../../package.json"):
        answer = client("sven").get(path)
        assert "nundine-web" not in answer.text
        assert "[project]" not in answer.text
