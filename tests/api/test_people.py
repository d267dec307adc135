"""People by hand: part of a day away, overtime, extra shifts, loans, crafts and certificates."""

from __future__ import annotations

import pytest

from tests.api.conftest import Client, Week

TUESDAY = "2026-12-01"


def day_of(week: Week, person: str, day: str = TUESDAY) -> dict:
    row = next(p for p in week.get("/crew")["people"] if p["key"] == person)
    return next(d for d in row["days"] if d["day"] == day)


def worker(week: Week, day: str = TUESDAY) -> dict:
    """Somebody with a shift by day, before noon and after."""
    for p in week.get("/crew")["people"]:
        found = next(d for d in p["days"] if d["day"] == day)
        if len(found["shifts"]) == 1 and found["shifts"][0]["start"][11:13] < "09" and found["hours"] >= 7:
            return p
    raise AssertionError("nobody works by day")


def tank(week: Week, craft: str, day: str = TUESDAY) -> dict:
    return next(t for t in week.get()["tanks"] if t["row"] == craft and t["day"] == day)


def test_a_part_of_a_day_away_takes_only_its_hours_and_undo_brings_them_back(week: Week) -> None:
    one = worker(week)
    before, there = day_of(week, one["key"])["hours"], tank(week, one["craft"])["available"]
    week.edit(kind="absence", person=one["key"], day=TUESDAY, reason="training", start="10:00", end="12:00")
    found = day_of(week, one["key"])
    assert found["hours"] == before - 2
    assert (found["absence"], len(found["shifts"])) == ("training", 2)
    assert tank(week, one["craft"])["available"] == pytest.approx(there - 2)
    week.edit(kind="undo")
    assert day_of(week, one["key"])["hours"] == before


@pytest.mark.parametrize(("start", "end"), [("03:00", "05:00"), ("12:00", "10:00")])
def test_times_away_that_lie_outside_the_shift_are_refused_with_its_hours(
    week: Week, start: str, end: str
) -> None:
    one = worker(week)
    refused = week.send(kind="absence", person=one["key"], day=TUESDAY, reason="sick", start=start, end=end)
    assert refused.status_code == 422 and refused.json()["code"] == "outside"
    assert "works from" in refused.json()["title"]


def test_overtime_adds_overtime_hours_and_an_extra_shift_regular_ones(week: Week) -> None:
    one = worker(week)
    end = day_of(week, one["key"])["shifts"][0]["end"][11:16]
    late = f"{int(end[:2]) + 2:02d}:{end[3:]}"
    was = tank(week, one["craft"])
    week.edit(kind="overtime", person=one["key"], day=TUESDAY, start=end, end=late)
    now = tank(week, one["craft"])
    assert (now["overtime"], now["available"]) == (
        pytest.approx(was["overtime"] + 2),
        pytest.approx(was["available"] + 2),
    )
    free = next(
        d["day"]
        for d in next(p for p in week.get("/crew")["people"] if p["key"] == one["key"])["days"]
        if not d["shifts"]
    )
    was = tank(week, one["craft"], free)
    week.edit(kind="extra shift", person=one["key"], day=free, start="07:00", end="13:00")
    now = tank(week, one["craft"], free)
    assert (now["overtime"], now["available"]) == (
        pytest.approx(was["overtime"]),
        pytest.approx(was["available"] + 6),
    )
    told = day_of(week, one["key"], free)["by_hand"]
    assert [h["what"] for h in told] == ["extra shift"]
    week.edit(kind="take back", person=one["key"], day=free, what="extra shift", start=told[0]["id"])
    assert day_of(week, one["key"], free)["hours"] == 0


def test_hours_that_somebody_works_already_are_not_given_twice(week: Week) -> None:
    one = worker(week)
    refused = week.send(kind="overtime", person=one["key"], day=TUESDAY, start="09:00", end="11:00")
    assert refused.json()["code"] == "there already"


def test_an_extra_shift_over_midnight_counts_on_the_day_on_which_it_begins(week: Week) -> None:
    one = worker(week)
    free = next(
        d["day"]
        for d in next(p for p in week.get("/crew")["people"] if p["key"] == one["key"])["days"]
        if not d["shifts"]
    )
    week.edit(kind="extra shift", person=one["key"], day=free, start="22:00", end="04:00")
    assert day_of(week, one["key"], free)["hours"] == 6


def test_somebody_lent_works_for_the_other_area_and_is_seen_in_its_tanks(week: Week) -> None:
    one = worker(week)
    areas = [a["key"] for a in week.get()["areas"]]
    other = next(a for a in areas if a != one["area"])
    before = sum(t["available"] for t in week.get("/tanks", areas=other))
    week.edit(kind="lend", person=one["key"], area=other, first="2026-11-30", last="2026-12-06")
    row = next(p for p in week.get("/crew")["people"] if p["key"] == one["key"])
    assert row["area"] == other
    assert sum(t["available"] for t in week.get("/tanks", areas=other)) == pytest.approx(
        before + sum(d["hours"] for d in row["days"])
    )
    again = week.send(kind="lend", person=one["key"], area=other, first="2026-12-02", last="2026-12-02")
    assert again.json()["code"] == "lent"
    week.edit(kind="undo")
    assert next(p for p in week.get("/crew")["people"] if p["key"] == one["key"])["area"] == one["area"]


def test_all_areas_together_hold_what_the_whole_board_holds(built: Week) -> None:
    whole = built.get()
    parts = built.get("/tanks", areas=[a["key"] for a in whole["areas"]])
    for figure in ("available", "load"):
        assert sum(t[figure] for t in parts) == pytest.approx(sum(t[figure] for t in whole["tanks"]), abs=0.5)


def test_a_craft_that_is_taken_from_somebody_shows_in_seats_held_with_it(built: Week) -> None:
    crew = built.get("/crew")
    one, other = next(
        (p, k["key"])
        for p in crew["people"]
        for k in crew["crafts"]
        if k["key"] not in {c["craft"] for c in p["crafts"]} and any(d["work"] for d in p["days"])
    )
    held = [[c["name"], c["until"]] for c in one["certificates"]]
    after = built.edit(kind="skills", person=one["key"], crafts=[[other, 2]], certificates=held)
    assert any(c["code"] == "craft" and c["person"] == one["key"] for c in after["conflicts"])
    assert not [c for c in built.edit(kind="undo")["conflicts"] if c["code"] == "craft"]


def test_nobody_is_left_without_a_craft_or_with_one_twice(week: Week) -> None:
    one = worker(week)
    assert week.send(kind="skills", person=one["key"], crafts=[], certificates=[]).json()["code"] == "craft"
    twice = [[one["craft"], 1], [one["craft"], 2]]
    assert (
        week.send(kind="skills", person=one["key"], crafts=twice, certificates=[]).json()["code"] == "twice"
    )
    assert (
        week.send(kind="skills", person="nobody", crafts=[[one["craft"], 1]], certificates=[]).status_code
        == 422
    )


def test_a_change_on_top_of_anothers_is_refused_with_what_changed(client: Client) -> None:
    sven, adele = Week(client("sven")), Week(client("mila"))
    one = worker(sven)
    seen = sven.get()["edits"]
    sven.edit(kind="absence", person=one["key"], day=TUESDAY, reason="sick")
    late = adele.send(seen=seen, kind="absence", person=one["key"], day=TUESDAY, reason="leave")
    assert (late.status_code, late.json()["code"]) == (422, "no shift")
    assert day_of(sven, one["key"])["absence"] == "sick"
