"""A scheduler's week through the API, on a real database."""

from __future__ import annotations

import io
from datetime import datetime

import icalendar
import openpyxl
import pypdf
import pytest

from nundine.core.week.check import check
from nundine.core.week.files import read_plan, read_problem
from tests.api.conftest import Client, Week


def first_seat(week: Week) -> tuple[dict, dict, dict]:
    """A person, a day and a piece of work that the person holds on it."""
    for person in week.get("/crew")["people"]:
        for day in person["days"]:
            if day["work"] and day["work"][0]["seats"] == 1 and not day["absence"]:
                return person, day, day["work"][0]
    raise AssertionError("nobody has work")


def test_a_built_week_passes_the_independent_check_and_its_files_say_the_same(built: Week) -> None:
    problem, plan = read_problem(built.get("/problem.json")), read_plan(built.get("/plan.json"))
    checked = check(problem, plan.placements)
    assert not checked.errors
    assert not checked.conflicts
    assert checked.value == pytest.approx(plan.value)
    assert plan.value <= plan.bound + 1e-6
    assert built.get()["share"] == pytest.approx(plan.value / plan.bound, rel=1e-3)


@pytest.mark.long
def test_the_demo_world_has_jobs_left_out_for_every_different_reason(built: Week) -> None:
    found = set()
    last = built.get("/backlog", placed=False, size=30, sort="number", down=True)["rows"]
    waiting = built.get("/backlog", ready=False, size=30)["rows"]
    seals = built.get("/backlog", placed=False, search="Pump seal", size=30)["rows"]
    for row in last + waiting + seals:
        found |= {r["code"] for r in built.get(f"/jobs/{row['number']}/why")["reasons"]}
    assert {
        "nobody",
        "no window",
        "window too short",
        "too long",
        "not yet",
        "order",
        "tool",
        "hours",
        "nobody in the window",
    } <= found
    assert {"gate plan", "gate parts", "gate permit"} <= found


def test_the_first_plan_is_there_at_once_and_the_search_only_makes_it_better(week: Week) -> None:
    curve = week.build(seconds=2)["progress"]
    values = [p["value"] for p in curve]
    assert len(values) > 1
    assert values == sorted(values)


def test_a_move_changes_the_tanks_and_undo_and_redo_bring_them_back_and_forth(built: Week) -> None:
    before = built.get()
    tank = next(t for t in before["tanks"] if t["jobs"] > 2 and t["day"] == before["days"][0])
    job = next(j for j in built.get(f"/tanks/{tank['row']}/{tank['day']}")["jobs"] if not j["pinned"])
    after = built.edit(kind="move", keys=job["keys"], day=before["days"][3])
    moved = [
        p["day"]
        for p in built.get(f"/jobs/{job['job']}")["placements"]
        if [job["job"], p["task"], p["portion"]] in job["keys"]
    ]
    assert set(moved) == {before["days"][3]}
    assert after["tanks"] != before["tanks"]
    assert built.edit(kind="undo")["tanks"] == before["tanks"]
    assert built.edit(kind="redo")["tanks"] == after["tanks"]
    assert built.edit(kind="undo")["tanks"] == before["tanks"]


@pytest.mark.long
def test_hand_work_and_pins_stay_through_a_rebuild_of_the_week(built: Week) -> None:
    rows = built.get("/backlog", placed=True, size=50)["rows"]
    pinned, taken = rows[0]["number"], rows[1]["number"]
    keys = [[pinned, p["task"], p["portion"]] for p in built.get(f"/jobs/{pinned}")["placements"]]
    built.edit(kind="pin", keys=keys, on=True)
    built.edit(kind="next week", jobs=[taken], day=None)
    before = built.get(f"/jobs/{pinned}")["placements"]
    built.build()
    assert built.get(f"/jobs/{pinned}")["placements"] == before
    assert built.get(f"/jobs/{taken}")["placements"] == []
    assert built.send(kind="take out", jobs=[pinned]).json()["code"] == "pinned"


def test_a_build_of_one_craft_leaves_all_other_jobs_where_they_are(built: Week) -> None:
    before = {(p["job"], p["task"]): p for p in built.get("/plan.json")["placements"]}
    changes = built.build(accept=False, crafts=["weld"])["changes"]
    touched = {*changes["added"], *changes["removed"], *(m["job"] for m in changes["moved"])}
    problem = read_problem(built.get("/problem.json"))
    assert all(any(n.craft == "weld" for t in problem.job_by_id[j].tasks for n in t.needs) for j in touched)
    assert before


def test_edits_made_while_a_build_ran_stay_when_it_is_accepted(client: Client, built: Week) -> None:
    sven, mila = built, Week(client("mila"))
    found = sven.build(seconds=1, accept=False)
    row = sven.get("/backlog", placed=True)["rows"][0]["number"]
    mila.edit(kind="take out", jobs=[row])
    accepted = sven.http.post(f"{sven.base}/builds/{found['id']}/accept")
    assert accepted.status_code == 200
    assert sven.get(f"/jobs/{row}")["placements"] == []
    problem, plan = read_problem(sven.get("/problem.json")), read_plan(sven.get("/plan.json"))
    assert not check(problem, plan.placements).conflicts


def test_a_stale_edit_of_the_same_job_is_refused_with_who_and_what_and_one_of_another_job_is_not(
    client: Client, built: Week
) -> None:
    sven, mila = built, Week(client("mila"))
    seen = sven.get()["edits"]
    first, second = (r["number"] for r in sven.get("/backlog", placed=True, size=2)["rows"])
    mila.edit(kind="take out", jobs=[first])
    refused = sven.send(seen=seen, kind="take out", jobs=[first])
    assert refused.status_code in (404, 409)
    keys = [[second, p["task"], p["portion"]] for p in sven.get(f"/jobs/{second}")["placements"]]
    assert sven.send(seen=seen, kind="pin", keys=keys, on=True).status_code == 200
    mila_keys_stale = mila.send(seen=seen, kind="pin", keys=keys, on=False)
    assert mila_keys_stale.status_code == 409
    assert mila_keys_stale.json()["by"] == "Sven Ostrova"


def test_undo_takes_back_only_ones_own_and_says_what_stands_on_it(client: Client, built: Week) -> None:
    sven, mila = built, Week(client("mila"))
    row = sven.get("/backlog", placed=True)["rows"][0]["number"]
    keys = [[row, p["task"], p["portion"]] for p in sven.get(f"/jobs/{row}")["placements"]]
    assert mila.send(kind="undo").json()["code"] == "nothing"
    sven.edit(kind="pin", keys=keys, on=True)
    mila.edit(kind="pin", keys=keys, on=False)
    refused = sven.send(kind="undo")
    assert refused.status_code == 409
    assert "Mila Castellan" in refused.json()["title"]


def test_a_sick_day_shows_its_deficit_until_the_work_is_given_to_others_or_freed(built: Week) -> None:
    person, day, _ = first_seat(built)

    def now() -> dict:
        return next(
            d
            for p in built.get("/crew")["people"]
            if p["key"] == person["key"]
            for d in p["days"]
            if d["day"] == day["day"]
        )

    built.edit(kind="absence", person=person["key"], day=day["day"], reason="sick")
    sick = now()
    assert sick["absence"] == "sick"
    assert sick["hours"] == 0
    assert sick["free"] == pytest.approx(-sum(w["hours"] for w in day["work"]))
    assert sick["conflicts"]
    if built.send(kind="cover day", person=person["key"], day=day["day"]).status_code == 200:
        built.edit(kind="undo")
    built.edit(kind="free day", person=person["key"], day=day["day"])
    assert now()["free"] == 0
    assert built.get()["open_seats"] >= len(day["work"])
    built.edit(kind="undo")
    built.edit(kind="undo")
    assert now() == day


def test_a_seat_goes_to_who_can_take_it_best_first_and_never_to_who_can_not(built: Week) -> None:
    _, _, work = first_seat(built)
    key, seat = [work["job"], work["task"], work["portion"]], work["seat"]
    built.edit(kind="give", key=key, seat=seat, person=None)
    listed = built.get(f"/seats/{key[0]}/{key[1]}/{key[2]}/{seat}")
    assert listed[0]["fits"]
    assert [c["fits"] for c in listed] == sorted((c["fits"] for c in listed), reverse=True)
    built.edit(kind="give", key=key, seat=seat, person=listed[0]["person"])
    able = {c["person"] for c in listed}
    unable = next(p["key"] for p in built.get("/crew")["people"] if p["key"] not in able)
    assert built.send(kind="give", key=key, seat=seat, person=unable).json()["code"] == "cannot take"
    assert not built.get()["conflicts"]


def test_a_start_time_can_be_set_and_taken_off(built: Week) -> None:
    _, day, work = first_seat(built)
    key = [work["job"], work["task"], work["portion"]]
    built.edit(kind="start", key=key, clock=None)
    assert built.get()["without_time"] == 1
    built.edit(kind="start", key=key, clock=work["start"][11:16])
    found = next(p for p in built.get(f"/jobs/{work['job']}")["placements"] if p["task"] == work["task"])
    assert datetime.fromisoformat(found["start"]) == datetime.fromisoformat(work["start"])


def test_publishing_freezes_a_revision_and_later_edits_are_told_apart_from_it(built: Week) -> None:
    refused = built.http.post(f"{built.base}/revisions")
    assert refused.json()["code"] == "status"
    built.edit(kind="status", to="agreed")
    assert built.http.post(f"{built.base}/revisions").json()["revision"] == 1
    row = built.get("/backlog", placed=True)["rows"][0]["number"]
    built.edit(kind="take out", jobs=[row])
    now = built.get()
    assert (now["status"], now["changed_since"]) == ("published", True)
    changes = built.get("/revisions/0/changes")
    assert {line["job"] for line in changes["removed"]} == {row}
    assert not changes["added"]


@pytest.mark.long
def test_what_is_handed_out_says_what_the_week_says(built: Week) -> None:
    person, _, _ = first_seat(built)
    work = [w for d in person["days"] for w in d["work"]]
    pages = pypdf.PdfReader(
        io.BytesIO(built.http.get(f"{built.base}/sheets.pdf", params={"only": person["key"]}).content)
    ).pages
    text = "".join(p.extract_text() for p in pages)
    assert person["name"] in text
    assert all(w["job"] in text for w in work)
    events = icalendar.Calendar.from_ical(
        built.http.get(f"{built.base}/calendars/{person['key']}.ics").content
    ).walk("VEVENT")
    told = sorted((e["dtstart"].dt, e["dtend"].dt) for e in events)
    assert told == sorted(
        (datetime.fromisoformat(w["start"]), datetime.fromisoformat(w["end"])) for w in work
    )
    sheet = openpyxl.load_workbook(io.BytesIO(built.http.get(f"{built.base}/week.xlsx").content)).active
    rows = [r for r in sheet.iter_rows(min_row=2, values_only=True) if r[11] == person["key"]]
    assert sorted(r[0] for r in rows) == sorted(w["job"] for w in work)
    assert built.http.get(f"{built.base}/week.csv").content.count(b"\n") == sheet.max_row


def test_reported_work_counts_in_schedule_compliance_against_the_baseline(built: Week) -> None:
    built.edit(kind="status", to="agreed")
    built.http.post(f"{built.base}/revisions")
    tasks = built.get("/review")["tasks"]
    job = tasks[0]["job"]
    for t in {(t["job"], t["task"]): t for t in tasks if t["job"] == job}.values():
        form = {"tasks": [[job, t["task"]]], "to": "done", "hours_spent": 1.5, "seen": built.get()["edits"]}
        assert built.http.post(f"{built.base}/progress", json=form).status_code == 200
    found = built.get("/review")["compliance"]
    assert found["jobs_done"] == 1
    assert found["by_jobs"] == pytest.approx(1 / found["jobs"])
    assert 0 < found["by_hours"] < 1
    assert built.get(f"/jobs/{job}")["state"] == "done"


def test_operations_refusal_keeps_the_week_from_being_agreed(client: Client) -> None:
    week, operations = Week(client("sven")), Week(client("olivia"))
    week.build()
    asset = next(a for a in week.get("/agree")["assets"] if a["placements"])
    spot = asset["placements"][0]
    form = {
        "key": [spot["job"], spot["task"], spot["portion"]],
        "said": "refused",
        "remark": "Race day",
        "seen": week.get()["edits"],
    }
    assert operations.http.post(f"{week.base}/answers", json=form).status_code == 200
    answer = week.send(kind="status", to="agreed").json()
    assert (answer["code"], answer["guard"], answer["refused"]) == (
        "refused",
        "nothing refused",
        [spot["job"]],
    )
    (offered,) = week.get()["moves"]
    assert offered["to"] == "agreed" and spot["job"] in offered["why"]
    week.edit(kind="take out", jobs=[spot["job"]])
    assert week.edit(kind="status", to="agreed")["status"] == "agreed"


def test_a_week_that_is_no_week_and_a_job_that_is_no_job_are_not_found(week: Week) -> None:
    assert week.http.get("/api/weeks/2026-W60").status_code == 404
    assert week.http.get(f"{week.base}/jobs/WO-0").status_code == 404
    assert week.http.get(f"{week.base}/tanks/mech/2027-01-01").status_code == 404
    assert week.send(kind="put", jobs=["WO-0"]).json()["code"] == "work order"


def test_the_backlog_is_filtered_sorted_and_paged_by_the_server(week: Week) -> None:
    found = week.get("/backlog", search="gondola brake", size=200)
    assert found["total"] == len(found["rows"]) > 0
    assert all("brake" in r["title"].lower() and "gondola" in r["asset"].lower() for r in found["rows"])
    assert {r["area"] for r in week.get("/backlog", area="lake", size=200)["rows"]} == {"Lake side"}
    assert all("weld" in r["hours_by_craft"] for r in week.get("/backlog", craft="weld")["rows"])
    for sort in ("priority", "number", "hours", "raised", "title", "asset"):
        values = [r[sort] for r in week.get("/backlog", sort=sort, down=False, size=40)["rows"]]
        assert values == sorted(values, key=lambda v: v.lower() if isinstance(v, str) else v)
    due = [r["due"] for r in week.get("/backlog", sort="due", down=False, size=200, page=3)["rows"]]
    assert due == sorted(due, key=lambda d: (d is None, d))
    ready = week.get("/backlog", ready=True, size=1)["total"]
    assert ready == week.get("/backlog/summary")["ready"]
    assert ready + week.get("/backlog", ready=False, size=1)["total"] == week.get("/backlog/summary")["total"]
    assert week.http.get(f"{week.base}/backlog", params={"sort": "colour"}).json()["code"] == "sort"


def test_operations_answer_a_window_and_are_named_for_it(client: Client) -> None:
    scheduler, operations = Week(client("sven")), Week(client("olivia"))
    scheduler.build()

    def first_window() -> dict:
        return next(
            w for a in operations.get("/agree")["assets"] for w in a["windows"] if w["kind"] == "work"
        )

    w = first_window()
    form = {
        "asset": w["asset"],
        "kind": "work",
        "start": w["start"],
        "said": "refused",
        "remark": "Night race",
        "seen": operations.get()["edits"],
    }
    assert operations.http.post(f"{operations.base}/window-answers", json=form).status_code == 200
    told = first_window()
    assert (told["answer"], told["answer_by"], told["remark"]) == ("refused", "Olivia Thorne", "Night race")
    assert (
        operations.http.post(f"{operations.base}/window-answers", json={**form, "asset": "moon"}).json()[
            "code"
        ]
        == "asset"
    )
    never = {**form, "start": "2026-12-01T03:07:00+01:00"}
    assert operations.http.post(f"{operations.base}/window-answers", json=never).json()["code"] == "window"
