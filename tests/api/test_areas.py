"""Several schedulers on one site: areas of one's own, edits and builds side by side."""

from __future__ import annotations

import pytest

from tests.api.conftest import Client, Week


def placed_areas(week: Week) -> set[str]:
    return {t["area"] for t in week.get("/review")["tasks"]}


def test_an_account_has_areas_and_its_backlog_and_week_can_be_asked_for_by_them(client: Client) -> None:
    ada, mila = client("ada"), client("mila")
    areas = [a["key"] for a in Week(ada).get()["areas"]]
    assert ada.put("/api/setup/accounts/mila/areas", json={"areas": areas[:2]}).status_code == 200
    assert mila.get("/api/session").json()["areas"] == sorted(areas[:2])
    week = Week(mila)
    whole, parts = week.get("/backlog")["total"], [week.get("/backlog", area=[a])["total"] for a in areas]
    assert week.get("/backlog", area=areas[:2])["total"] == parts[0] + parts[1] < whole == sum(parts)


def test_areas_are_given_by_those_who_manage_and_must_exist(client: Client) -> None:
    form = {"areas": ["moon"]}
    assert client("ada").put("/api/setup/accounts/mila/areas", json=form).json()["code"] == "area"
    assert client("ada").put("/api/setup/accounts/nobody/areas", json={"areas": []}).status_code == 404
    for name in ("karl", "olivia", "rene"):
        assert client(name).put("/api/setup/accounts/mila/areas", json={"areas": []}).status_code == 403
        assert client(name).get("/api/setup/accounts").status_code == 403


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
