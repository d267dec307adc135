"""A week is closed, what is left of it is carried over, and a closed week can only be read."""

from __future__ import annotations

import pytest

from nundine.core.metrics import break_in_share, remaining_hours
from nundine.store.week import Closing
from nundine.store.work_order import CrewNeed, Task, WorkOrder
from tests.api.conftest import Client, Week
from tests.conftest import WEEK

NEXT = "2026-W50"


def hours_left(numbers: set[str]) -> dict[str, float]:
    """Work hours to do, and spent on what was begun, by WO."""
    out: dict[str, float] = {}
    for t in (
        Task.select(Task, WorkOrder.number.alias("job"))
        .join(WorkOrder)
        .where(WorkOrder.number.in_(numbers))
        .dicts()
    ):
        people = sum(n.people for n in CrewNeed.select().where(CrewNeed.task == t["id"]))
        if t["state"] in ("to do", "under way"):
            left = (
                remaining_hours(t["hours"], t["hours_spent"], t["hours_left"])
                if t["hours_spent"] or t["hours_left"]
                else t["hours"]
            )
            out[t["job"]] = out.get(t["job"], 0.0) + people * left
    return out


@pytest.fixture
def week(client: Client) -> Week:
    """A published week of eight jobs: one done, one begun, the rest not."""
    week = Week(client("sven"))
    rows = week.get("/backlog", ready=True, size=8)["rows"]
    week.edit(kind="put", jobs=[r["number"] for r in rows], day=None)
    week.edit(kind="status", to="agreed")
    assert week.http.post(f"{week.base}/revisions").status_code == 200
    week.jobs = [r["number"] for r in rows]
    for t in week.get(f"/jobs/{week.jobs[0]}")["tasks"]:
        report(week, week.jobs[0], t["number"], "done", t["hours"])
    first = week.get(f"/jobs/{week.jobs[1]}")["tasks"][0]
    report(week, week.jobs[1], first["number"], "under way", first["hours"] / 2)
    return week


def report(week: Week, job: str, task: str, to: str, spent: float) -> None:
    form = {"tasks": [[job, task]], "to": to, "hours_spent": spent, "hours_left": None, "seen": 10**6}
    answer = week.http.post(f"{week.base}/progress", json=form)
    assert answer.status_code == 200, answer.text


def close(week: Week, **form: object) -> object:
    return week.http.post(f"{week.base}/closing", json={"why": {}, "into_next": [], **form})


def test_before_closing_the_unfinished_are_listed_with_the_hours_that_remain(week: Week) -> None:
    found = week.get("/closing")
    assert found["next_week"] == NEXT
    assert {r["number"] for r in found["unfinished"]} == set(week.jobs[1:])
    assert {r["number"]: r["hours"] for r in found["unfinished"]} == pytest.approx(
        hours_left(set(week.jobs[1:]))
    )
    assert next(r for r in found["unfinished"] if r["number"] == week.jobs[1])["begun"]


def test_closing_and_carry_over_keep_the_sum_of_hours(week: Week) -> None:
    before = hours_left(set(week.jobs))
    made = close(week, into_next=week.jobs[1:4], why={week.jobs[1]: "part missing"})
    assert made.status_code == 200, made.text
    assert made.json() == {"carried": 3, "back": 4, "next_week": NEXT}
    assert hours_left(set(week.jobs)) == pytest.approx(before)
    after = Week(week.http, NEXT)
    placed = [after.get(f"/jobs/{n}") for n in week.jobs[1:4]]
    assert all(j["placements"] for j in placed)
    assert [(h["week"], h["reason"], h["to"]) for h in placed[0]["history"]] == [
        (WEEK, "part missing", "next week")
    ]
    assert [h["to"] for h in after.get(f"/jobs/{week.jobs[5]}")["history"]] == ["backlog"]
    assert after.get(f"/jobs/{week.jobs[0]}")["history"] == []
    assert placed[0]["tasks"][0]["hours_left"] == pytest.approx(placed[0]["tasks"][0]["hours"] / 2)


def test_what_is_not_carried_is_in_the_backlog_again(week: Week) -> None:
    after = Week(week.http, NEXT)
    there = {r["number"] for r in after.get("/backlog", ready=True, size=200)["rows"]}
    assert not there & set(week.jobs), "what stands in an open week is not offered to another one"
    assert next(r for r in after.get("/backlog", search=week.jobs[5])["rows"])["elsewhere"] == WEEK
    close(week)
    there = {r["number"] for r in after.get("/backlog", ready=True, size=200)["rows"]}
    assert there >= set(week.jobs[2:])
    assert week.jobs[0] not in there


def test_a_build_of_next_week_takes_nothing_that_stands_in_this_one(week: Week) -> None:
    after = Week(week.http, NEXT)
    after.build(seconds=0.5)
    assert not {p["job"] for p in after.get("/crew")["people"] for d in p["days"] for p in d["work"]} & set(
        week.jobs
    )


def test_a_closed_week_can_only_be_read(week: Week) -> None:
    close(week)
    assert week.get()["status"] == "closed"
    answer = week.http.post(
        f"{week.base}/edits",
        json={"edit": {"kind": "take out", "jobs": [week.jobs[2]], "next_week": False}, "seen": 10**6},
    )
    assert (answer.status_code, answer.json()["code"]) == (422, "closed")
    undo = week.http.post(f"{week.base}/edits", json={"edit": {"kind": "undo"}, "seen": 10**6})
    assert (undo.status_code, undo.json()["code"]) == (422, "closed")
    assert close(week).status_code == 422
    assert week.get()["status"] == "closed"


def test_the_review_of_a_closed_week_stays_as_it_was(week: Week) -> None:
    close(week, into_next=[week.jobs[2]], why={week.jobs[2]: "person missing"})
    before = week.get("/review")
    after = Week(week.http, NEXT)
    for t in after.get(f"/jobs/{week.jobs[2]}")["tasks"]:
        report(after, week.jobs[2], t["number"], "done", 1.0)
    assert week.get("/review") == before
    assert before["compliance"]["jobs_done"] == 1
    told = {r["number"]: (r["reason"], r["to"]) for r in before["closing"]["unfinished"]}
    assert told[week.jobs[2]] == ("person missing", "next week")
    assert told[week.jobs[3]] == ("other", "backlog")
    assert all(c["weeks"] is not None for c in before["closing"]["backlog"]["before"])


def test_a_week_is_closed_only_when_published_and_with_known_reasons(client: Client, week: Week) -> None:
    assert close(week, why={week.jobs[2]: "the cat"}).status_code == 422
    assert close(week, into_next=["WO-NONE"]).status_code == 422
    assert (
        Week(week.http, NEXT)
        .http.post(f"/api/weeks/{NEXT}/closing", json={"why": {}, "into_next": []})
        .status_code
        == 422
    )
    assert (
        client("rene").post(f"/api/weeks/{WEEK}/closing", json={"why": {}, "into_next": []}).status_code
        == 403
    )
    assert not Closing.select().exists()


def test_hours_spent_against_hours_planned_are_counted_by_craft(week: Week) -> None:
    found = week.get("/review")["crafts"]
    assert found
    assert all(c["ratio"] == pytest.approx(1.0) for c in found)


def test_remaining_hours_and_break_in_share_by_hand() -> None:
    assert remaining_hours(4.0, 1.5, None) == 2.5
    assert remaining_hours(4.0, 5.0, None) == 0.25
    assert remaining_hours(4.0, 5.0, 2.0) == 2.0
    assert break_in_share(40.0, 10.0) == 0.25
    assert break_in_share(0.0, 0.0) is None
