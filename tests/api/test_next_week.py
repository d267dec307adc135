"""A job moved into next week stands there, and nowhere else; one command in both weeks, taken back whole."""

from __future__ import annotations

import pytest

from nundine.store.week import Placement
from nundine.store.week import Week as WeekRow
from tests.api.conftest import Client, Week

NEXT = "2026-W50"


def placed(week: Week, job: str) -> set[str]:
    return {p["day"] for p in week.get(f"/jobs/{job}")["placements"]}


def one_job(week: Week) -> str:
    return week.get("/tanks/mech/2026-12-01")["jobs"][0]["job"]


def test_a_job_moved_to_a_day_of_next_week_stands_there_at_once(built: Week) -> None:
    assert not WeekRow.get_or_none(WeekRow.name == NEXT)
    job, after = one_job(built), Week(built.http, NEXT)
    built.edit(kind="next week", jobs=[job], day="2026-12-09")
    assert placed(built, job) == set()
    assert placed(after, job) == {"2026-12-09"}
    tanks = {t["day"]: t["load"] for t in after.get()["tanks"] if t["row"] == "mech"}
    assert tanks["2026-12-09"] > 0
    assert next(r for r in built.get("/backlog", search=job)["rows"])["elsewhere"] == NEXT
    assert after.get("/log")[0]["label"] == f"Move {job} to Wed 9 Dec"


def test_undo_takes_it_back_in_both_weeks_and_redo_moves_it_again(built: Week) -> None:
    job, after = one_job(built), Week(built.http, NEXT)
    before = placed(built, job)
    built.edit(kind="next week", jobs=[job], day="2026-12-09")
    built.edit(kind="undo")
    assert (placed(built, job), placed(after, job)) == (before, set())
    built.edit(kind="redo")
    assert (placed(built, job), placed(after, job)) == (set(), {"2026-12-09"})


def test_what_somebody_changed_there_is_not_taken_back(built: Week, client: Client) -> None:
    job = one_job(built)
    built.edit(kind="next week", jobs=[job], day="2026-12-09")
    mila = Week(client("mila"), NEXT)
    keys = [[job, p["task"], p["portion"]] for p in mila.get(f"/jobs/{job}")["placements"]]
    mila.edit(kind="move", keys=keys, day="2026-12-10")
    refused = built.send(kind="undo")
    assert refused.status_code == 409
    assert placed(built, job) == set()
    assert placed(mila, job) == {"2026-12-10"}, "and it stands in one week alone"


def test_undo_in_the_next_week_leaves_alone_what_was_done_from_this_one(built: Week) -> None:
    job, after = one_job(built), Week(built.http, NEXT)
    built.edit(kind="next week", jobs=[job], day="2026-12-09")
    assert after.send(kind="undo").json()["code"] == "nothing"
    assert placed(after, job) == {"2026-12-09"}


@pytest.mark.parametrize("day", ["2026-12-03", "2026-12-20"])
def test_a_day_that_is_not_of_next_week_is_refused_and_nothing_moves(built: Week, day: str) -> None:
    job = one_job(built)
    assert built.send(kind="next week", jobs=[job], day=day).json()["code"] == "day"
    assert placed(built, job)
    assert not Placement.select().join(WeekRow).where(WeekRow.name == NEXT).exists()


def test_work_that_has_begun_is_left_for_closing(published: Week) -> None:
    job = one_job(published)
    first = published.get(f"/jobs/{job}")["tasks"][0]["number"]
    form = {"tasks": [[job, first]], "to": "under way", "seen": 10**6, "along": True}
    assert published.http.post(f"{published.base}/progress", json=form).status_code == 200
    assert published.send(kind="next week", jobs=[job], day=None).json()["code"] == "begun"
