"""Weeks that follow each other, reported and closed in any way: no hour of work is lost or made on the
way."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.timeline import week_beside
from nundine.services.admin.setup import REASONS
from tests.api.conftest import Client, Week
from tests.api.test_closing import hours_left
from tests.conftest import WEEK
from tests.examples import examples

REPORTS = st.lists(
    st.tuples(
        st.sampled_from(("done", "under way", "not done", "to do")),
        st.sampled_from((0.0, 0.5, 3.0)),
        st.sampled_from((None, 1.0, 2.5)),
        st.booleans(),
    ),
    min_size=8,
    max_size=8,
)


@pytest.fixture
def row(client: Client) -> list[Week]:
    """The weeks so far, the open one last."""
    return [Week(client("sven"), WEEK)]


@pytest.mark.long
@examples(6)
@given(REPORTS)
def test_closing_weeks_in_a_row_keeps_the_hours_of_every_wo_however_it_was_reported(
    row: list[Week], reports: list[tuple]
) -> None:
    week = row[-1]
    there = {j for p in week.get("/crew")["people"] for d in p["days"] for w in d["work"] for j in [w["job"]]}
    there |= {s["job"] for s in week.get("/crew")["open_seats"]}
    fresh = [
        r["number"]
        for r in week.get("/backlog", ready=True, placed=False, size=50)["rows"]
        if r["number"] not in there
    ]
    week.edit(kind="put", jobs=fresh[: 8 - min(len(there), 7)], day=None)
    week.edit(kind="status", to="agreed")
    assert week.http.post(f"{week.base}/revisions").status_code == 200
    tasks = week.get("/review")["tasks"]
    jobs = sorted({t["job"] for t in tasks})
    carried = []
    for (to, spent, left, carry), job in zip(reports, jobs, strict=False):
        first = next(t for t in tasks if t["job"] == job)
        form = {
            "tasks": [[job, first["task"]]],
            "to": to,
            "hours_spent": spent,
            "hours_left": left,
            "seen": 10**6,
            "along": True,
        }
        answer = week.http.post(
            f"{week.base}/progress", json={**form, "reason": REASONS[0] if to == "not done" else None}
        )
        assert answer.status_code == 200 or answer.json()["code"] == "nothing", answer.text
        if carry:
            carried.append(job)
    before = hours_left(set(jobs))
    unfinished = {r["number"]: r["hours"] for r in week.get("/closing")["unfinished"]}
    assert unfinished == pytest.approx(before)
    into = [j for j in carried if j in unfinished]
    made = week.http.post(
        f"{week.base}/closing",
        json={"why": dict.fromkeys(unfinished, REASONS[0]), "into_next": into, "early": True},
    )
    assert made.status_code == 200, made.text
    assert made.json()["carried"] + made.json()["back"] == len(unfinished)
    assert hours_left(set(jobs)) == pytest.approx(before)
    assert week.get()["status"] == "closed"
    row.append(Week(week.http, week_beside(week.base.rsplit("/", 1)[1], 1)))
    assert set(into) <= {t["job"] for t in row[-1].get("/review")["tasks"]}
    for job in sorted(set(unfinished) - set(into)):
        assert [r["placed"] for r in row[-1].get("/backlog", search=job)["rows"] if r["number"] == job] == [
            None
        ]
