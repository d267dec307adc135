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
    """Closing a week whose hours lie ahead; what has no known reason was not finished for want of time."""
    left = {r["number"]: r["reason"] or "no time left" for r in week.get("/closing")["unfinished"]}
    body = {"into_next": [], "early": True, **form, "why": {**left, **form.get("why", {})}}
    return week.http.post(f"{week.base}/closing", json=body)


def test_before_closing_the_unfinished_are_listed_with_the_hours_that_remain(week: Week) -> None:
    found = week.get("/closing")
    assert found["next_week"] == NEXT
    assert {r["number"] for r in found["unfinished"]} == set(week.jobs[1:])
    told = {r["number"]: r["hours"] for r in found["unfinished"]}  # to two decimals
    assert told == pytest.approx(hours_left(set(week.jobs[1:])), abs=0.006)
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
        json={"edit": {"kind": "take out", "jobs": [week.jobs[2]]}, "seen": 10**6},
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
    assert told[week.jobs[3]] == ("no time left", "backlog")
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


def test_a_week_whose_hours_lie_ahead_is_not_closed_by_accident(week: Week) -> None:
    ahead = week.get("/closing")["ahead"]
    assert not ahead["begun"]
    assert ahead["hours_of_week"] == 168
    assert ahead["placements"] > 0 and ahead["work_hours"] > 0
    refused = close(week, early=False)
    assert (refused.status_code, refused.json()["code"]) == (422, "ahead")
    assert f"{ahead['placements']} placements" in refused.json()["title"]
    assert week.get()["status"] == "published"


def test_a_week_that_is_over_has_nothing_ahead(
    week: Week, monkeypatch: pytest.MonkeyPatch, client: Client
) -> None:
    monkeypatch.setenv("NUNDINE_TODAY", "2026-12-08")
    after = Week(client("sven"))
    assert after.get("/closing")["ahead"] is None
    assert close(after, early=False).status_code == 200


def test_each_unfinished_wo_needs_a_reason_and_those_that_are_known_are_filled_in(week: Week) -> None:
    number = week.jobs[4]
    placed = week.get(f"/jobs/{number}")["placements"][0]
    key = [number, placed["task"], placed["portion"]]
    crew = week.get("/crew")["people"]
    person = next(p["key"] for p in crew for d in p["days"] for w in d["work"] if w["job"] == number)
    week.edit(kind="absence", person=person, day=placed["day"], reason="sick")
    WorkOrder.update(parts_ready="2026-12-20").where(WorkOrder.number == week.jobs[5]).execute()
    answer = {
        "key": [week.jobs[6], *first_key(week, week.jobs[6])],
        "said": "refused",
        "remark": "",
        "seen": 10**6,
    }
    assert week.http.post(f"{week.base}/answers", json=answer).status_code == 200
    known = {r["number"]: r["reason"] for r in week.get("/closing")["unfinished"]}
    assert known[number] == "person missing", key
    assert known[week.jobs[5]] == "part missing"
    assert known[week.jobs[6]] == "asset not free"
    assert known[week.jobs[2]] is None
    without = week.http.post(f"{week.base}/closing", json={"why": {}, "into_next": [], "early": True})
    assert (without.status_code, without.json()["code"]) == (422, "without reason")
    assert week.jobs[2] in without.json()["jobs"]


def first_key(week: Week, number: str) -> list:
    p = week.get(f"/jobs/{number}")["placements"][0]
    return [p["task"], p["portion"]]


def test_published_work_that_a_break_in_pushed_out_is_listed_with_its_reason(published: Week) -> None:
    form = {
        "title": "Gearbox screams",
        "asset": "N1-1",
        "hours": 3,
        "craft": "veh",
        "people": 1,
        "urgency": "now",
    }
    for _ in range(40):
        number = published.http.post(f"{published.base}/break-ins", json=form).json()["number"]
        preview = published.http.post(f"{published.base}/mend", json={"put_in": [number]}).json()
        if not preview["not_in"]:
            published.edit(kind="mend", put_in=[number])
        if preview["left"]:
            break
    assert preview["left"], "vehicle mechanics are full: a break-in pushes something out"
    told = {r["number"]: r for r in published.get("/closing")["unfinished"]}
    for job in preview["left"]:
        assert (told[job]["reason"], told[job]["out"]) == ("other work came in", True)


def test_an_administrator_opens_a_closed_week_again_with_a_reason(week: Week, client: Client) -> None:
    assert close(week, into_next=week.jobs[1:4]).status_code == 200
    again = {"reason": "closed by mistake"}
    assert week.http.post(f"{week.base}/reopening", json=again).status_code == 403, "a scheduler may not"
    ada = Week(client("ada"))
    assert ada.http.post(f"{ada.base}/reopening", json={"reason": " "}).status_code == 422
    made = ada.http.post(f"{ada.base}/reopening", json=again)
    assert made.status_code == 200, made.text
    assert made.json() == {"still_there": [], "next_week": NEXT}
    assert week.get()["status"] == "published"
    assert week.get("/review")["closing"] is None
    assert week.get("/log")[0]["label"] == "Open the week again: closed by mistake"
    after = Week(week.http, NEXT)
    assert not after.get(f"/jobs/{week.jobs[1]}")["placements"], "what was carried over is back"
    assert after.get(f"/jobs/{week.jobs[1]}")["history"] == []
    assert ada.http.post(f"{ada.base}/reopening", json=again).json()["code"] == "status"
    assert close(week).status_code == 200, "and it can be closed anew"


def test_what_was_begun_in_the_next_week_stays_there_and_is_named(week: Week, client: Client) -> None:
    assert close(week, into_next=week.jobs[1:3]).status_code == 200
    after = Week(week.http, NEXT)
    task = after.get(f"/jobs/{week.jobs[2]}")["tasks"][0]["number"]
    report(after, week.jobs[2], task, "under way", 0.5)
    made = client("ada").post(f"{week.base}/reopening", json={"reason": "closed by mistake"})
    assert made.json()["still_there"] == [week.jobs[2]]


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
