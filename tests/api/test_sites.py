"""Two sites in one installation: each has its own of everything, nothing of one is seen at the other, and
who may not see a site is not told that it is there."""

from __future__ import annotations

import io
import json
import threading
from collections.abc import Iterator
from typing import Any

import pypdf
import pytest
from fastapi.testclient import TestClient

from nundine.demo import second_site, sign_ins
from nundine.jobs import queue
from nundine.services.background import runs
from nundine.store.belonging import Site, SiteTable, at_site
from nundine.store.ledger import LedgerEntry
from nundine.store.run import Run
from nundine.store.schema import TABLES
from nundine.store.site import Area
from nundine.store.week import Event
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client, Week
from tests.api.test_access import routes
from tests.conftest import WEEK

FIRST, SECOND = sign_ins.KEY, second_site.KEY
OF_SECOND = [name for _, name, *_ in second_site.ASSETS] + [n for n, *_ in second_site.PEOPLE]
OF_FIRST = ["Larch gondola", "Foxglove chairlift", "Ilse Brandner", "Marit Solberg"]


class Site_(Week):
    """The week as one site has it."""

    def __init__(self, http: TestClient, key: str) -> None:
        super().__init__(http)
        self.base = f"/at/{key}{self.base}"

    def edits(self) -> int:
        return self.get()["edits"]


@pytest.fixture
def both(client: Client) -> Iterator[TestClient]:
    """Somebody who schedules at both sites."""
    ada = client("ada")
    assert ada.put("/api/accounts/mila", json={"all_sites": True}).status_code == 200
    yield client("mila")


def id_of(key: str) -> int:
    return Site.get(Site.key == key).id


def test_a_plan_that_serves_other_sites_is_offered_there_last_and_copied_without_what_is_unknown_there(
    both: TestClient,
) -> None:
    plans = f"/at/{SECOND}/api/plans"
    offered = [c for c in both.get(f"{plans}/choices").json() if c["site"] == FIRST]
    assert {c["title"] for c in offered} == {"Handrail repair", "Lightning protection survey"}
    number = next(c["number"] for c in offered if c["title"] == "Handrail repair")
    copied = both.get(f"{plans}/{number}/copy", params={"of_site": FIRST}).json()
    assert (copied["order"]["title"], copied["order"]["permits"]) == ("Handrail repair", "")
    assert (copied["order"]["plan"], copied["order"]["plan_from"]) == ("", f"{number} of {FIRST}")
    assert [t["needs"] for t in copied["tasks"]] == ["weld x1 level 1; hand x1 level 1"]
    other = both.get(f"{plans}/JP-1002/copy", params={"of_site": FIRST})
    assert other.status_code == 404
    orders = f"/at/{SECOND}/api/orders"
    asset = both.get(f"{orders}/choices").json()["assets"][0]["key"]
    order = {**copied["order"], "asset": asset, "state": "approved"}
    made = both.post(orders, json={"order": order, "tasks": copied["tasks"], "revision": None})
    assert made.status_code == 200, made.text
    kept = both.get(f"{orders}/{made.json()['number']}").json()["order"]
    assert (kept["plan_from"], kept["plan_edition"]) == (f"{number} of {FIRST}", "1")


def test_every_table_belongs_to_sites_or_to_the_installation_by_intention() -> None:
    free = {t.__name__ for t in TABLES if not issubclass(t, SiteTable)}
    assert free == {
        "Site", "Role", "Account", "AccountRole", "SignedIn", "SignInTry", "KnownBrowser",
    }  # fmt: skip


@pytest.mark.parametrize("table", [t for t in TABLES if issubclass(t, SiteTable)], ids=lambda t: t.__name__)
def test_questions_changes_and_deletions_reach_the_present_site_alone(demo: None, table: Any) -> None:
    for key in (FIRST, SECOND):
        with at_site(id_of(key)):
            mine = {r.site_id for r in table.select(table.id, table.site)}
            assert mine <= {id_of(key), None}
            for statement in (table.update(site=table.site), table.delete(), table.select()):
                sql, values = statement.sql()
                assert "site_id" in sql.split("WHERE")[1] and id_of(key) in values


def test_keys_are_known_in_their_site_so_that_two_sites_may_use_the_same(both: TestClient) -> None:
    for key, name in ((FIRST, "North valley"), (SECOND, "North cliff")):
        with at_site(id_of(key)):
            assert Area.get(Area.key == "north").name == name
        areas = {a["key"]: a["name"] for a in Site_(both, key).get()["areas"]}
        assert areas["north"] == name
    order = {"title": "Same number", "asset": "fun-1", "kind": "corrective"}
    task = {"task": "10", "title": "Do it", "hours": "1", "needs": "mech"}
    body = {"order": order, "tasks": [task], "revision": None}
    made = both.post(f"/at/{SECOND}/api/orders", json=body)
    assert made.status_code == 200, made.text
    assert (
        both.get(f"/at/{SECOND}/api/orders/{made.json()['number']}").json()["order"]["title"] == "Same number"
    )


ELSEWHERE = ("/api/events", "/api/sites", "/api/imports/templates/{name}")
"""Streams, what administrators see of all sites, and examples, which are the same everywhere."""


def filled(path: str, there: dict[str, str]) -> str:
    for name, value in there.items():
        path = path.replace("{" + name + "}", value)
    return path


def readable(content: bytes) -> str:
    """The text of an answer; of sheets what is printed on them."""
    if content.startswith(b"%PDF"):
        return "".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(content)).pages)
    return content.decode("utf-8", "replace")


def test_nothing_of_one_site_is_told_at_the_other(both: TestClient, client: Client) -> None:
    """All that can be read, asked with what stands in the other site's addresses too."""
    first, second = Site_(both, FIRST), Site_(both, SECOND)
    for week in (first, second):
        week.build(seconds=0.3)
        week.edit(kind="status", to="agreed")
        assert week.http.post(f"{week.base}/revisions").status_code == 200
    job = next(r["number"] for r in second.get("/backlog", size=5)["rows"])
    theirs = {
        "week": WEEK, "number": job, "job": job, "noun": "asset", "person": "s1", "craft": "mech",
        "day": "2026-12-01", "task": "10", "portion": "1", "seat": "0", "name": "people.csv", "build": "1",
        "id_": "1", "run": "1", "revision": "1", "key": "fun-1",
    }  # fmt: skip
    one = {"key": "fun-1", "only": "s1"}
    ada, told, own = client("ada"), [], set()
    for at, strange, mine in ((FIRST, OF_SECOND, OF_FIRST), (SECOND, OF_FIRST, OF_SECOND)):
        for method, path in routes():
            if method != "GET" or path in ELSEWHERE:
                continue
            for http in (both, ada):
                answer = http.get(f"/at/{at}{filled(path, theirs)}", params=one)
                text = readable(answer.content)
                own |= {name for name in mine if name in text}
                told += [(at, path, name) for name in strange if name in text or json.dumps(name) in text]
    assert not told
    assert own >= {*OF_FIRST, *OF_SECOND}, "what is looked for can be found, each at its own site"


def test_numbers_of_rows_in_an_address_open_nothing_of_another_site(both: TestClient) -> None:
    made = both.post(f"/at/{SECOND}/api/imports/exports").json()
    assert made["state"] == "done"
    assert both.get(f"/at/{SECOND}/api/runs/{made['id']}/file").content[:2] == b"PK"
    for path in ("", "/file"):
        assert both.get(f"/at/{FIRST}/api/runs/{made['id']}{path}").status_code == 404
    built = Site_(both, SECOND).build(accept=False)
    stolen = both.post(f"/at/{FIRST}/api/weeks/{WEEK}/builds/{built['id']}/accept")
    assert stolen.status_code == 404


def test_who_may_not_see_a_site_is_not_told_that_it_is_there(client: Client) -> None:
    sven = client("sven")
    me = sven.get("/api/session").json()
    assert [s["key"] for s in me["sites"]] == [FIRST]
    there = sven.get(f"/at/{SECOND}/api/weeks/{WEEK}")
    nowhere = sven.get(f"/at/not-there/api/weeks/{WEEK}")
    assert (there.status_code, there.json()) == (nowhere.status_code, nowhere.json())
    assert there.status_code == 404
    assert sven.post(f"/at/{SECOND}/api/weeks/{WEEK}/builds", json={"seconds": 1}).status_code == 404
    with TestClient(sven.app) as nobody:
        assert nobody.get(f"/at/{SECOND}/api/weeks/{WEEK}").status_code == 401
        assert nobody.get(f"/at/not-there/api/weeks/{WEEK}").status_code == 401


def test_whoever_sees_one_site_alone_begins_there(client: Client) -> None:
    ada = client("ada")
    assert ada.put("/api/accounts/mila", json={"sites": [SECOND]}).status_code == 200
    me = client("mila").get("/api/session").json()
    assert (me["site"], me["first"], [s["name"] for s in me["sites"]]) == (SECOND, False, [second_site.SITE])
    assert client("mila").get(f"/api/weeks/{WEEK}").status_code == 404, (
        "without the address it is the first site"
    )
    assert ada.put("/api/accounts/mila", json={"sites": ["nowhere"]}).status_code == 422
    assert ada.put("/api/accounts/ada", json={"sites": [SECOND]}).json()["code"] == "sites"
    both = [{"role": "scheduler"}, {"role": "administrator"}]
    assert ada.put("/api/accounts/mila", json={"roles": both}).json()["code"] == "sites"


def test_two_people_at_two_sites_edit_at_once_and_each_week_counts_its_own(both: TestClient) -> None:
    weeks = [Site_(both, key) for key in (FIRST, SECOND)]
    jobs = [[r["number"] for r in w.get("/backlog", ready=True, size=8)["rows"]][:6] for w in weeks]

    def put(which: int) -> None:
        for job in jobs[which]:
            weeks[which].edit(kind="put", jobs=[job], day=None)

    sides = [threading.Thread(target=put, args=(n,)) for n in range(2)]
    for side in sides:
        side.start()
    for side in sides:
        side.join()
    assert [w.get()["edits"] for w in weeks] == [len(j) for j in jobs]
    with at_site(id_of(SECOND)):
        mine = LedgerEntry.select().where(LedgerEntry.stream == f"week {WEEK}")
        assert mine.count() == len(jobs[1])
        assert {e.site_id for e in Event.select()} <= {id_of(SECOND), None}
    undone = weeks[1].edit(kind="undo")
    assert undone["edits"] == len(jobs[1]) + 1
    assert weeks[0].get()["edits"] == len(jobs[0])


def test_crafts_can_be_shared_and_a_craft_of_one_site_is_not_known_at_another(both: TestClient) -> None:
    shared = {c["key"] for c in Site_(both, SECOND).get()["crafts"]}
    assert shared == {c["key"] for c in Site_(both, FIRST).get()["crafts"]}
    given = {"files": ("crafts.csv", b"craft,name\ndive,Diver\n", "text/csv")}
    assert both.post(f"/at/{SECOND}/api/imports", files=given).json()["report"]["done"]
    assert "dive" in {c["key"] for c in Site_(both, SECOND).get()["crafts"]}
    assert "dive" not in {c["key"] for c in Site_(both, FIRST).get()["crafts"]}


def test_a_shared_craft_that_is_changed_at_one_site_is_changed_at_all(both: TestClient) -> None:
    def held_back(key: str) -> float:
        return next(c["held_back"] for c in Site_(both, key).get()["crafts"] if c["key"] == "mech")

    before = {key: held_back(key) for key in (FIRST, SECOND)}
    found = both.get(f"/at/{FIRST}/api/setup").json()
    form = {n: found[n] for n in ("seconds", "weights", "keep_days", "revision")}
    answer = both.put(f"/at/{FIRST}/api/setup", json={**form, "held_back": {"mech": 0.4}})
    assert answer.status_code == 200, answer.text
    assert before[SECOND] != 0.4
    assert (held_back(FIRST), held_back(SECOND)) == (0.4, 0.4)


def test_the_history_of_an_account_is_the_same_at_all_sites(both: TestClient, client: Client) -> None:
    ada = client("ada")
    told = [
        ada.get(f"/at/{key}/api/history/account", params={"key": "mila"}).json() for key in (FIRST, SECOND)
    ]
    assert told[0] == told[1]
    assert len(json.dumps(told[0])) > 200


def test_an_administrator_makes_a_site_whose_week_is_empty_and_whose_key_can_stand_in_addresses(
    client: Client,
) -> None:
    ada = client("ada")
    form = {"key": "third", "name": "Third Pier", "timezone": "America/New_York"}
    assert [s["key"] for s in ada.post("/api/sites", json=form).json()] == [FIRST, SECOND, "third"]
    week = Site_(ada, "third").get()
    assert (week["site"], week["timezone"], week["areas"]) == ("Third Pier", "America/New_York", [])
    for bad in ({"key": "third"}, {"key": "a/b"}, {"name": " "}, {"timezone": "Mars/Base"}):
        refused = ada.post("/api/sites", json={**form, "key": "other", **bad})
        assert (refused.status_code, refused.json()["field"]) == (422, next(iter(bad)))
    assert client("sven").post("/api/sites", json=form).status_code == 403


def test_what_is_due_by_itself_is_due_at_each_site(demo: None) -> None:
    sent: list[int] = []
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(queue, "_send", sent.extend)
        queue.look_after()
    found = {(r.site.key, r.kind) for r in Run.of_all_sites().where(Run.id.in_(sent))}
    assert found == {
        (key, kind)
        for key in (FIRST, SECOND)
        for kind in ("ageing", "cleaning", "raising", "preventive sheets", "meter feed", "supplier feed")
    }
    of_second = {r.id for r in Run.of_all_sites().where(Run.id.in_(sent)) if r.site.key == SECOND}
    for id_ in of_second:
        as_the_worker_does(id_)
    assert {r.id for r in Run.of_all_sites().where(Run.state == "done")} >= of_second
    assert set(runs.waiting()) == set(sent) - of_second


def as_the_worker_does(id_: int) -> None:
    """On a thread of its own."""
    thread = threading.Thread(target=queue.work_on, args=(id_,))
    thread.start()
    thread.join()


def test_numbers_of_new_work_are_given_out_by_each_site(both: TestClient) -> None:
    order = {"title": "New", "kind": "corrective"}
    task = {"task": "10", "title": "Do it", "hours": "1", "needs": "mech"}
    made = []
    for key, asset in ((FIRST, "N1"), (SECOND, "lift-s")):
        body = {"order": {**order, "asset": asset}, "tasks": [task], "revision": None}
        made.append(both.post(f"/at/{key}/api/orders", json=body).json()["number"])
    with at_site(id_of(SECOND)):
        assert WorkOrder.select().where(WorkOrder.number == made[1]).exists()
    assert made[0] != made[1]
