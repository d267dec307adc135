"""Proofs of bounds follow what is looked at, few at once, and keep no build from its turn."""

from __future__ import annotations

import pytest

from nundine.api.week import builds as builds_api
from nundine.services.background import runs
from nundine.services.week import builds, proofs
from nundine.services.week.state import load_state
from nundine.store.week import Build, Handout, Proof
from nundine.store.week import Week as WeekRow
from tests.api.conftest import Client, Week
from tests.conftest import WEEK


def test_looking_at_two_hundred_weeks_asks_for_few_proofs(client: Client) -> None:
    rene = client("rene")
    for year in (2026, 2027, 2028, 2029):
        for n in range(1, 51):
            assert rene.get(f"/api/weeks/{year}-W{n:02}").status_code == 200
    assert 0 < Proof.select().count() <= proofs.MOST


def test_a_week_is_proven_once_however_often_it_is_looked_at_and_told(week: Week) -> None:
    for _ in range(5):
        week.get()
    assert Proof.select().count() == 1
    proofs.prove_waiting()
    assert Proof.select().count() == 0
    assert week.get()["bound"] > 0
    assert Proof.select().count() == 0


def test_one_proof_is_under_way_at_a_time_and_what_was_cut_off_is_asked_for_again(week: Week) -> None:
    week.get()
    Proof.update(running=True).execute()
    proofs.prove_waiting()
    assert Proof.select().count() == 1, "another worker is at it"
    proofs.cut_off()
    assert proofs.ask(load_state(WEEK))


def test_a_build_that_waits_says_for_what(week: Week, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(builds_api, "enqueue_build", lambda id_: None)
    other = WeekRow.create(name="2026-W50")
    made = week.http.post(f"{week.base}/builds", json={"seconds": 0.3}).json()
    assert made["waits_for"] == "The worker takes it in a moment."
    Proof.create(week=other, asked=builds.settings().now(), running=True)
    Handout.create(
        week=other, revision=1, by="crew", asked=builds.settings().now(), taken=builds.settings().now()
    )
    found = week.get("/builds/latest")
    assert found["waits_for"] == "The worker is at the bound of week 2026-W50, crew sheets of week 2026-W50."
    old = builds.settings().now() - 10 * runs.SILENT
    Build.update(heartbeat=old).execute()
    assert week.get("/builds/latest")["state"] == "waiting", "however long it has to wait"
    builds.run_build(made["id"])
    found = week.get("/builds/latest")
    assert (found["state"], found["waits_for"]) == ("ready", None)


def test_a_build_handed_over_twice_is_built_once(week: Week, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(builds_api, "enqueue_build", lambda id_: None)
    made = week.http.post(f"{week.base}/builds", json={"seconds": 0.3}).json()
    assert runs.waiting() == [(made["id"], "build")]
    Build.update(state="running").execute()
    builds.run_build(made["id"])
    assert week.get("/builds/latest")["state"] == "running", "whoever took it first goes on alone"
