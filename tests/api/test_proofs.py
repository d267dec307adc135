"""Proofs of bounds follow what is looked at, few at once, and keep no build from its turn."""

from __future__ import annotations

import pytest
from peewee import OperationalError

from nundine.services.background import runs
from nundine.services.week import proofs
from nundine.services.week.builds import keep_bound
from nundine.services.week.state import load_state
from nundine.settings import settings
from nundine.store.run import GOING, Run
from nundine.store.week import Week as WeekRow
from tests.api.conftest import Client, Week
from tests.conftest import WEEK


def proofs_going() -> list[int]:
    return [r.id for r in Run.select().where((Run.kind == proofs.KIND) & Run.state.in_(GOING))]


@pytest.mark.long
def test_looking_at_many_weeks_asks_for_few_proofs(client: Client) -> None:
    rene = client("rene")
    for year in (2026, 2028):
        for n in range(1, 31):
            assert rene.get(f"/api/weeks/{year}-W{n:02}").status_code == 200
    assert 0 < len(proofs_going()) <= proofs.MOST


def test_a_week_is_proven_once_however_often_it_is_looked_at_and_told(week: Week) -> None:
    for _ in range(5):
        week.get()
    (only,) = proofs_going()
    runs.work_on(only)
    assert proofs_going() == []
    assert week.get()["bound"] > 0
    assert proofs_going() == []


def test_one_proof_runs_at_a_time_and_whoever_ends_takes_the_next(week: Week, client: Client) -> None:
    week.get()
    client("rene").get("/api/weeks/2026-W50")
    first, second = proofs_going()
    Run.update(state="running", lane=proofs.KIND, heartbeat=settings().now()).where(Run.id == first).execute()
    runs.work_on(second)
    assert Run.get_by_id(second).state == "waiting", "another worker is at it"
    runs.cut_off()
    assert proofs.ask(load_state(WEEK)), "what was cut off is asked for again"
    runs.work_on(second)
    assert proofs_going() == []


def test_a_build_that_waits_says_for_what(week: Week, nobody_works: None) -> None:
    other = WeekRow.create(name="2026-W50")
    made = week.http.post(f"{week.base}/builds", json={"seconds": 0.3}).json()
    assert made["waits_for"] == "The worker takes it in a moment."
    for kind, label in (
        ("bound", "the bound of week 2026-W50"),
        ("crew sheets", "crew sheets of week 2026-W50"),
    ):
        run = runs.begin(kind, runs.target_of_week(other.name), label, None, {})
        Run.update(state="running").where(Run.id == run.id).execute()
    found = week.get("/builds/latest")
    assert found["waits_for"] == "The worker is at the bound of week 2026-W50, crew sheets of week 2026-W50."
    Run.update(heartbeat=settings().now() - 10 * runs.SILENT).execute()
    assert week.get("/builds/latest")["state"] == "waiting", "however long it has to wait"
    runs.work_on(made["id"])
    found = week.get("/builds/latest")
    assert (found["state"], found["waits_for"]) == ("ready", None)


@pytest.mark.parametrize("gone", [False, True])
def test_a_build_is_taken_once_and_told_as_failed_when_its_worker_is_gone(
    week: Week, nobody_works: None, gone: bool
) -> None:
    made = week.http.post(f"{week.base}/builds", json={"seconds": 0.3}).json()
    assert runs.waiting() == [made["id"]]
    heard = settings().now() - (2 * runs.SILENT if gone else 0 * runs.SILENT)
    Run.update(state="running", heartbeat=heard).where(Run.id == made["id"]).execute()
    runs.work_on(made["id"])
    found = week.get("/builds/latest")
    assert (found["state"], found["error"]) == (("failed", runs.GONE) if gone else ("running", None))


def test_a_bound_that_the_database_gave_up_for_anothers_sake_is_written_again(
    week: Week, monkeypatch: pytest.MonkeyPatch
) -> None:
    tries: list[str] = []
    really = WeekRow.update

    def given_up_once(**fields: object) -> object:
        tries.append("update")
        if len(tries) == 1:
            raise OperationalError(1213, "Deadlock found when trying to get lock; try restarting transaction")
        return really(**fields)

    monkeypatch.setattr(WeekRow, "update", given_up_once)
    keep_bound(load_state(WEEK).week, 123.0, "a mark")
    assert len(tries) == 2
    assert WeekRow.get(WeekRow.name == WEEK).bound == 123.0
