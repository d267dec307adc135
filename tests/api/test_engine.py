"""Mending, asks and the engine's parameters through the API."""

from __future__ import annotations

from datetime import date

import pytest

from nundine.core.finding import Finding
from nundine.core.week.asks import Ask
from nundine.services import wording
from nundine.services.week import asks as asks_service
from nundine.services.week.parts_sooner import naming_parts, with_late_parts
from nundine.services.week.state import load_state
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client, Week
from tests.api.test_week import first_seat
from tests.conftest import WEEK


@pytest.fixture
def sick(built: Week) -> tuple[Week, dict, dict]:
    """A built week in which somebody with work fell sick."""
    person, day, _ = first_seat(built)
    built.edit(kind="absence", person=person["key"], day=day["day"], reason="sick")
    return built, person, day


def mend(week: Week, *put_in: str) -> dict:
    answer = week.http.post(f"{week.base}/mend", json={"put_in": list(put_in)})
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_a_sick_day_is_mended_in_one_command_that_can_be_undone(sick: tuple[Week, dict, dict]) -> None:
    week, person, day = sick
    assert week.get()["conflicts"]
    found = mend(week)
    assert found["count"] > 0
    assert all(m["text"] for m in found["moves"])
    assert week.get()["conflicts"], "a preview changes nothing"
    after = week.edit(kind="mend", put_in=[])
    assert not [c for c in after["conflicts"] if c["code"] != "held back"]
    crew = {p["key"]: p for p in week.get("/crew")["people"]}
    assert not next(d for d in crew[person["key"]]["days"] if d["day"] == day["day"])["work"]
    assert week.edit(kind="undo")["conflicts"]


def test_moves_name_people_and_not_their_keys(sick: tuple[Week, dict, dict]) -> None:
    week, person, _ = sick
    assert all(person["key"] not in m["text"].split() for m in mend(week)["moves"])


def test_a_break_in_comes_in_and_says_what_it_pushes_out(built: Week) -> None:
    rows = built.get("/backlog", placed=False, ready=True, size=50)["rows"]
    row = next(
        r
        for r in rows
        if built.get(f"/jobs/{r['number']}/why")["reasons"][0]["code"] in ("outranked", "hours")
    )
    found = mend(built, row["number"])
    in_now = row["number"] in {m["job"] for m in found["moves"] if m["kind"] == "in"}
    assert in_now != (row["number"] in found["not_in"])
    if in_now:
        assert not built.edit(kind="mend", put_in=[row["number"]])["conflicts"]
        assert built.get(f"/jobs/{row['number']}")["placements"]
    else:
        assert built.send(kind="mend", put_in=[row["number"]]).status_code != 200


def test_a_week_that_breaks_no_rule_has_nothing_to_mend(built: Week) -> None:
    assert mend(built)["moves"] == []
    refused = built.send(kind="mend", put_in=[])
    assert refused.status_code in (400, 409, 422)
    assert "Nothing has to move" in refused.json()["title"]


def test_a_pinned_placement_stays_and_its_conflict_is_named(sick: tuple[Week, dict, dict]) -> None:
    week, person, day = sick
    crew = {p["key"]: p for p in week.get("/crew")["people"]}
    work = next(d for d in crew[person["key"]]["days"] if d["day"] == day["day"])["work"][0]
    key = [work["job"], work["task"], work["portion"]]
    week.edit(kind="pin", keys=[key], on=True)
    found = mend(week)
    assert work["job"] in {j for c in found["conflicts"] for j in c["jobs"]}


@pytest.mark.long
def test_asks_are_worked_out_kept_and_marked_when_the_week_moved_on(
    week: Week, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(asks_service, "SECONDS", 1.0)
    week.build()
    assert week.get("/asks")["state"] == "none"
    worked = week.http.post(f"{week.base}/asks").json()
    assert worked["state"] == "ready"
    assert worked["current"]
    assert worked["asks"]
    values = [a["value"] for a in worked["asks"] if a["confirmed"]]
    assert all(v > 0 for v in values), (
        "what building again confirms is worth something beside those before it"
    )
    row = week.get("/backlog", placed=True, size=1)["rows"][0]
    week.edit(kind="take out", jobs=[row["number"]])
    assert not week.get("/asks")["current"]
    assert week.get("/builds/latest") is None, "asks are no build"


def test_asks_are_confirmed_around_pins_and_hand_work(built: Week, monkeypatch: pytest.MonkeyPatch) -> None:
    _, _, work = first_seat(built)
    key = (work["job"], work["task"], work["portion"])
    built.edit(kind="pin", keys=[key], on=True)
    seen = []
    monkeypatch.setattr(
        asks_service, "asks", lambda problem, *_, **__: seen.append({f.key for f in problem.fixed}) or ()
    )
    built.http.post(f"{built.base}/asks")
    assert key in seen[0]


def test_work_that_waits_for_parts_alone_is_asked_for_by_part_order_and_days(week: Week) -> None:
    state = load_state(WEEK)
    last = date(2026, 12, 6)
    there, late = {j.id for j in state.problem.jobs}, with_late_parts(state)
    found = [j for j in late.problem.jobs if j.id not in there]
    assert found and all(j.earliest is not None and j.earliest.date() > last for j in found)
    for job in found:
        shut = week.get(f"/jobs/{job.id}")["shut"]
        assert [g["gate"] for g in shut] == ["parts"]
    kit = WorkOrder.get(WorkOrder.number == found[0].id)
    facts = {"job": kit.number, "by": "2026-12-02T06:00:00+01:00", "earliest": kit.parts_ready.isoformat()}
    said = wording.ask(naming_parts(Ask(Finding("part", facts), 1.0, 1.0, ())).found, state.names)
    days = (kit.parts_ready - date(2026, 12, 2)).days
    assert f"there by Wed 2 Dec, {days} days sooner, for {kit.number}" in said


def parameters(week: Week) -> dict:
    return week.http.get("/api/setup").json()


def store(week: Week, found: dict, **change: object):
    form = {
        "seconds": found["seconds"],
        "weights": found["weights"],
        "held_back": {c["key"]: c["held_back"] for c in found["crafts"]},
    }
    return week.http.put("/api/setup", json={**form, **change})


def test_a_dearer_overtime_takes_work_out_of_overtime(week: Week) -> None:
    found = parameters(week)
    dear = store(week, found, weights={**found["weights"], "overtime_per_hour": 5000})
    assert dear.status_code == 200
    week.build()
    crew = week.get("/crew")["people"]
    hours = [
        w
        for p in crew
        for d in p["days"]
        for s in d["shifts"]
        if s["overtime"]
        for w in d["work"]
        if w["start"] and s["start"] <= w["start"] < s["end"]
    ]
    assert not hours
    assert parameters(week)["weights"]["overtime_per_hour"] == 5000


def test_more_held_back_hours_leave_more_of_a_craft_free(built: Week) -> None:
    before = sum(t["load"] for t in built.get()["tanks"] if t["row"] == "mech")
    found = parameters(built)
    shares = {c["key"]: c["held_back"] for c in found["crafts"]} | {"mech": 0.6}
    assert store(built, found, held_back=shares).status_code == 200
    assert "held back" in {c["code"] for c in built.get()["conflicts"]}
    built.build()
    after = [t for t in built.get()["tanks"] if t["row"] == "mech"]
    assert sum(t["load"] for t in after) < before
    assert not built.get()["conflicts"]


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"seconds": 0}, "seconds"),
        ({"held_back": {"mech": 0.95}}, "mech"),
        ({"held_back": {"nobody": 0.1}}, "nobody"),
    ],
)
def test_a_parameter_out_of_range_is_refused_with_its_name_and_nothing_is_stored(
    week: Week, change: dict, field: str
) -> None:
    before = parameters(week)
    refused = store(week, before, **change)
    assert refused.status_code in (400, 409, 422)
    assert refused.json()["field"] == field
    assert parameters(week) == before


def test_only_who_may_manage_stores_parameters_and_only_who_may_edit_mends(client: Client) -> None:
    reader = Week(client("rene"))
    assert store(reader, parameters(reader)).status_code == 403
    assert reader.http.post(f"{reader.base}/mend", json={"put_in": []}).status_code == 403
    assert reader.http.post(f"{reader.base}/asks").status_code == 403


def test_days_are_built_first_and_seats_filled_by_a_later_build(week: Week) -> None:
    week.build(mode="days")
    balanced = week.get()
    assert balanced["without_time"] > 50
    assert balanced["open_seats"] > 50
    week.build(mode="seats")
    crewed = week.get()
    assert crewed["jobs_placed"] == balanced["jobs_placed"]
    assert crewed["without_time"] < 0.2 * balanced["without_time"]
    assert crewed["open_seats"] < 0.2 * balanced["open_seats"]
