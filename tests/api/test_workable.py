"""A week that crews can work, through the API: ways, assets put back, loose ends and their lists, prices
tried."""

from __future__ import annotations

from datetime import date, timedelta

import pytest

from nundine.core.week.check import check
from nundine.core.week.problem import STOPPED
from nundine.services.week.state import load_state
from nundine.store.base import db
from nundine.store.roster import Loan, Person
from nundine.store.site import Area, Way
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client, Week
from tests.conftest import WEEK


def parameters(week: Week, **changed: object) -> dict:
    """The set-up as a form would send it, with something changed."""
    found = week.http.get("/api/setup").json()
    held = {c["key"]: c["held_back"] for c in found["crafts"]}
    form = {k: found[k] for k in ("seconds", "weights", "reasons", "ways")}
    return {**form, "held_back": held, **changed}


def test_the_demo_site_has_ways_and_prices_and_work_whose_asset_is_still_out(week: Week) -> None:
    with db.connection_context():
        problem = load_state(WEEK).problem
    assert problem.minutes_between["north", "lake"] == 45
    assert problem.weights.handover == 200 and problem.weights.has_prices
    out = [j for j in problem.jobs if j.out_since is not None]
    assert len(out) == 1 and out[0].out_since < problem.start and out[0].stays_out
    overhauls = [j for j in problem.jobs if j.out_of_service == "by_task"]
    assert any(sum(t.hours for t in j.tasks) >= 39 for j in overhauls)


def test_ways_are_set_up_once_for_both_directions_and_refused_where_they_contradict(week: Week) -> None:
    way = {"start": "north", "end": "lake", "minutes": 30}
    assert week.http.put("/api/setup", json=parameters(week, ways=[way])).status_code == 200
    assert week.http.get("/api/setup").json()["ways"] == [{"start": "lake", "end": "north", "minutes": 30}]
    back = {"start": "lake", "end": "north", "minutes": 50}
    for bad in ([way, back], [{**way, "end": "moon"}], [{**way, "minutes": 900}], [{**way, "end": "north"}]):
        answer = week.http.put("/api/setup", json=parameters(week, ways=bad))
        assert answer.status_code == 422 and answer.json()["field"] == "ways"
    with db.connection_context():
        assert [w.minutes for w in Way.select()] == [30]


def test_ways_and_assets_put_back_come_in_by_files_and_go_out_again(client: Client) -> None:
    http = client("sven")
    given = b"from,to,minutes\nnorth,lake,25\n"
    answer = http.post("/api/imports", files=[("files", ("ways.csv", given, "text/csv"))])
    assert answer.status_code == 200 and answer.json()["report"]["done"], answer.text
    assert "lake,north,25" in http.get("/api/imports/exports/ways.csv").text
    bad = http.post(
        "/api/imports", files=[("files", ("ways.csv", b"from,to,minutes\nnorth,north,5\n", "text/csv"))]
    )
    assert "one area to another" in bad.text
    rows = http.get("/api/imports/exports/work_orders.csv").text.splitlines()
    assert "put_back" in rows[0]


def test_a_wo_says_whether_its_asset_goes_back_between_tasks(week: Week) -> None:
    number = next(r["number"] for r in week.get("/backlog", ready=True)["rows"])
    form = week.http.get(f"/api/orders/{number}").json()
    order = {**form["order"], "put_back": "yes"}
    body = {"order": order, "tasks": form["tasks"], "revision": form["revision"]}
    assert week.http.post("/api/orders", json=body).status_code == 200
    assert week.get(f"/jobs/{number}")["put_back"]
    with db.connection_context():
        assert load_state(WEEK).problem.job_by_id[number].out_of_service == "by_task"


def test_people_who_are_lent_work_in_the_area_lent_to_on_those_days(week: Week) -> None:
    day = date(2026, 12, 1)
    with db.connection_context():
        who = Person.get(Person.area == Area.get(Area.key == "north"))
        Loan.create(person=who, area=Area.get(Area.key == "lake"), first=day, last=day)
        week.http.put("/api/setup", json=parameters(week))
        hours = load_state(WEEK).problem.person_by_id[who.key].hours
    assert {h.area for h in hours if h.day == day} <= {"lake"}
    assert {h.area for h in hours if h.day == day + timedelta(days=1)} <= {"north"}


def test_each_figure_of_how_the_week_can_be_worked_is_what_its_list_holds(built: Week) -> None:
    found, lists = built.get()["workable"], built.get("/loose-ends")
    assert found["in_one_go"] == len(lists["in_one_go"]) > 0
    assert found["jobs"] - found["in_one_go"] == len({r["job"] for r in lists["in_pieces"]})
    assert found["open_nights"] == len({r["job"] for r in lists["open_nights"]})
    assert found["handovers"] == len(lists["handovers"])
    assert found["area_changes"] == len(lists["area_changes"])
    with db.connection_context():
        state = load_state(WEEK)
        checked = check(state.draft, state.placements)
    assert found["points"] == pytest.approx(checked.points, abs=0.1)
    assert found["prices"]["total"] == pytest.approx(checked.prices.total, abs=0.1)


def test_a_build_is_compared_by_how_the_week_could_be_worked(week: Week) -> None:
    beside = week.build(accept=False)["changes"]["workable"]
    assert beside["before"]["jobs"] == 0 and beside["after"]["jobs"] > 20
    assert beside["after"]["over_run"] == 0


def test_a_move_by_hand_that_tears_a_job_is_done_and_says_what_it_leaves_open(built: Week) -> None:
    with db.connection_context():
        state = load_state(WEEK)
    early = {r["job"] for r in built.get("/loose-ends")["in_one_go"]}
    early -= {p.job for p in state.placements if p.day.weekday() > 2}
    job = next(
        j
        for j in state.problem.jobs
        if j.id in early
        and j.stays_out
        and state.problem.asset_by_id[j.asset].work_windows is None
        and [t.asset_state for t in (j.ordered_tasks[0], j.ordered_tasks[-1])] == [STOPPED, STOPPED]
        and len(j.tasks) > 1
    )
    last = max((p for p in state.placements if p.job == job.id), key=lambda p: (p.start, p.end))
    answer = built.send(kind="move", keys=[list(last.key)], day="2026-12-04")
    assert answer.status_code == 200
    told = " ".join(answer.json()["arisen"]) + " ".join(c["text"] for c in built.get()["conflicts"])
    assert job.id in told


def test_other_prices_are_tried_on_the_week_and_nothing_is_changed(
    client: Client, built: Week, monkeypatch: pytest.MonkeyPatch
) -> None:
    from nundine.services.week import tidiness

    monkeypatch.setattr(tidiness, "SECONDS", 0.5)
    before = built.get()["edits"]
    prices = {
        "waiting_per_hour": 0,
        "waiting_cap_hours": 24,
        "handover": 0,
        "area_change": 0,
        "away_per_hour": 0,
    }
    assert built.http.post(f"{built.base}/tidiness", json=prices).status_code == 200
    found = built.get("/tidiness")
    assert found["state"] == "ready" and found["prices"] == prices and found["current"]
    assert found["then"]["area_changes"] > found["now"]["area_changes"]
    assert built.get()["edits"] == before
    assert built.http.post(f"{built.base}/tidiness", json={**prices, "handover": -1}).status_code == 422
    assert client("rene").post(f"{built.base}/tidiness", json=prices).status_code == 403


def test_crew_sheets_say_where_to_go_and_whose_work_is_gone_on_with(built: Week) -> None:
    from nundine.services.week.seat_lines import lines

    with db.connection_context():
        notes = [note for r in lines(load_state(WEEK)) for note in r.notes]
    found = built.get()["workable"]
    assert sum(n.startswith("go from") for n in notes) == found["area_changes"]
    assert (found["handovers"] > 0) == any(n.startswith("you finish") for n in notes)


def test_the_asset_put_back_is_a_column_that_the_database_keeps(week: Week) -> None:
    with db.connection_context():
        assert WorkOrder.select().where(WorkOrder.put_back).count() > 0
