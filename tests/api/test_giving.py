"""Work given away in selections, days away in one gesture, a job put in at a time, reports of many tasks."""

from __future__ import annotations

import pytest

from tests.api.conftest import Week
from tests.api.test_people import day_of, worker

WEDNESDAY, FRIDAY = "2026-12-02", "2026-12-04"


def placed(week: Week, person: str) -> list[dict]:
    row = next(p for p in week.get("/crew")["people"] if p["key"] == person)
    return [w for d in row["days"] for w in d["work"]]


def mechanics(week: Week, area: str | None = None) -> list[dict]:
    people = week.get("/crew")["people"]
    return [p for p in people if p["craft"] == "mech" and area in (None, p["area"])]


@pytest.mark.long
def test_a_selection_goes_to_a_crew_as_the_preview_said_and_comes_back_with_one_undo(built: Week) -> None:
    one = max(mechanics(built), key=lambda p: len(placed(built, p["key"])))
    jobs = sorted({w["job"] for w in placed(built, one["key"])})
    before = built.get("/crew")
    built.edit(kind="free day", person=one["key"], day="2026-11-30", last="2026-12-06")
    assert placed(built, one["key"]) == []
    form = {"jobs": jobs, "crew": one["crew"]}
    told = built.http.post(f"{built.base}/giving", json=form).json()
    assert told["seats"] > 0 and told["breaks"] == []
    for taker in told["takers"]:
        for day in taker["days"]:
            assert day["after"] <= day["there"] + 0.01
    built.edit(kind="give all", **form)
    loads = {t["person"]: {d["day"]: d["after"] for d in t["days"]} for t in told["takers"]}
    for who, days in loads.items():
        for day, load in days.items():
            found = day_of(built, who, day)
            assert found["hours"] - found["free"] == pytest.approx(load)
    built.edit(kind="undo")
    built.edit(kind="undo")
    assert built.get("/crew") == before


def test_what_one_person_can_not_take_stays_and_is_told_with_its_reason(built: Week) -> None:
    one, other = mechanics(built)[:2]
    jobs = sorted({w["job"] for w in placed(built, other["key"])})
    form = {"jobs": jobs, "person": one["key"]}
    told = built.http.post(f"{built.base}/giving", json=form).json()
    answer = built.send(kind="give all", **form)
    if told["seats"] == 0:
        assert answer.status_code == 422 and answer.json()["code"] == "cannot take"
    else:
        notes = answer.json()["notes"]
        assert len(notes) == len(told["left"])
        assert all(" stays: " in n for n in notes)


def test_giving_needs_one_taker_and_work_of_this_week(built: Week) -> None:
    assert built.send(kind="give all", jobs=["WO-1"]).json()["code"] == "taker"
    nothing = built.send(kind="give all", jobs=["WO-none"], person=mechanics(built)[0]["key"])
    assert nothing.json()["code"] == "nothing"


def test_days_away_in_one_gesture_reach_from_the_first_shift_to_the_last_and_are_taken_back_from_a_day_on(
    built: Week,
) -> None:
    one = worker(built, WEDNESDAY)
    shifts = [d for d in ("2026-12-02", "2026-12-03", "2026-12-04") if day_of(built, one["key"], d)["shifts"]]
    built.edit(kind="absence", person=one["key"], day=WEDNESDAY, reason="leave", last=FRIDAY)
    assert all(day_of(built, one["key"], d)["hours"] == 0 for d in shifts)
    assert day_of(built, one["key"], "2026-12-01")["absence"] is None
    assert all(day_of(built, one["key"], d)["absence"] == "leave" for d in shifts)
    built.edit(kind="back", person=one["key"], day=FRIDAY)
    assert day_of(built, one["key"], FRIDAY)["absence"] is None
    assert day_of(built, one["key"], WEDNESDAY)["absence"] == "leave"


def test_days_away_begin_and_end_at_a_clock_and_may_reach_into_the_week_after(built: Week) -> None:
    one = worker(built, FRIDAY)
    was = day_of(built, one["key"], FRIDAY)
    form = {"kind": "absence", "person": one["key"], "reason": "training"}
    built.edit(**form, day=FRIDAY, start="11:00", last="2026-12-09", end="09:00")
    there = day_of(built, one["key"], FRIDAY)
    assert 0 < there["hours"] < was["hours"]
    after = Week(built.http, "2026-W50")
    assert day_of(after, one["key"], "2026-12-08")["hours"] == 0
    wednesday = day_of(after, one["key"], "2026-12-09")
    assert all(s["start"][11:16] >= "09:00" for s in wednesday["shifts"])


def test_two_reasons_in_one_day_are_both_named(built: Week) -> None:
    one = worker(built, WEDNESDAY)
    start = day_of(built, one["key"], WEDNESDAY)["shifts"][0]["start"][11:16]
    form = {"kind": "absence", "person": one["key"], "day": WEDNESDAY}
    built.edit(**form, reason="training", start=start, end="10:00")
    built.edit(**form, reason="sick", start="12:00")
    told = [h["note"] for h in day_of(built, one["key"], WEDNESDAY)["by_hand"]]
    assert told == ["training", "sick"]


def test_a_job_goes_in_on_a_day_at_a_time(week: Week) -> None:
    page = week.get("/backlog", ready=True, placed=False, kind="corrective", size=5)
    number = page["rows"][0]["number"]
    week.edit(kind="put", jobs=[number], day=WEDNESDAY, clock="10:15")
    job = week.get(f"/jobs/{number}")
    first = min(job["placements"], key=lambda p: p["start"] or "9")
    assert first["start"].startswith(f"{WEDNESDAY}T10:15")
    refused = week.send(kind="put", jobs=[number], clock="10:15")
    assert refused.status_code == 422


def test_many_tasks_are_reported_with_hours_by_person_final_or_in_part_in_one_command(
    published: Week,
) -> None:
    tasks = [t for t in published.get("/review")["tasks"] if t["task"] == "10" and t["seats"]][:3]
    people = [s["person"] for s in tasks[0]["seats"] if s["person"]]
    rows = [
        {"job": tasks[0]["job"], "task": "10", "to": "done", "hours_by": dict.fromkeys(people, 1.5)},
        {"job": tasks[1]["job"], "task": "10", "to": "under way", "hours_left": 2.0},
        {"job": tasks[2]["job"], "task": "10", "to": "not done", "reason": "part missing"},
    ]
    form = {"rows": rows, "seen": 10**6}
    answer = published.http.post(f"{published.base}/reports", json=form)
    assert answer.status_code == 200, answer.text
    found = {t["job"]: t for t in published.get("/review")["tasks"] if t["task"] == "10"}
    done = found[tasks[0]["job"]]
    assert (done["state"], done["hours_by"]) == ("done", dict.fromkeys(people, 1.5))
    assert done["hours_spent"] == pytest.approx(1.5 * len(people) / len(tasks[0]["seats"]))
    assert found[tasks[1]["job"]]["hours_left"] == 2.0
    assert found[tasks[2]["job"]]["reason"] == "part missing"
    published.edit(kind="undo")
    assert {t["state"] for t in published.get("/review")["tasks"] if t["job"] in found} <= {"to do"}


def test_tasks_that_follow_one_another_are_reported_done_together(published: Week) -> None:
    tasks = [t for t in published.get("/review")["tasks"] if t["state"] == "to do"]
    job = next(t["job"] for t in tasks if t["task"] == "20")
    of_it = sorted({t["task"] for t in tasks if t["job"] == job})
    rows = [{"job": job, "task": n, "to": "done" if n == "10" else "under way"} for n in of_it[:2]]
    answer = published.http.post(f"{published.base}/reports", json={"rows": rows, "seen": 10**6})
    assert answer.status_code == 200, answer.text


def test_a_job_moves_into_the_week_before_when_a_day_of_it_is_chosen(built: Week) -> None:
    after = Week(built.http, "2026-W50")
    jobs = [j["job"] for j in built.get("/tanks/mech/2026-12-01")["jobs"] if not j["pinned"]]
    built.edit(kind="next week", jobs=[jobs[0]], day="2026-12-08")
    after.edit(kind="next week", jobs=[jobs[0]], day=FRIDAY)
    days = {p["day"] for p in built.get(f"/jobs/{jobs[0]}")["placements"]}
    assert days and max(days) >= FRIDAY
