"""The ledger: every write of every record stands in it, it is only added to, and histories and the audit read
it."""

from __future__ import annotations

import json
from typing import Any

import pytest
from fastapi.testclient import TestClient

from nundine.services.ledger.noun import Noun
from nundine.services.ledger.nouns import LISTED, NOUNS
from nundine.services.ledger.values import encode
from nundine.store.base import db
from nundine.store.ledger import LedgerEntry
from tests.api.conftest import Client, Week, answers_for
from tests.api.hands import Hand, RunningHand
from tests.replay import said_of

NEVER = ("UPDATE `LEDGER_", "DELETE FROM `LEDGER_", "REPLACE INTO `LEDGER_")


def stored(noun: Noun) -> dict[tuple, dict[str, Any]]:
    return {key: noun.encoded(row) for key, row in noun.read().items()}


def fresh(noun: Noun, field: str) -> Any:
    """What a field holds where nothing was said of it."""
    column = next((c for c in noun.columns if c.name == field), None)
    if column is None:
        return []
    default = getattr(noun.model, column.field).default
    return encode(default() if callable(default) else default)


def replays() -> None:
    """The ledger leads to what is stored."""
    for noun in LISTED:
        said, there = said_of(noun.name), stored(noun)
        if noun.name == "week":  # a week is there once somebody looks at it, whether anything was done or not
            said = {k: said.get(k, {}) for k in there}
        assert said.keys() == there.keys(), noun.name
        for key, row in there.items():
            for field, value in row.items():
                told = said[key].get(field, fresh(noun, field))
                assert encode(told) == value, (noun.name, key, field)


def test_replaying_the_ledger_of_a_new_world_gives_all_its_records(week: Week) -> None:
    replays()


@pytest.mark.parametrize("hand", [Hand, RunningHand])
def test_replaying_the_ledger_after_any_edits_and_their_undos_gives_the_records(
    published: Week, hand: type[Hand]
) -> None:
    hand(published, 11).there_and_back(32, lambda _: ())
    for _ in hand(published, 12).walk(10):
        pass
    replays()


def test_the_ledger_is_only_added_to(published: Week, statements: list[str]) -> None:
    number = published.get("/backlog", placed=True, size=1)["rows"][0]["number"]
    published.edit(
        kind="pin",
        keys=[[number, t["task"], t["portion"]] for t in published.get(f"/jobs/{number}")["placements"]],
        on=True,
    )
    published.edit(kind="undo")
    published.edit(kind="redo")
    form = published.http.get(f"/api/orders/{number}").json()
    body = {**{k: form[k] for k in ("tasks", "revision")}, "order": {**form["order"], "title": "Other"}}
    assert published.http.post("/api/orders", json=body).status_code == 200
    assert [s for s in statements if s.strip().upper().startswith("INSERT INTO `LEDGER_")]
    assert not [s for s in statements if s.strip().upper().startswith(NEVER)]


def test_a_wo_tells_its_history_field_by_field_with_what_became_of_it_in_weeks(
    week: Week, client: Client
) -> None:
    number = week.get("/backlog", ready=True, size=1)["rows"][0]["number"]
    form = week.http.get(f"/api/orders/{number}").json()
    order = {**form["order"], "title": "Grease the sheaves", "must": "yes"}
    tasks = [{**form["tasks"][0], "hours": "3.25"}, *form["tasks"][1:]]
    mila = client("mila")
    answer = mila.post("/api/orders", json={"order": order, "tasks": tasks, "revision": form["revision"]})
    assert answer.status_code == 200, answer.text
    week.edit(kind="put", jobs=[number], day="2026-12-01")
    found = week.http.get("/api/history/work order", params={"key": number}).json()
    put, changed, made = found["rows"]
    assert (put["label"], put["by"]) == (f"Put {number} in on Tue 1 Dec", "Sven Ostrova")
    assert {(x["record"], x["label"]) for x in put["lines"]} >= {("task 10 in the week", "day")}
    told = {(x["record"], x["label"]): (x["before"], x["after"]) for x in changed["lines"]}
    assert told[("", "title")] == (form["order"]["title"], "Grease the sheaves")
    assert told[("", "must-work")] == ("no", "yes")
    assert told[("task 10", "hours")] == (f"{float(form['tasks'][0]['hours']):g}", "3.25")
    assert changed["by"] == "Mila Castellan"
    assert (made["by"], made["label"]) == ("Nundine", "The demo world")


def test_the_history_of_an_absence_says_why_only_to_those_who_may_know(
    published: Week, client: Client
) -> None:
    person = published.get("/crew")["people"][0]["key"]
    day = next(d["day"] for d in published.get("/crew")["people"][0]["days"] if d["shifts"])
    published.edit(kind="absence", person=person, day=day, reason="sick")
    of = {"key": person}
    for name, word in (("sven", "sick"), ("karl", "sick"), ("rene", "away"), ("ada", "away")):
        found = client(name).get("/api/history/person", params=of).json()["rows"][0]
        assert next(x["after"] for x in found["lines"] if x["label"] == "reason") == word, name


def test_set_up_and_accounts_stand_in_the_ledger_with_who_did_it(client: Client) -> None:
    sven, ada = client("sven"), client("ada")
    now = sven.get("/api/setup").json()
    body = {**{k: now[k] for k in ("seconds", "weights", "reasons", "revision")}, "held_back": {"elec": 0.33}}
    assert sven.put("/api/setup", json=body).status_code == 200
    assert ada.put("/api/accounts/olivia", json=answers_for(["north"])).status_code == 200
    craft = sven.get("/api/history/craft", params={"key": "elec"}).json()["rows"][0]
    assert (craft["by"], craft["lines"][0]["label"], craft["lines"][0]["after"]) == (
        "Sven Ostrova",
        "share held back",
        "0.33",
    )
    account = ada.get("/api/history/account", params={"key": "olivia"}).json()["rows"][0]
    assert account["by"] == "Ada Winkler"
    assert [x["label"] for x in account["lines"]] == ["areas looked after", "roles"]
    assert sven.get("/api/history/account", params={"key": "olivia"}).status_code == 403


def test_a_stale_set_up_is_refused_with_what_differs(client: Client) -> None:
    sven, mila = client("sven"), client("mila")
    seen = sven.get("/api/setup").json()
    body = {k: seen[k] for k in ("weights", "reasons", "revision")} | {"held_back": {}}
    assert mila.put("/api/setup", json={**body, "seconds": 20}).status_code == 200
    answer = sven.put("/api/setup", json={**body, "seconds": 30})
    assert answer.status_code == 409
    assert answer.json()["revision"] == mila.get("/api/setup").json()["revision"]
    assert ("settings, seconds", "20") in {(d["label"], d["after"]) for d in answer.json()["differs"]}


def test_a_stale_wo_is_refused_with_what_differs_field_by_field_and_who_did_it(
    week: Week, client: Client
) -> None:
    number = week.get("/backlog", ready=True, size=1)["rows"][0]["number"]
    seen = week.http.get(f"/api/orders/{number}").json()
    base = {k: seen[k] for k in ("order", "tasks", "revision")}
    other = {**base, "order": {**seen["order"], "permit": "granted", "latest": "2027-03-04 18:00"}}
    assert client("mila").post("/api/orders", json=other).status_code == 200
    answer = week.http.post("/api/orders", json={**base, "order": {**seen["order"], "title": "Mine"}})
    assert answer.status_code == 409
    told = {d["field"]: (d["label"], d["after"], d["by"]) for d in answer.json()["differs"]}
    assert told["latest"] == ("not after", "Thu 4 Mar 2027 18:00", "Mila Castellan")
    assert told.keys() == {"latest", "permit"}
    now = week.http.get(f"/api/orders/{number}").json()
    assert (answer.json()["revision"], now["order"]["title"]) == (now["revision"], seen["order"]["title"])


def test_the_audit_is_asked_by_person_record_field_and_time_and_is_the_administrators(
    week: Week, client: Client
) -> None:
    number = week.get("/backlog", ready=True, size=1)["rows"][0]["number"]
    form = week.http.get(f"/api/orders/{number}").json()
    body = {**{k: form[k] for k in ("tasks", "revision")}, "order": {**form["order"], "title": "Other"}}
    assert week.http.post("/api/orders", json=body).status_code == 200
    ada = client("ada")

    def asked(*filters: tuple[str, str, list[str]], find: str = "") -> list[dict]:
        told = [{"column": c, "how": how, "values": values} for c, how, values in filters]
        return audit(ada, {"filters": told, "find": find})

    mine_alone = ("account", "is", ["sven"])
    of_work = ("nouns", "is", ["work order"])
    assert "sign in" in {d["kind"] for d in asked()}
    (mine,) = [d for d in asked(mine_alone, of_work) if d["kind"] == "work order"]
    assert mine["records"] == f"work order {number}"
    assert mine["changes"] == f"work order {number} title: {form['order']['title']} → Other"
    titles = ("changes", "contains", ["Title"])
    assert asked(("records", "contains", [number]), of_work, titles)[0]["number"] == mine["number"]
    assert asked(find=number)[0]["number"] == mine["number"]
    assert not asked(("records", "contains", [number]), ("changes", "contains", ["permit"]), mine_alone)
    assert not asked(("changes", "contains", ["no field is called so"]))
    assert not asked(("at", "between", ["", "2026-11-01"]))
    assert len(asked(("at", "between", ["2026-11-01", ""]))) > 1
    assert week.http.get("/api/lists/deeds/rows", params={"q": "{}"}).status_code == 403
    one = ada.get(f"/api/audit/{int(mine['number'])}").json()
    assert [(x["record"], x["label"], x["after"]) for x in one["lines"]] == [
        (f"work order {number}", "title", "Other")
    ]
    assert ada.get("/api/audit/99999999").status_code == 404
    assert week.http.get(f"/api/audit/{one['id']}").status_code == 403


def audit(http: TestClient, question: dict) -> list[dict]:
    """Cells of the deeds that a question finds, newest first."""
    answer = http.get("/api/lists/deeds/rows", params={"q": json.dumps(question)})
    assert answer.status_code == 200, answer.text
    return [r["cells"] for r in answer.json()["rows"]]


def test_sign_ins_stand_in_the_audit_and_so_do_those_that_failed(client: Client) -> None:
    ada = client("ada")
    stranger = TestClient(ada.app, base_url="http://testserver", headers={"x-nundine": "1"})
    assert (
        stranger.post("/api/session", json={"name": "sven", "password": "not it at all"}).status_code == 401
    )
    kinds = {d["kind"]: d["label"] for d in reversed(audit(ada, {}))}
    assert kinds["sign-in failed"].startswith("Sign-in as 'sven' from")
    assert kinds["sign in"].startswith("Ada Winkler signed in from")


def test_priorities_of_a_new_day_are_nundines_own_deed(week: Week) -> None:
    from nundine.services.work.ageing import grow_older

    with db.connection_context():
        assert grow_older()
        newest = LedgerEntry.select().order_by(LedgerEntry.id.desc()).get()
    assert (newest.account_id, newest.kind, newest.work) == (None, "day", True)


def test_each_noun_says_its_fields_in_words() -> None:
    for noun in NOUNS.values():
        assert all(label and "_" not in label for label in noun.labels.values()), noun.name
