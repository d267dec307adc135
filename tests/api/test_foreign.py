"""An export is brought in, comes again a week later, and nothing that was done here by hand is lost."""

from __future__ import annotations

import json
import time
from collections import Counter
from collections.abc import Callable
from typing import Any

import pytest
from fastapi.testclient import TestClient
from peewee import fn

from nundine.demo import exports
from nundine.services.background import runs
from nundine.services.background.working import Stopped
from nundine.services.exchange.foreign import bring_in, files
from nundine.services.exchange.stored_rows import standing_work
from nundine.store.asset import Asset
from nundine.store.foreign import Bringing
from nundine.store.run import Run
from nundine.store.work_order import Task, WorkOrder
from tests.api.conftest import Client, Week
from tests.conftest import WEEK
from tests.formats.test_foreign import GERMAN

LATER = "2026-W50"


def opened(http: TestClient, name: str = "north-open-work.csv", later: bool = False) -> dict:
    data = exports.files(LATER if later else WEEK, later)[name]
    answer = http.post("/api/foreign", files={"file": (name, data)})
    assert answer.status_code == 200, answer.text
    return answer.json()


def brought(
    http: TestClient, name: str = "north-open-work.csv", later: bool = False, **decision: object
) -> dict:
    """Open, give the German words a meaning, bring in as decided."""
    one = opened(http, name, later)
    mapping = {
        **one["mapping"],
        "name": "North system",
        "values": {"craft": GERMAN},
        "dates": one["mapping"]["dates"] or "mdy",
    }
    answer = http.post(f"/api/foreign/{one['id']}/bring-in", json={"mapping": mapping, "decision": decision})
    assert answer.status_code == 200, answer.text
    return http.get(f"/api/foreign/{one['id']}").json()


def difference(http: TestClient, later: bool, **decision: object) -> dict:
    one = opened(http, later=later)
    return http.post(
        f"/api/foreign/{one['id']}/difference", json={"mapping": one["mapping"], "decision": decision}
    ).json()


def test_all_that_an_export_changes_is_a_list_for_whoever_opened_it(client: Client) -> None:
    http = client("sven")
    brought(http)
    one = opened(http, later=True)
    body = {"mapping": one["mapping"], "decision": {}}
    told = http.post(f"/api/foreign/{one['id']}/difference", json=body).json()

    def ask(who: TestClient, **question: object) -> Any:
        asked = {"of": one["id"], "q": json.dumps(question), "size": 500}
        return who.get("/api/lists/file rows/rows", params=asked)

    rows = [r["cells"] for r in ask(http).json()["rows"]]
    fields = {(c["number"], line["what"], line["after"]) for c in told["changed"] for line in c["lines"]}
    assert {(r["number"], r["field"], r["there"]) for r in rows if r["what"] == "changed"} == fields
    counts = Counter(r["what"] for r in rows)
    assert (counts["new"], counts["vanished"]) == (told["new_count"], told["vanished_count"])
    hours = {"column": "field", "how": "is", "values": [told["changed"][0]["lines"][0]["what"]]}
    assert 0 < ask(http, filters=[hours]).json()["counted"]["total"] < len(rows)
    assert ask(client("ada")).status_code == 404
    assert http.get("/api/lists/file rows/rows", params={"of": "x", "q": "{}"}).status_code == 404


def test_an_export_comes_in_and_its_mapping_is_known_the_next_time(client: Client) -> None:
    http = client("sven")
    done = brought(http)
    assert (done["state"], done["result"]["new"], done["result"]["changed"]) == ("done", 24, 0)
    assert WorkOrder.get(WorkOrder.number == "N-60000").state == "approved"
    again = opened(http)
    assert again["saved"] == "North system"
    assert again["mapping"]["values"]["craft"] == GERMAN


def test_assets_areas_and_crafts_that_nobody_knows_are_listed_and_made_with_the_wos(client: Client) -> None:
    http = client("sven")
    text = "order;machine;machine name;zone;craft;hours;title\n"
    text += "".join(f"Y-{n};Q{n % 3};Press {n % 3};Hall {n % 2};Fettler;2;Grease it {n}\n" for n in range(9))
    one = http.post("/api/foreign", files={"file": ("halls.csv", text.encode())}).json()
    mapping = {**one["mapping"], "make": ["asset", "area", "craft"], "defaults": {"kind": "corrective"}}
    body = {"mapping": mapping, "decision": {}}
    told = http.post(f"/api/foreign/{one['id']}/preview", json={"mapping": mapping}).json()
    named = sorted((m["kind"], m["key"]) for m in told["made"])
    assert named == [
        ("area", "Hall 0"), ("area", "Hall 1"), ("asset", "Q0"), ("asset", "Q1"), ("asset", "Q2"),
        ("craft", "fettler"),
    ]  # fmt: skip
    assert http.post(f"/api/foreign/{one['id']}/difference", json=body).json()["made"] == told["made"]
    assert http.post(f"/api/foreign/{one['id']}/bring-in", json=body).status_code == 200
    done = http.get(f"/api/foreign/{one['id']}").json()
    assert (done["state"], done["result"]["new"], done["result"]["made"]) == ("done", 9, 6)
    asset = Asset.get(Asset.key == "Q1")
    assert (asset.name, asset.area.key) == ("Press 1", "Hall 1")
    again = http.post("/api/foreign", files={"file": ("halls.csv", text.encode())}).json()
    told = http.post(f"/api/foreign/{again['id']}/preview", json={"mapping": mapping}).json()
    assert told["made"] == []


def test_the_same_export_again_changes_nothing(client: Client) -> None:
    http = client("sven")
    brought(http)
    before = standing_work({f"N-60{n:03}" for n in range(30)})
    found = difference(http, later=False)
    assert (found["new_count"], found["changed_count"], found["unchanged"], found["vanished_count"]) == (
        0,
        0,
        24,
        0,
    )
    assert brought(http)["result"]["changed"] == 0
    assert standing_work({f"N-60{n:03}" for n in range(30)}) == before


def test_a_week_later_new_changed_and_vanished_wos_are_told_field_by_field(client: Client) -> None:
    http = client("sven")
    brought(http)
    found = difference(http, later=True)
    assert (found["new_count"], found["vanished_count"]) == (6, 2)
    assert {w["number"] for w in found["vanished"]} == {"N-60002", "N-60005"}
    lines = {(d["number"], line["what"]) for d in found["changed"] for line in d["lines"]}
    assert any(what.startswith("hours of task") for _, what in lines)
    assert any(what == "due" for _, what in lines)
    assert {f["name"] for f in found["fields"]} == {"hours", "due"}


def test_what_was_changed_here_stays_unless_theirs_is_chosen(client: Client) -> None:
    http = client("sven")
    brought(http)
    both = difference(http, later=True)["changed"][0]["number"]
    order = WorkOrder.get(WorkOrder.number == both)
    task = Task.select().where(Task.work_order == order).order_by(Task.id).first()
    here_only = WorkOrder.get(WorkOrder.number == "N-60001")
    WorkOrder.update(title="Changed here").where(WorkOrder.id == here_only.id).execute()
    Task.update(hours=7.0).where(Task.id == task.id).execute()
    WorkOrder.update(due=None).where(WorkOrder.id == order.id).execute()
    found = difference(http, later=True)
    assert found["both"] >= 1
    assert found["kept"] >= 1
    brought(http, later=True, both="ours")
    assert WorkOrder.get(WorkOrder.number == "N-60001").title == "Changed here"
    assert Task.get_by_id(task.id).hours == 7.0
    assert difference(http, later=True)["both"] == 0, "it is asked about again only when they change it again"


def test_theirs_is_taken_where_that_was_chosen(client: Client) -> None:
    http = client("sven")
    brought(http)
    change = next(d for d in difference(http, later=True)["changed"] if d["lines"][0]["field"] == "hours")
    task = Task.select().join(WorkOrder).where(WorkOrder.number == change["number"]).order_by(Task.id).first()
    Task.update(hours=7.0).where(Task.id == task.id).execute()
    brought(http, later=True, both="theirs")
    assert f"{Task.get_by_id(task.id).hours:g} h" == change["lines"][0]["after"]


def test_vanished_wos_become_what_was_decided_and_a_field_can_be_left_out(client: Client) -> None:
    http = client("sven")
    brought(http)
    before = standing_work({f"N-60{n:03}" for n in range(24)})[0]
    brought(http, later=True, vanished="on hold", fields=["due"], new=False)
    assert WorkOrder.get(WorkOrder.number == "N-60002").state == "on hold"
    assert WorkOrder.get_or_none(WorkOrder.number == "N-60029") is None
    after = standing_work({f"N-60{n:03}" for n in range(24)})[0]
    assert {n: o["due"] for n, o in after.items()} == {n: o["due"] for n, o in before.items()}


def test_placed_work_that_changed_is_marked_and_not_moved(client: Client) -> None:
    http = client("sven")
    brought(http)
    change = difference(http, later=True)["changed"][0]
    week = Week(http)
    week.edit(kind="put", jobs=[change["number"]], day=None)
    before = week.get(f"/jobs/{change['number']}")["placements"]
    assert (
        next(d for d in difference(http, later=True)["changed"] if d["number"] == change["number"])["week"]
        == WEEK
    )
    assert brought(http, later=True)["result"]["marked"] == 1
    job = week.get(f"/jobs/{change['number']}")
    assert [(p["task"], p["day"], p["start"]) for p in job["placements"]] == [
        (p["task"], p["day"], p["start"]) for p in before
    ]
    assert [(c["what"], c["after"]) for c in job["changes"]] == [
        (c["what"], c["after"]) for c in change["lines"]
    ]
    assert week.get()["changed_jobs"] == [change["number"]]
    assert http.post(f"/api/foreign/marks/{change['number']}/seen").status_code == 204
    assert week.get()["changed_jobs"] == []


def test_nothing_comes_in_while_a_date_can_be_read_in_two_ways(client: Client) -> None:
    http = client("sven")
    one = opened(http, "middle-open-work.xlsx")
    answer = http.post(f"/api/foreign/{one['id']}/bring-in", json={"mapping": one["mapping"]})
    assert answer.status_code == 422
    assert "first in dates" in answer.json()["title"]
    assert not WorkOrder.select().where(WorkOrder.number == "7004000").exists()


def test_rows_that_are_not_understood_refuse_all_unless_their_wos_are_left_out(client: Client) -> None:
    http = client("sven")
    one = opened(http)
    mapping = {**one["mapping"], "values": {"craft": {k: v for k, v in GERMAN.items() if k != "Schweissen"}}}
    refused = http.post(f"/api/foreign/{one['id']}/bring-in", json={"mapping": mapping})
    assert "not understood" in refused.json()["title"]
    assert not WorkOrder.select().where(WorkOrder.number == "N-60001").exists()
    done = http.post(
        f"/api/foreign/{one['id']}/bring-in",
        json={"mapping": mapping, "decision": {"without_bad_rows": True}},
    )
    assert done.status_code == 200
    assert http.get(f"/api/foreign/{one['id']}").json()["result"]["new"] == 24 - len(
        {p.number for p in files.read(Bringing.get_by_id(one["id"]), files.mapping_of(mapping)).problems}
    )


def test_stopping_in_the_middle_leaves_everything_as_it_was(
    client: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    http = client("sven")
    count = WorkOrder.select().count()

    def written(*_: object) -> None:
        raise Stopped

    monkeypatch.setattr(bring_in, "_write", written)
    assert brought(http)["state"] == "stopped"
    assert WorkOrder.select().count() == count


def test_a_file_belongs_to_whoever_opened_it_and_readers_may_open_none(client: Client) -> None:
    one = opened(client("sven"))
    assert client("mila").get(f"/api/foreign/{one['id']}").status_code == 404
    assert client("rene").post("/api/foreign", files={"file": ("x.csv", b"a,b\n1,2\n")}).status_code == 403


def test_work_made_by_hand_never_counts_as_vanished(client: Client) -> None:
    http = client("sven")
    brought(http)
    order = {"title": "By hand", "asset": "N1", "kind": "corrective"}
    task = {"task": "10", "title": "By hand", "hours": "1", "needs": "mech"}
    number = http.post("/api/orders", json={"order": order, "tasks": [task], "revision": None}).json()[
        "number"
    ]
    vanished = {w["number"] for w in difference(http, later=True)["vanished"]}
    assert vanished == {"N-60002", "N-60005"}
    assert number not in vanished


def test_a_mapping_is_known_again_for_a_table_with_columns_that_it_does_not_use(client: Client) -> None:
    http = client("sven")
    lines = ["Job No,Summary,Where,Hours,Trade,Colour", "A1,Mend gate,N1,2,mech,blue"]
    text = "\n".join(lines).encode()
    one = http.post("/api/foreign", files={"file": ("x.csv", text)}).json()
    assert "Colour" not in one["mapping"]["columns"].values()
    http.post(f"/api/foreign/{one['id']}/bring-in", json={"mapping": {**one["mapping"], "name": "Gates"}})
    assert http.get(f"/api/foreign/{one['id']}").json()["state"] == "done"
    assert http.post("/api/foreign", files={"file": ("x.csv", text)}).json()["saved"] == "Gates"


def test_how_far_it_is_can_be_seen_and_it_can_be_stopped_while_it_runs(
    client: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The worker's own watch hears of the stop on a connection beside the transaction."""
    http = client("sven")
    count, write = WorkOrder.select().count(), bring_in._write
    seen: list[float] = []

    def slowly(*given: Any) -> None:
        write(*given)
        step: Callable[[float], None] = given[-1]
        id_ = Bringing.select(fn.MAX(Bringing.id)).scalar()
        for _ in range(100):
            seen.append(http.get(f"/api/foreign/{id_}").json()["progress"])
            if seen[-1] > 0.2:
                break
            time.sleep(0.1)
        assert http.post(f"/api/foreign/{id_}/stop").status_code == 200
        for _ in range(100):
            time.sleep(0.1)
            step(0.8)

    monkeypatch.setattr(bring_in, "_write", slowly)
    assert brought(http)["state"] == "stopped"
    assert seen[-1] > 0.2
    assert WorkOrder.select().count() == count


def test_what_was_on_its_way_in_when_nundine_ended_is_told(client: Client) -> None:
    http = client("sven")
    one = opened(http)
    runs.begin(bring_in.KIND, f"file {one['id']}", "a file", None, {})
    Run.update(state="running").execute()
    assert http.get(f"/api/foreign/{one['id']}").json()["state"] == "working"
    runs.cut_off()
    found = http.get(f"/api/foreign/{one['id']}").json()
    assert (found["state"], found["error"]) == ("failed", runs.CUT_OFF)


def test_what_a_list_did_not_say_is_shown_as_guessed_until_somebody_says_it(client: Client) -> None:
    http = client("sven")
    asset = http.get("/api/orders/choices").json()["assets"][0]["key"]

    def bring(*rows: str) -> str:
        text = "\n".join(("DAY;PLACE;TEXT", *rows)).encode()
        one = http.post("/api/foreign", files={"file": ("list.csv", text)}).json()
        mapping = {
            **one["mapping"],
            "name": "A thin list",
            "columns": {"raised": "DAY", "asset": "PLACE", "title": "TEXT"},
            "dates": "dmy",
            "defaults": {"kind": "corrective", "craft": "mech", "hours": "2"},
        }
        answer = http.post(f"/api/foreign/{one['id']}/bring-in", json={"mapping": mapping, "decision": {}})
        assert answer.status_code == 200, answer.text
        told = http.post(f"/api/foreign/{one['id']}/preview", json={"mapping": mapping}).json()
        return told["rows"][0]["number"]

    number = bring(f"03.11.2026;{asset};GREASE THE SPARE GRIP")
    job = http.get(f"/api/weeks/{WEEK}/jobs/{number}").json()
    assert (job["guessed"], job["tasks"][0]["hours"]) == (["craft", "hours", "kind"], 2.0)
    form = http.get(f"/api/orders/{number}").json()
    changed = {
        "order": {**form["order"], "kind": "preventive"},
        "tasks": [{**form["tasks"][0], "hours": "1.5"}],
        "revision": form["revision"],
    }
    client("mila")
    assert client("mila").post("/api/orders", json=changed).status_code == 200
    assert http.get(f"/api/weeks/{WEEK}/jobs/{number}").json()["guessed"] == ["craft"]
    assert bring(f"03.11.2026;{asset};GREASE THE SPARE GRIP", f"04.11.2026;{asset};NEW") == number
    kept = http.get(f"/api/weeks/{WEEK}/jobs/{number}").json()
    assert (kept["guessed"], kept["kind"], kept["tasks"][0]["hours"]) == (["craft"], "preventive", 1.5)
