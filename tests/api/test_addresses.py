"""Whatever somebody types into an address is answered, or refused in words; nothing is changed by looking."""

from __future__ import annotations

from random import Random
from typing import Any
from urllib.parse import quote, unquote

import pytest

from nundine.demo.world import SIGN_INS
from nundine.services.week.state import load_state
from tests.api.conftest import Client, Week
from tests.application import application
from tests.conftest import WEEK

ENDLESS = {"/api/events"}
"""What goes on until the reader leaves."""
STRANGE = (
    "0",
    "-1",
    "1",
    "9" * 30,
    "1e9",
    "nan",
    "null",
    "true",
    "x",
    "x" * 300,
    " ",
    "..",
    "'; --",
    "%",
    "\x00",
    "ß",
    "ليلى",
    "\U0001f6a1",
    "2026-W00",
    "2026-W54",
    "2026-w49",
    "0001-W01",
    "9999-W52",
    "2026-W48",
    "2031-W10",
    "2026-02-30",
    "0001-01-01",
    "9999-12-31",
    "2026-12-01",
)


def known(week: Week) -> dict[str, list[str]]:
    """Values that are there, by the name of the place that they go to."""
    state = load_state(WEEK)
    job, task, portion = sorted(state.rows)[0]
    return {
        "week": [WEEK],
        "number": [job, "1"],
        "job": [job],
        "task": [task],
        "portion": [str(portion)],
        "seat": ["0"],
        "craft": ["mech"],
        "day": ["2026-12-01"],
        "person": [state.problem.people[0].id],
        "only": [state.problem.people[0].id],
        "by": ["person", "crew"],
        "name": ["work_orders.csv", "site.xlsx"],
        "id_": ["1"],
        "page": ["1"],
        "size": ["20"],
        "sort": ["priority", "due"],
        "area": ["north"],
        "areas": ["north"],
    }


def readable() -> list[tuple[str, list[dict[str, Any]]]]:
    """Every address that is only read, with its places."""
    paths = application().openapi()["paths"]
    return [
        (path, ops["get"].get("parameters", []))
        for path, ops in sorted(paths.items())
        if "get" in ops and path not in ENDLESS
    ]


@pytest.mark.long
@pytest.mark.parametrize("seed", range(3))
def test_whatever_stands_in_a_place_of_an_address_is_answered_or_refused_in_words(
    client: Client, built: Week, seed: int
) -> None:
    dice, http, there = Random(seed), client("sven"), known(built)
    before = (built.get()["edits"], load_state(WEEK).rows)
    for path, places in readable():
        for place in places:
            filled = {
                p["name"]: dice.choice(there.get(p["name"], ["1"])) for p in places if p["in"] == "path"
            } | {place["name"]: dice.choice((*STRANGE, *there.get(place["name"], ())))}
            query = {
                n: v
                for n, v in filled.items()
                if not any(p["name"] == n and p["in"] == "path" for p in places)
            }
            address = path
            for name, value in filled.items():
                address = address.replace(f"{{{name}}}", quote(value, safe=""))
            answer = http.get(address, params=query)
            assert answer.status_code in (200, 403, 404, 405, 409, 422), (address, query, answer.status_code)
            if answer.status_code != 200 and "json" in answer.headers["content-type"]:
                assert answer.json().get("title") or answer.json().get("detail"), (address, query)
    assert (built.get()["edits"], load_state(WEEK).rows) == before


@pytest.mark.long
@pytest.mark.parametrize(
    "name", [name for name, _, role in SIGN_INS if role not in ("administrator", "scheduler")]
)
def test_only_who_sets_the_site_up_reads_its_accounts(client: Client, name: str) -> None:
    assert client(name).get("/api/accounts").status_code == 403


def test_an_address_without_a_session_is_refused_and_tells_nothing_of_the_week(
    client: Client, built: Week
) -> None:
    http, there = client("sven"), known(built)
    http.cookies.clear()
    for path, places in readable():
        address = path
        for place in places:
            address = address.replace(f"{{{place['name']}}}", there.get(place["name"], ["1"])[0])
        answer = http.get(address)
        if path == "/api/session":
            continue
        assert answer.status_code == 401, address
        assert there["job"][0] not in answer.text


def test_a_file_is_named_after_its_crew_in_whatever_letters(built: Week) -> None:
    answer = built.http.get(f"{built.base}/sheets.pdf", params={"by": "crew", "only": "ليلى 1"})
    assert answer.status_code == 200 and answer.content.startswith(b"%PDF")
    assert (
        unquote(answer.headers["content-disposition"].split("UTF-8''")[1]) == f"crew-sheets-{WEEK}-ليلى 1.pdf"
    )
    assert f'filename="crew-sheets-{WEEK}-____ 1.pdf"' in answer.headers["content-disposition"]
