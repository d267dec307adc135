"""What is of no use after a time goes by itself, after as long as Set-up says; the log stays always."""

from __future__ import annotations

from datetime import timedelta

import pytest

from nundine.services.admin import cleaning
from nundine.services.week import crew_sheets, proofs
from nundine.settings import settings
from nundine.store.ledger import LedgerEntry
from nundine.store.run import Run
from nundine.store.week import Event, Handout, Revision
from tests.api.conftest import Client, Week


@pytest.fixture
def left_waiting() -> set[str]:
    """Sheets are made."""
    return {proofs.KIND}


def age(days: float) -> None:
    """All that was done was done so many days earlier."""
    then = settings().now() - timedelta(days=days)
    Event.update(at=then).execute()
    Run.update(created=then, ended=then).execute()
    Handout.update(made=then).where(Handout.made.is_null(False)).execute()


def build_of_then() -> Run:
    return Run.get(Run.kind == "build")


@pytest.mark.long
def test_events_go_after_a_day_plans_after_a_month_and_sheets_after_three(published: Week) -> None:
    commands, revisions = LedgerEntry.select().count(), Revision.select().count()
    assert Event.select().count() and Handout.select().where(Handout.made.is_null(False)).count()
    cleaning.clean()
    assert Event.select().count(), "what is of today stays"
    age(2)
    cleaning.clean()
    assert Event.select().count() == 0
    assert build_of_then().result
    age(40)
    cleaning.clean()
    assert (build_of_then().result, build_of_then().outcome) == (None, "accepted")
    assert Handout.select().count()
    age(100)
    cleaning.clean()
    assert Handout.select().count() == 0
    assert (LedgerEntry.select().count(), Revision.select().count()) == (commands, revisions)


@pytest.mark.long
def test_sheets_that_are_wanted_again_are_made_again(published: Week) -> None:
    age(100)
    cleaning.clean()
    assert published.http.get(f"{published.base}/sheets.pdf").content.startswith(b"%PDF")
    assert crew_sheets.newest(Revision.get().week) == 1


def test_a_plan_that_nobody_accepted_is_dropped_with_its_time(week: Week) -> None:
    week.build(accept=False)
    age(40)
    cleaning.clean()
    assert (
        week.get(
            "/builds/latest",
        )
        is None
    )


def test_set_up_says_how_long_and_refuses_what_is_none(client: Client, week: Week) -> None:
    found = week.http.get("/api/setup").json()
    assert found["keep_days"] == {"events": 1, "plans": 31, "sheets": 92}
    form = {
        "seconds": found["seconds"],
        "weights": found["weights"],
        "held_back": {},
        "keep_days": {"events": 3, "plans": 10, "sheets": 20},
    }
    assert week.http.put("/api/setup", json=form).json()["keep_days"]["plans"] == 10
    week.build(accept=False)
    age(11)
    cleaning.clean()
    assert Event.select().count() == 0
    assert build_of_then().result is None
    refused = week.http.put(
        "/api/setup", json={**form, "keep_days": {"events": 0, "plans": 10, "sheets": 20}}
    )
    assert refused.status_code == 422
    assert refused.json()["field"] == "events"


def test_cleaning_an_empty_site_does_nothing(fresh: None) -> None:
    cleaning.clean()
