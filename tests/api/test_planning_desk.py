"""The planning desk: each hour of work in one stage, and weeks that add up."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import pytest
from peewee import fn

from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.services.work import ageing, desk_weeks
from nundine.store.base import db
from nundine.store.belonging import Site
from nundine.store.desk import DeskWeek
from nundine.store.site import Craft
from nundine.store.work_order import OPEN_STATES, CrewNeed, Task, WorkOrder
from tests.api.conftest import Week
from tests.api.test_orders import made
from tests.api.test_requests import do, reported

STAGES = ("being_planned", "ready", "placed")


def desk(week: Week) -> dict[str, Any]:
    return week.get("/planning-desk")


def of(found: dict[str, Any], craft: str) -> dict[str, Any]:
    return next(c for c in found["crafts"] if c["craft"] == craft)


def test_each_open_wo_and_each_of_its_hours_counts_in_one_stage(built: Week) -> None:
    found = desk(built)
    open_orders = WorkOrder.state.in_(("draft", *OPEN_STATES))
    assert sum(found[s] for s in STAGES) == WorkOrder.select().where(open_orders).count()
    left = fn.SUM(fn.COALESCE(Task.hours_left, Task.hours) * CrewNeed.people)
    rows = CrewNeed.select(Craft.key, left).join(Task).join(WorkOrder).switch(CrewNeed).join(Craft)
    todo = open_orders & Task.state.in_(("to do", "under way"))
    for craft, hours in rows.where(todo).group_by(Craft.key).tuples():
        assert sum(of(found, craft)[s] for s in STAGES) == pytest.approx(hours, abs=0.2)


def test_a_job_goes_from_being_planned_to_ready_to_placed(week: Week) -> None:
    number = made(week.http)
    first = desk(week)
    form = week.http.get(f"/api/orders/{number}").json()
    body = {**form, "order": {**form["order"], "parts_unknown": "yes"}}
    assert week.http.post("/api/orders", json=body).status_code == 200
    waiting = desk(week)
    assert waiting["being_planned"] == first["being_planned"] + 1
    assert of(waiting, "hand")["being_planned"] == of(first, "hand")["being_planned"] + 6
    assert of(waiting, "hand")["ready"] == of(first, "hand")["ready"] - 6
    week.edit(kind="put", jobs=[number], day=None)
    assert (desk(week)["placed"], desk(week)["being_planned"]) == (1, first["being_planned"])


def test_requests_of_which_nobody_decided_are_counted(week: Week) -> None:
    before = desk(week)
    number = reported(week.http)
    assert desk(week)["requests_new"] == before["requests_new"] + 1
    do(week.http, number, "question", text="Which one?")
    now = desk(week)
    assert now["requests_asked_back"] == before["requests_asked_back"] + 1
    assert now["requests_new"] == before["requests_new"]


def test_open_work_grows_by_what_is_raised_and_shrinks_by_what_is_done(week: Week) -> None:
    number = made(week.http)
    wanted = changes_to("work order", {(number,): {"raised": date(2026, 11, 4)}})
    done = {"state": "done", "ended": "2026-11-12T09:00:00+00:00", "hours_spent": 1.0}
    wanted += changes_to("task", {(number, "10"): done})
    with db.atomic():
        write("files", None, Edit("progress", "Done", wanted), checked=True)
    past = of(desk(week), "hand")["past"]
    assert [p["week"] for p in past] == [f"2026-W{n}" for n in range(36, 48)]
    for before, now in zip(past, past[1:], strict=False):
        assert now["open"] == pytest.approx(before["open"] + now["raised"] - now["done"], abs=0.3)
    finished = {p["week"]: p["done"] for p in past}
    assert finished["2026-W46"] == 5.0


def test_the_stages_of_a_week_are_kept_once_as_it_began(week: Week) -> None:
    monday = date(2026, 11, 16)

    def last() -> dict[str, Any]:
        return dict(of(desk(week), "mech")["past"][-1])

    assert last() == last() | {"week": "2026-W47", "being_planned": None, "ready": None, "placed": None}
    desk_weeks.keep(monday + timedelta(days=2))
    now, kept = of(desk(week), "mech"), last()
    assert sum(kept[s] for s in STAGES) == pytest.approx(sum(now[s] for s in STAGES), abs=0.2)
    DeskWeek.update(ready=DeskWeek.ready + 100).execute()
    desk_weeks.keep(monday + timedelta(days=4))
    assert last()["ready"] == kept["ready"] + 100
    assert of(desk(week), "mech")["past"][-2]["ready"] is None


def test_a_new_day_of_a_week_that_was_not_kept_keeps_it(week: Week) -> None:
    Site.update(aged=None).execute()
    assert ageing.grow_older()
    kept = {(d.monday, d.craft.key) for d in DeskWeek.select()}
    assert kept == {(date(2026, 11, 23), c["craft"]) for c in desk(week)["crafts"]}
