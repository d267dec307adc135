"""The running week: several tasks at once, not done and why, who did it, early and late, a supervisor's
swap."""

from __future__ import annotations

from collections.abc import Callable

import pytest

from tests.api.conftest import Client, Week


def say(week: Week, tasks: list[dict], to: str, **more: object):
    form = {"tasks": [[t["job"], t["task"]] for t in tasks], "to": to, "seen": 10**6, **more}
    return week.http.post(f"{week.base}/progress", json=form)


def rows(week: Week, tasks: list[dict]) -> list[dict]:
    keys = {(t["job"], t["task"]) for t in tasks}
    return [t for t in week.get("/review")["tasks"] if (t["job"], t["task"]) in keys]


def test_several_tasks_are_reported_in_one_command_and_taken_back_with_one_undo(published: Week) -> None:
    tasks = [t for t in published.get("/review")["tasks"] if t["task"] == "10"][:4]
    assert say(published, tasks, "done").status_code == 200
    for t in rows(published, tasks):
        assert (t["state"], t["hours_spent"]) == ("done", t["hours_planned"])
        assert sorted(t["done_by"]) == sorted({s["name"] for s in t["seats"] if s["name"]})
    published.edit(kind="undo")
    assert {t["state"] for t in rows(published, tasks)} == {"to do"}


def test_a_hundred_tasks_are_reported_by_as_few_questions_to_the_database_as_two(
    published: Week, statements: list[str]
) -> None:
    asked = []
    firsts = [t for t in published.get("/review")["tasks"] if t["task"] == "10"]
    for tasks in (firsts[:2], firsts[2:102]):
        before = len(statements)
        assert say(published, tasks, "under way").status_code == 200
        asked.append(len(statements) - before)
    assert len(firsts) >= 102
    assert asked[1] <= asked[0] and asked[1] < 40


def test_what_is_not_done_needs_a_reason_of_the_site_and_closing_knows_it(published: Week) -> None:
    one = published.get("/review")["tasks"][:1]
    assert say(published, one, "not done").json()["code"] == "reason"
    assert (
        say(published, one, "not done", reason="part missing", hours_spent=0.5, hours_left=2).status_code
        == 200
    )
    row = rows(published, one)[0]
    assert (row["state"], row["reason"], row["hours_left"]) == ("under way", "part missing", 2)
    found = next(r for r in published.get("/closing")["unfinished"] if r["number"] == one[0]["job"])
    assert found["reason"] == "part missing"
    assert say(published, one, "under way").status_code == 200
    assert rows(published, one)[0]["reason"] is None


def test_the_site_keeps_its_own_list_of_reasons(published: Week) -> None:
    now = published.http.get("/api/setup").json()
    held = {c["key"]: c["held_back"] for c in now["crafts"]}
    form = {
        "seconds": now["seconds"],
        "weights": now["weights"],
        "held_back": held,
        "reasons": ["wind", "  fog ", "wind", ""],
    }
    assert published.http.put("/api/setup", json=form).json()["reasons"] == ["wind", "fog", "other"]
    one = published.get("/review")["tasks"][:1]
    assert say(published, one, "not done", reason="part missing").json()["code"] == "reason"
    assert say(published, one, "not done", reason="fog").status_code == 200


On = Callable[[str], Week]


@pytest.fixture
def on(published: Week, client: Client, monkeypatch: pytest.MonkeyPatch) -> On:
    """The published week, seen by Sven on a day of the calendar."""

    def then(day: str) -> Week:
        monkeypatch.setenv("NUNDINE_TODAY", day)
        return Week(client("sven"))

    return then


def first_of(chain: int, tasks: list[dict]) -> list[dict]:
    """The tasks of the first WO that has at least so many in the week, in their order."""
    by_job: dict[str, list[dict]] = {}
    for t in tasks:
        by_job.setdefault(t["job"], []).append(t)
    found = next(ts for ts in by_job.values() if len({t["task"] for t in ts}) >= chain)
    return sorted(found, key=lambda t: int(t["task"]))


def test_a_task_is_not_done_before_those_that_it_comes_after(published: Week) -> None:
    tasks = first_of(3, published.get("/review")["tasks"])
    last = tasks[-1:]
    for to in ("done", "under way"):
        refused = say(published, last, to)
        assert refused.status_code == 422
        assert refused.json()["code"] == "order"
        assert all(n in refused.json()["title"] for n in refused.json()["tasks"])
    assert {t["state"] for t in rows(published, tasks)} == {"to do"}


def test_earlier_tasks_are_taken_along_if_asked_and_come_back_with_one_undo(published: Week) -> None:
    tasks = first_of(3, published.get("/review")["tasks"])
    assert say(published, tasks[-1:], "done", along=True, hours_spent=0.3).status_code == 200
    done = rows(published, tasks)
    assert {t["state"] for t in done} == {"done"}
    assert [t["task"] for t in done if t["hours_spent"] == 0.3] == [tasks[-1]["task"]]
    published.edit(kind="undo")
    assert {t["state"] for t in rows(published, tasks)} == {"to do"}


def test_all_tasks_of_a_job_chosen_together_need_nothing_along(published: Week) -> None:
    tasks = first_of(3, published.get("/review")["tasks"])
    assert say(published, tasks[::-1], "done").status_code == 200


def test_a_task_is_not_opened_again_while_one_after_it_is_done(published: Week) -> None:
    tasks = first_of(3, published.get("/review")["tasks"])
    assert say(published, tasks, "done").status_code == 200
    assert say(published, tasks[:1], "to do").json()["code"] == "order after"
    assert say(published, tasks, "to do").status_code == 200


def test_work_of_days_ahead_was_done_before_its_day(on: On) -> None:
    week = on("2026-12-01")
    ahead = [t for t in week.get("/review")["tasks"] if t["day"] == "2026-12-04"][:1]
    assert say(week, ahead, "done", along=True).status_code == 200
    assert rows(week, ahead)[0]["days_off"] == -3
    assert say(week, ahead, "done", ended="2026-12-04T10:00:00+01:00").json()["code"] == "ahead"


def test_work_done_early_and_late_is_told_in_days_against_the_published_day(on: On) -> None:
    published = on("2026-12-05")
    tasks = [t for t in published.get("/review")["tasks"] if t["day"] == "2026-12-02"]
    early, late = tasks[0], next(t for t in tasks if t["job"] != tasks[0]["job"])
    assert say(published, [early], "done", ended="2026-12-01T10:00:00+01:00", along=True).status_code == 200
    assert say(published, [late], "done", ended="2026-12-04T10:00:00+01:00", along=True).status_code == 200
    assert rows(published, [early])[0]["days_off"] == -1
    assert rows(published, [late])[0]["days_off"] == 2
    assert rows(published, [early])[0]["published_day"] == "2026-12-02"


def test_open_work_is_overdue_from_the_day_after_its_published_day(
    published: Week, monkeypatch: pytest.MonkeyPatch, client: Client
) -> None:
    monkeypatch.setenv("NUNDINE_TODAY", "2026-12-03")
    week = Week(client("sven"))
    found = {t["published_day"]: t["days_off"] for t in week.get("/review")["tasks"]}
    assert found["2026-12-01"] == 2
    assert found["2026-12-03"] is None


def test_a_task_of_another_week_or_too_many_hours_is_refused_and_nothing_is_reported(published: Week) -> None:
    one = published.get("/review")["tasks"][0]
    assert say(published, [one, {"job": "WO-0", "task": "10"}], "done").json()["code"] == "task"
    assert say(published, [one], "under way", hours_spent=5000).json()["code"] == "hours"
    assert rows(published, [one])[0]["state"] == "to do"


def test_a_supervisor_swaps_people_for_today_and_no_other_day(
    published: Week, monkeypatch: pytest.MonkeyPatch, client: Client
) -> None:
    monkeypatch.setenv("NUNDINE_TODAY", "2026-12-01")
    karl = Week(client("karl"))
    swapped = refused = 0
    for t in karl.get("/review")["tasks"]:
        seat = t["seats"][0]
        key = [t["job"], t["task"], seat["portion"]]
        if t["day"] == "2026-12-02" and not refused:
            no = karl.send(kind="give", key=key, seat=seat["seat"], person=None)
            assert (no.status_code, no.json()["code"]) == (403, "today")
            refused += 1
        if t["day"] == "2026-12-01" and not swapped:
            able = [
                c
                for c in karl.get(f"/seats/{t['job']}/{t['task']}/{seat['portion']}/{seat['seat']}")
                if c["fits"] and c["person"] != seat["person"]
            ]
            if able:
                karl.edit(kind="give", key=key, seat=seat["seat"], person=able[0]["person"])
                assert able[0]["name"] in rows(karl, [t])[0]["people"]
                swapped += 1
    assert swapped and refused
    assert karl.send(kind="undo").status_code == 403


def first_exchange(week: Week, day: str) -> tuple[dict, dict, dict]:
    """A task of the day, a seat of it and somebody busy who could change places with who sits there."""
    for t in week.get("/review")["tasks"]:
        for seat in t["seats"] if t["day"] == day else ():
            for c in (
                week.get(f"/seats/{t['job']}/{t['task']}/{seat['portion']}/{seat['seat']}")
                if seat["person"]
                else ()
            ):
                if c["exchange"] and not c["fits"]:
                    return t, seat, c
    raise AssertionError("nobody can change places that day")


def people_of(week: Week) -> dict[tuple, str | None]:
    return {
        (t["job"], t["task"], s["portion"], s["seat"]): s["person"]
        for t in week.get("/review")["tasks"]
        for s in t["seats"]
    }


def test_two_people_who_are_both_busy_change_places_in_one_command(
    published: Week, monkeypatch: pytest.MonkeyPatch, client: Client
) -> None:
    monkeypatch.setenv("NUNDINE_TODAY", "2026-12-01")
    karl = Week(client("karl"))
    before, conflicts = people_of(karl), len(karl.get("")["conflicts"])
    t, seat, other = first_exchange(karl, "2026-12-01")
    karl.edit(
        kind="exchange", key=[t["job"], t["task"], seat["portion"]], seat=seat["seat"], person=other["person"]
    )
    now = people_of(karl)
    assert now[(t["job"], t["task"], seat["portion"], seat["seat"])] == other["person"]
    changed = [k for k in before if before[k] != now[k]]
    assert len(changed) == len(other["exchange"]["takes"]) + len(other["exchange"]["gives"])
    assert {before[k] for k in changed} == {seat["person"], other["person"]}
    assert len(karl.get("")["conflicts"]) == conflicts


def test_a_supervisor_changes_places_for_no_other_day_and_not_with_who_can_not(
    published: Week, monkeypatch: pytest.MonkeyPatch, client: Client
) -> None:
    monkeypatch.setenv("NUNDINE_TODAY", "2026-12-01")
    karl, sven = Week(client("karl")), Week(client("sven"))
    t, seat, other = first_exchange(karl, "2026-12-02")
    key = [t["job"], t["task"], seat["portion"]]
    no = karl.send(kind="exchange", key=key, seat=seat["seat"], person=other["person"])
    assert (no.status_code, no.json()["code"]) == (403, "today")
    assert (
        sven.send(kind="exchange", key=key, seat=seat["seat"], person=seat["person"]).json()["code"]
        == "cannot take"
    )
    before = people_of(sven)
    sven.edit(kind="exchange", key=key, seat=seat["seat"], person=other["person"])
    sven.edit(kind="undo")
    assert people_of(sven) == before


def test_what_is_done_keeps_its_people_in_an_exchange(published: Week) -> None:
    t, seat, other = first_exchange(published, "2026-12-01")
    given = other["exchange"]["gives"][0]
    assert say(published, [given], "done", along=True).status_code == 200
    key = [t["job"], t["task"], seat["portion"]]
    assert (
        published.send(kind="exchange", key=key, seat=seat["seat"], person=other["person"]).json()["code"]
        == "cannot take"
    )


def test_the_figure_of_the_strip_is_the_compliance_of_the_review(published: Week) -> None:
    tasks = published.get("/review")["tasks"]
    assert say(published, tasks[:7], "done").status_code == 200
    alone = published.get("/review/compliance")
    assert alone == published.get("/review")["compliance"]
    assert alone["hours_done"] > 0


def test_only_another_day_time_or_person_changes_what_was_promised(published: Week) -> None:
    one = published.get("/review")["tasks"][0]
    assert published.get()["changed_since"] is False
    assert say(published, [one], "done").status_code == 200
    assert published.get()["changed_since"] is False
    other = next(
        t for t in published.get("/review")["tasks"] if t["state"] == "to do" and t["day"] == "2026-12-01"
    )
    assert published.edit(kind="take out", jobs=[other["job"]])["changed_since"] is True
    assert any(published.get("/revisions/0/changes").values())
    assert published.edit(kind="undo")["changed_since"] is False
    assert not any(published.get("/revisions/0/changes").values())
