"""Background work goes through one door: one of a kind at a time on a target, stopped, found when its
worker is gone, started again; and what Nundine does by itself happens once at its time, whichever worker
comes first."""

from __future__ import annotations

import threading
from collections.abc import Callable
from datetime import UTC, datetime, time, timedelta
from zoneinfo import ZoneInfo

import pytest

from nundine.jobs import queue
from nundine.services.background import periodic, run_kinds, runs
from nundine.services.background.working import Working
from nundine.services.errors import Refused
from nundine.settings import settings
from nundine.store.base import db
from nundine.store.run import Run, RunFile
from tests.api.conftest import Client, Week
from tests.conftest import WEEK

ZURICH = ZoneInfo("Europe/Zurich")


@pytest.fixture
def trial(client: Client, monkeypatch: pytest.MonkeyPatch) -> Callable[[Callable[[Working], object]], None]:
    """A kind of work for one test: `trial(work)`."""

    def declare(work: Callable[[Working], object]) -> None:
        kind = run_kinds.Kind(
            "trial", work, "It is being tried already.", False, True, False, run_kinds.same_again
        )
        monkeypatch.setitem(run_kinds.KINDS, "trial", kind)

    declare(lambda _: {"well": True})
    return declare


def asked(target: str = "site") -> Run:
    return runs.begin("trial", target, "a trial", None, {"n": 1})


def test_of_a_kind_one_at_a_time_is_under_way_on_a_target_however_many_ask_at_once(trial: object) -> None:
    got: list[object] = []

    def ask() -> None:
        with db.connection_context():
            try:
                got.append(asked().id)
            except Refused as bad:
                got.append(bad.code)

    sides = [threading.Thread(target=ask) for _ in range(6)]
    for side in sides:
        side.start()
    for side in sides:
        side.join()
    assert sorted(map(str, got))[1:] == ["running"] * 5
    asked("elsewhere")
    runs.work_on(next(g for g in got if g != "running"))  # type: ignore[arg-type]
    asked()


def test_what_is_stopped_while_it_waits_is_never_begun(trial: Callable[..., None]) -> None:
    begun: list[int] = []
    trial(lambda working: begun.append(working.id))
    run = asked()
    runs.stop(run)
    runs.work_on(run.id)
    assert (Run.get_by_id(run.id).state, begun) == ("stopped", [])


def test_what_runs_hears_of_a_stop_at_its_next_step_and_its_progress_is_seen(
    trial: Callable[..., None],
) -> None:
    seen: list[float] = []

    def work(working: Working) -> None:
        for n in range(200):
            working.step(0.25)
            threading.Event().wait(0.05)
            with db.connection_context():
                seen.append(Run.get_by_id(working.id).progress or 0.0)
                if seen[-1] == 0.25 and n < 190:
                    Run.update(stop=True).where(Run.id == working.id).execute()

    trial(work)
    run = asked()
    thread = threading.Thread(target=worked_on, args=(run.id,))
    thread.start()
    thread.join()
    assert Run.get_by_id(run.id).state == "stopped"
    assert 0.25 in seen


def worked_on(run_id: int) -> None:
    with db.connection_context():
        runs.work_on(run_id)


def test_what_fails_says_why_and_can_be_started_again_by_whoever_asked(
    client: Client, trial: Callable[..., None]
) -> None:
    tries: list[int] = []

    def work(working: Working) -> dict[str, int]:
        tries.append(working.id)
        if len(tries) == 1:
            raise Refused("no", "The first time is one too early.")
        return {"n": working.asked["n"]}

    trial(work)
    sven, rene = client("sven"), client("rene")
    run = asked()
    runs.work_on(run.id)
    told = sven.get(f"/api/runs/{run.id}").json()
    assert (told["state"], told["error"], told["again"]) == (
        "failed",
        "The first time is one too early.",
        True,
    )
    assert rene.post(f"/api/runs/{run.id}/again").status_code == 404, "it is not hers"
    again = sven.post(f"/api/runs/{run.id}/again").json()
    assert (again["state"], again["by"]) == ("done", "Sven Ostrova")
    assert Run.get_by_id(again["id"]).result == {"n": 1}
    assert sven.post(f"/api/runs/{again['id']}/again").json()["code"] == "state"


def test_a_run_without_a_sign_of_life_is_told_as_failed_and_its_target_is_free_again(
    trial: object, nobody_works: None
) -> None:
    run = asked()
    silent = settings().now() - 2 * runs.SILENT
    Run.update(state="running", heartbeat=silent).where(Run.id == run.id).execute()
    queue.look_after()
    found = Run.get_by_id(run.id)
    assert (found.state, found.error, found.holds) == ("failed", runs.GONE, None)
    asked()


def test_only_what_the_lost_process_was_at_is_cut_off(trial: object) -> None:
    ours, theirs = asked("one"), asked("two")
    Run.update(state="running", worker=runs.worker(4711)).where(Run.id == ours.id).execute()
    Run.update(state="running", worker=runs.worker(4712)).where(Run.id == theirs.id).execute()
    runs.cut_off(4711)
    assert [Run.get_by_id(r.id).state for r in (ours, theirs)] == ["failed", "running"]


def test_what_is_due_is_begun_once_in_its_time_and_can_be_had_at_once(
    client: Client, trial: object, nobody_works: None
) -> None:
    first = periodic.due()
    assert {r.kind for r in first} == {
        "ageing",
        "cleaning",
        "raising",
        "preventive sheets",
        "meter feed",
        "supplier feed",
    }
    assert periodic.due() == [], "another worker finds it begun"
    runs.work_on(next(run.id for run in first if run.kind == "cleaning"))
    assert periodic.due() == []
    sven = client("sven")
    listed = {p["kind"]: p for p in sven.get("/api/runs").json()["periodic"]}
    assert listed["cleaning"]["last"]["state"] == "done"
    assert datetime.fromisoformat(listed["cleaning"]["next"]) > settings().now()
    assert sven.post("/api/runs/periodic/cleaning").json()["state"] == "waiting"
    assert sven.post("/api/runs/periodic/cleaning").json()["code"] == "running"
    assert sven.post("/api/runs/periodic/nothing").status_code == 404
    assert not listed["ageing"]["at_once"]
    assert sven.post("/api/runs/periodic/ageing").status_code == 422, "what is done once a day is done"


@pytest.mark.parametrize(
    ("now", "last", "following"),
    [
        ("2026-03-28T12:00Z", "2026-03-27T23:00Z", "2026-03-28T23:00Z"),
        ("2026-03-29T12:00Z", "2026-03-28T23:00Z", "2026-03-29T22:00Z"),  # the clocks went forward
        ("2026-10-25T12:00Z", "2026-10-24T22:00Z", "2026-10-25T23:00Z"),  # and back
    ],
)
def test_each_day_means_each_day_of_the_sites_clocks(now: str, last: str, following: str) -> None:
    def moment(text: str) -> datetime:
        return datetime.strptime(text, "%Y-%m-%dT%H:%MZ").replace(tzinfo=UTC)

    midnight = periodic.Daily(time(0, 0))
    assert midnight.latest(moment(now), ZURICH) == moment(last)
    assert midnight.following(moment(now), ZURICH) == moment(following)


def test_each_hour_is_at_its_minute() -> None:
    hourly, at = periodic.Hourly(17), datetime(2026, 11, 27, 9, 16, tzinfo=UTC)
    assert hourly.latest(at, ZURICH) == datetime(2026, 11, 27, 8, 17, tzinfo=UTC)
    assert hourly.following(at, ZURICH) == datetime(2026, 11, 27, 9, 17, tzinfo=UTC)
    assert hourly.latest(at + timedelta(minutes=1), ZURICH) == at + timedelta(minutes=1)


def test_who_looks_after_the_site_sees_all_that_was_asked_for_and_who_asked(week: Week) -> None:
    week.build(accept=False)
    listed = week.http.get("/api/runs").json()["runs"]
    build = next(r for r in listed if r["kind"] == "build")
    assert (build["label"], build["by"], build["state"]) == (
        f"a build of week {WEEK}",
        "Sven Ostrova",
        "done",
    )


def test_a_workbook_is_given_to_whoever_asked_for_it_alone(client: Client) -> None:
    sven = client("sven")
    made = sven.post("/api/imports/exports").json()
    assert made["file"] == "nundine-export.xlsx"
    assert sven.get(f"/api/runs/{made['id']}/file").content[:2] == b"PK"
    assert client("ada").get(f"/api/runs/{made['id']}/file").status_code == 404


def test_files_that_can_not_come_in_end_with_their_report(client: Client) -> None:
    sven = client("sven")
    bad = {"files": ("areas.csv", b"area,nome\nx,y\n", "text/csv")}
    assert sven.post("/api/imports/check", files=bad).json()["errors"]
    run = sven.post("/api/imports", files=bad).json()
    assert run["run"]["state"] == "done" and not run["report"]["done"] and run["report"]["errors"]
    assert sven.get(f"/api/imports/runs/{run['run']['id']}").json() == run


def test_stopping_is_offered_only_where_it_does_something(week: Week, nobody_works: None) -> None:
    run = runs.begin("asks", runs.target_of_week(WEEK), "the asks", None, {})
    assert week.http.get(f"/api/runs/{run.id}").json()["can_stop"], "it waits"
    Run.update(state="running", heartbeat=settings().now()).where(Run.id == run.id).execute()
    assert not week.http.get(f"/api/runs/{run.id}").json()["can_stop"]
    assert week.http.post(f"/api/runs/{run.id}/stop").json()["code"] == "stop"


def test_files_that_are_gone_are_not_brought_in_again_as_nothing(client: Client) -> None:
    sven = client("sven")
    given = {"files": ("areas.csv", b"area,name\nx,Y\n", "text/csv")}
    run = sven.post("/api/imports", files=given).json()["run"]
    Run.update(state="failed").where(Run.id == run["id"]).execute()
    RunFile.delete().execute()
    again = sven.post(f"/api/runs/{run['id']}/again").json()
    assert (again["state"], "Choose them again" in again["error"]) == ("failed", True)
