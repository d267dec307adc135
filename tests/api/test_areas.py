"""Several schedulers on one site: areas of one's own, edits and builds side by side."""

from __future__ import annotations

import pytest

from tests.api.conftest import Client, Week

AREAS = ("north", "middle", "lake")


def placed_areas(week: Week) -> set[str]:
    return {t["area"] for t in week.get("/review")["tasks"]}


def test_an_account_has_areas_and_its_backlog_and_week_can_be_asked_for_by_them(client: Client) -> None:
    ada, mila = client("ada"), client("mila")
    areas = [a["key"] for a in Week(ada).get()["areas"]]
    assert ada.put("/api/accounts/mila", json={"areas": areas[:2]}).status_code == 200
    assert mila.get("/api/session").json()["areas"] == sorted(areas[:2])
    week = Week(mila)
    whole, parts = week.get("/backlog")["total"], [week.get("/backlog", area=[a])["total"] for a in areas]
    assert week.get("/backlog", area=areas[:2])["total"] == parts[0] + parts[1] < whole == sum(parts)


def test_areas_are_given_by_those_who_manage_and_must_exist(client: Client) -> None:
    form = {"areas": ["moon"]}
    assert client("ada").put("/api/accounts/mila", json=form).json()["code"] == "area"
    assert client("ada").put("/api/accounts/nobody", json={"areas": []}).status_code == 404
    for name in ("karl", "olivia", "rene"):
        assert client(name).put("/api/accounts/mila", json={"areas": []}).status_code == 403
        assert client(name).get("/api/accounts").status_code == 403


def test_edits_in_different_areas_at_once_are_both_taken(client: Client) -> None:
    sven, mila = Week(client("sven")), Week(client("mila"))
    seen = sven.get()["edits"]
    people = {
        p["area"]: p
        for p in sven.get("/crew")["people"]
        if next(d for d in p["days"] if d["day"] == "2026-12-02")["hours"]
    }
    (one, two), day = list(people.values())[:2], "2026-12-02"
    assert sven.send(seen=seen, kind="absence", person=one["key"], day=day, reason="sick").status_code == 200
    assert mila.send(seen=seen, kind="absence", person=two["key"], day=day, reason="leave").status_code == 200
    late = mila.send(seen=seen, kind="free day", person=one["key"], day=day)
    assert (late.status_code, late.json()["code"]) == (422, "nothing")


@pytest.mark.long
def test_builds_of_two_areas_are_accepted_one_after_the_other_and_both_stay(client: Client) -> None:
    sven, mila = Week(client("sven")), Week(client("mila"))
    first, second = [a["key"] for a in sven.get()["areas"]][:2]
    one = sven.build(areas=[first], accept=False)
    two = mila.build(areas=[second], accept=False)
    for week, build in ((sven, one), (mila, two)):
        answer = week.http.post(f"{week.base}/builds/{build['id']}/accept")
        assert answer.status_code == 200, answer.text
    assert placed_areas(sven) == {first, second}
    assert not [c for c in sven.get()["conflicts"] if c["code"] == "double"]


def test_one_choice_of_areas_gives_one_figure_everywhere(week: Week) -> None:
    """The strip, the list, and what a build is offered."""
    for areas in ([], ["north"], ["north", "lake"]):
        strip = week.get("/backlog/summary", areas=areas)
        listed = week.get("/backlog", area=areas, ready=True, size=1)["total"]
        assert strip["ready"] == listed
        assert strip["total"] == week.get("/backlog", area=areas, size=1)["total"]
        built = week.build(accept=False, areas=areas or None)
        assert built["progress"][-1]["jobs"] == listed
        assert built["not_placed"] + built["progress"][-1]["placed"] == listed
        week.http.post(f"{week.base}/builds/{built['id']}/drop")


def test_weeks_of_backlog_of_an_area_count_its_work_and_its_people(week: Week) -> None:
    of = {a: {c["craft"]: c for c in week.get("/backlog/summary", areas=[a])["crafts"]} for a in AREAS}
    whole = {c["craft"]: c for c in week.get("/backlog/summary")["crafts"]}
    for craft, c in whole.items():
        assert sum(of[a][craft]["ready_hours"] for a in AREAS) == pytest.approx(c["ready_hours"], abs=0.3)
        assert sum(of[a][craft]["hours_a_week"] for a in AREAS) == pytest.approx(c["hours_a_week"], abs=0.3)


def test_the_strip_of_an_area_counts_its_open_seats_conflicts_and_compliance(published: Week) -> None:
    now = published.get()
    assert sum(now["open_seats_of"].values()) == now["open_seats"]
    person, day = next((p, d) for p in published.get("/crew")["people"] for d in p["days"] if d["work"])
    published.edit(kind="absence", person=person["key"], day=day["day"], reason="sick")
    conflict = next(c for c in published.get()["conflicts"] if c["code"] == "away")
    areas = {published.get(f"/jobs/{j}")["area"] for j in conflict["jobs"]}
    assert len(conflict["areas"]) == len(areas)
    jobs = [published.get("/review/compliance", areas=[a])["jobs"] for a in AREAS]
    assert sum(jobs) == published.get("/review/compliance")["jobs"]


def test_hand_outs_of_an_area_hold_its_people_and_open_seats(published: Week) -> None:
    def rows(*areas: str) -> list[str]:
        answer = published.http.get(f"{published.base}/week.csv", params={"areas": areas})
        return answer.text.strip().splitlines()[1:]

    assert sorted(r for a in AREAS for r in rows(a)) == sorted(rows())
    assert all(0 < len(rows(a)) < len(rows()) for a in AREAS)
