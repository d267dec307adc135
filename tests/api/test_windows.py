"""Run and work windows by hand, by schedulers and by operations for their areas."""

from __future__ import annotations

from datetime import datetime, timedelta
from itertools import pairwise

import pytest

from tests.api.conftest import Client, Week, answers_for
from tests.conftest import WEEK


def limited(week: Week) -> tuple[dict, dict]:
    """An asset with work in a work window, its own or one from above, and that window."""
    for a in week.get("/agree")["assets"]:
        for w in a["windows"]:
            inside = [
                p
                for p in a["placements"]
                if p["asset_state"] == "stopped" and p["start"] and w["start"] <= p["start"] < w["end"]
            ]
            if w["kind"] == "work" and inside:
                return a, w
    raise AssertionError("no work in a window")


def send(week: Week, w: dict, path: str = "", **change: object):
    form = {
        "asset": w["asset"],
        "kind": w["kind"],
        "was": w["start"],
        "start": None,
        "end": None,
        "seen": week.get()["edits"],
        **change,
    }
    return week.http.post(f"{week.base}/windows{path}", json=form)


def test_what_a_lost_window_hits_is_told_before_and_shown_after(built: Week) -> None:
    _, w = limited(built)
    before = {c["text"] for c in built.get()["conflicts"]}
    told = send(built, w, "/hits").json()
    assert told["hit"] and not told["mended"]
    assert {c["text"] for c in built.get()["conflicts"]} == before
    assert send(built, w).status_code == 200
    after = {c["text"] for c in built.get()["conflicts"]}
    assert after - before == {c["text"] for c in told["hit"]}
    built.edit(kind="undo")
    assert {c["text"] for c in built.get()["conflicts"]} == before


def test_a_window_drawn_is_there_and_can_be_made_shorter(built: Week) -> None:
    asset, w = limited(built)
    assert send(built, w).status_code == 200
    again = send(built, w, was=None, start=w["start"], end=w["end"])
    assert again.status_code == 200, again.text
    assert not [c for c in built.get()["conflicts"] if c["code"] == "window"]
    shorter = (datetime.fromisoformat(w["end"]) - timedelta(minutes=30)).isoformat()
    assert send(built, w, start=w["start"], end=shorter).status_code == 200
    found = next(a for a in built.get("/agree")["assets"] if a["key"] == asset["key"])
    assert [x["end"] for x in found["windows"] if x["start"] == w["start"] and x["kind"] == w["kind"]] == [
        shorter
    ]


def test_a_window_that_is_there_already_or_lies_in_no_hours_of_the_week_is_refused(built: Week) -> None:
    _, w = limited(built)
    assert send(built, w, was=None, start=w["start"], end=w["end"]).json()["code"] == "overlaps"
    assert (
        send(built, w, start="2027-03-01T08:00:00+01:00", end="2027-03-01T12:00:00+01:00").json()["code"]
        == "week"
    )
    assert send(built, w, start=w["end"], end=w["start"]).json()["code"] == "length"


def test_a_work_window_on_an_asset_that_is_always_free_is_refused(built: Week) -> None:
    free = next(a for a in built.get("/agree")["assets"] if not a["limited"])
    form = {
        "asset": free["key"],
        "kind": "work",
        "start": "2026-12-01T08:00:00+01:00",
        "end": "2026-12-01T12:00:00+01:00",
        "seen": 10**6,
    }
    assert built.http.post(f"{built.base}/windows", json=form).json()["code"] == "not limited"


def test_operations_draw_for_their_areas_alone_and_what_they_draw_is_agreed(
    client: Client, built: Week
) -> None:
    asset, w = limited(built)
    areas = [a["key"] for a in built.get()["areas"]]
    other = next(a for a in areas if a != asset["area"])
    ada, operations = client("ada"), Week(client("olivia"))
    assert ada.put("/api/accounts/olivia", json=answers_for([other])).status_code == 200
    refused = send(operations, w)
    assert (refused.status_code, refused.json()["code"]) == (403, "area")
    said = {
        "asset": w["asset"],
        "kind": w["kind"],
        "start": w["start"],
        "said": "agreed",
        "remark": "",
        "seen": 10**6,
    }
    assert operations.http.post(f"/api/weeks/{WEEK}/window-answers", json=said).status_code == 403
    ada.put("/api/accounts/olivia", json=answers_for([asset["area"]]))
    assert send(operations, w).status_code == 200
    assert send(operations, w, was=None, start=w["start"], end=w["end"]).status_code == 200
    found = next(a for a in built.get("/agree")["assets"] if a["key"] == asset["key"])
    again = next(x for x in found["windows"] if x["start"] == w["start"])
    assert again["answer"] == "agreed"
    assert again["answer_by"].startswith("Olivia")


@pytest.mark.parametrize("name", ["karl", "rene"])
def test_supervisors_and_readers_draw_no_windows(client: Client, name: str) -> None:
    form = {
        "asset": "N1",
        "kind": "run",
        "start": "2026-12-01T08:00:00+01:00",
        "end": "2026-12-01T12:00:00+01:00",
        "seen": 0,
    }
    assert client(name).post(f"/api/weeks/{WEEK}/windows", json=form).status_code == 403


def test_a_window_that_contradicts_another_of_its_line_of_assets_is_refused_by_name(built: Week) -> None:
    asset, w = limited(built)
    line = [a["key"] for a in asset["line"]]
    kinds = {"work": "run", "run": "work"}
    for key in line:
        refused = send(
            built, {**w, "asset": key}, was=None, kind=kinds[w["kind"]], start=w["start"], end=w["end"]
        )
        assert (refused.status_code, refused.json()["code"]) == (422, "overlaps"), key
        assert "is free for work" in refused.json()["title"]
    later = [x for x in asset["windows"] if x["start"] >= w["end"] and x["kind"] != w["kind"]]
    other = min(later, key=lambda x: x["start"])
    into = send(built, w, start=w["start"], end=other["end"])
    assert into.json()["code"] == "overlaps", "nor may it be made longer into one"


def test_before_a_build_operations_see_the_assets_on_which_work_waits(client: Client) -> None:
    olivia = Week(client("olivia"))
    assets = olivia.get("/agree")["assets"]
    assert not any(a["placements"] for a in assets)
    waiting = [a for a in assets if a["waiting"]["jobs"]]
    assert waiting and all(a["waiting"]["hours"] > 0 for a in waiting)
    assert any(a["windows"] and not a["waiting"]["jobs"] for a in assets), "and those that have windows alone"
    ready = olivia.get("/backlog", ready=True, size=1)["total"]
    assert ready <= sum(a["waiting"]["jobs"] for a in assets)


def test_the_demo_has_no_windows_that_contradict_each_other(week: Week) -> None:
    for asset in week.get("/agree")["assets"]:
        windows = sorted(asset["windows"], key=lambda w: datetime.fromisoformat(w["start"]))
        for a, b in pairwise(windows):
            assert datetime.fromisoformat(a["end"]) <= datetime.fromisoformat(b["start"]), asset["key"]
