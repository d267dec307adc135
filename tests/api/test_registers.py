"""Small lists that a site keeps by hand: areas, crafts, tools, permits."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.services.exchange.registers import KEPT, PLANNED, REGISTERS
from tests.api.conftest import Client


@pytest.fixture
def sven(client: Client) -> TestClient:
    return client("sven")


def register(http: TestClient, name: str) -> dict[str, Any]:
    answer = http.get(f"/api/setup/registers/{name}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def row(http: TestClient, name: str, key: str) -> dict[str, Any]:
    found = register(http, name)
    (first,) = [c["name"] for c in found["columns"] if c["key"]]
    return next(r for r in found["rows"] if r["cells"][first] == key)


def sent(http: TestClient, name: str, cells: dict[str, str], revision: int | None, code: int = 200) -> Any:
    body = {"cells": cells, "revision": revision}
    kept = "preventive" if name in PLANNED else "parts" if name in KEPT else "setup"
    answer = http.post(f"/api/{kept}/registers/{name}", json=body)
    assert answer.status_code == (204 if name in KEPT and code == 200 else code), answer.text
    return answer.json() if answer.content else None


@pytest.mark.parametrize("name", [name for name in REGISTERS if name not in ("parts", "assets")])
def test_each_row_saved_as_it_is_stays_as_it_is(sven: TestClient, name: str) -> None:
    before = register(sven, name)
    assert before["rows"]
    for r in before["rows"]:
        sent(sven, name, r["cells"], r["revision"])
    assert register(sven, name) == before


def test_a_row_is_made_changed_and_taken_away(sven: TestClient) -> None:
    cells = {"tool": "saw", "name": "Rope saw", "count": "2", "vehicle": "no"}
    sent(sven, "tools", cells, None)
    assert sent(sven, "tools", cells, None, code=422)["field"] == "tool"
    sent(sven, "tools", {**cells, "count": "3"}, row(sven, "tools", "saw")["revision"])
    now = row(sven, "tools", "saw")
    assert now["cells"]["count"] == "3"
    body = {"key": "saw", "revision": now["revision"]}
    assert sven.post("/api/setup/registers/tools/removal", json=body).status_code == 200
    assert all(r["cells"]["tool"] != "saw" for r in register(sven, "tools")["rows"])


def test_what_is_wrong_names_its_column_and_nothing_is_changed(sven: TestClient) -> None:
    one = row(sven, "crafts", "rig")
    refused = sent(sven, "crafts", {**one["cells"], "valid_from": "some day"}, one["revision"], code=422)
    assert refused["field"] == "valid_from"
    assert row(sven, "crafts", "rig") == one


def test_two_who_change_one_row_are_told(sven: TestClient) -> None:
    one = row(sven, "permit_kinds", "hot")
    sent(sven, "permit_kinds", {**one["cells"], "name": "Hot work and sparks"}, one["revision"])
    stale = sent(sven, "permit_kinds", {**one["cells"], "name": "Fire"}, one["revision"], code=409)
    assert stale["differs"][0]["after"] == "Hot work and sparks"


@pytest.mark.parametrize(("name", "key"), [("tools", "crane"), ("crafts", "mech"), ("permit_kinds", "hot")])
def test_what_something_else_names_is_not_taken_away(sven: TestClient, name: str, key: str) -> None:
    body = {"key": key, "revision": row(sven, name, key)["revision"]}
    answer = sven.post(f"/api/setup/registers/{name}/removal", json=body)
    assert answer.status_code == 422 and answer.json()["code"] == "used", answer.text
    assert row(sven, name, key)
