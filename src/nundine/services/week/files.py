"""A week as files: tables, a person's calendar, and the engine's own."""

from __future__ import annotations

from collections.abc import Collection
from datetime import datetime
from functools import partial
from typing import Any

from nundine.core.week.bound.prove import soon
from nundine.core.week.files import plan_document, problem_document
from nundine.core.week.plan import WeekPlan
from nundine.formats.sheets import Appointment, person_calendar
from nundine.formats.tables import write_csv, write_xlsx
from nundine.services import wording
from nundine.services.errors import NotFound
from nundine.services.week.links import link_to_job
from nundine.services.week.seat_lines import lines, of_areas
from nundine.services.week.state import WeekState
from nundine.settings import settings
from nundine.store.roster import Person

COLUMNS = [
    "WO",
    "title",
    "task",
    "what",
    "asset",
    "asset name",
    "day",
    "start",
    "end",
    "hours",
    "craft",
    "person",
    "name",
    "crew",
    "must",
    "pinned",
]


def calendar(state: WeekState, person: str) -> bytes:
    """An iCalendar file (RFC 5545) of one person's week."""
    found = Person.get_or_none(Person.key == person)
    if found is None:
        raise NotFound("person", f"There is no person {person}.")
    return person_calendar(
        found.name,
        [
            Appointment(
                f"{r.job}-{r.task}-{r.portion}-{person}",
                r.start,
                r.end,
                r.job,
                r.title,
                r.asset_name,
                f"Task {r.task} {r.what}, {r.hours:g} h",
                r.beside,
            )
            for r in lines(state)
            if r.person == person and r.start and r.end
        ],
        partial(link_to_job, state.week.name),
        settings().now(),
    )


def _table(state: WeekState, areas: Collection[str]) -> list[list[Any]]:
    def clock(moment: str | None) -> str | None:
        return f"{datetime.fromisoformat(moment).astimezone(state.zone):%Y-%m-%d %H:%M}" if moment else None

    plain = ("job", "title", "task", "what", "asset", "asset_name", "day")
    more = ("hours", "craft", "person", "name", "crew", "must", "pinned")
    return [
        [*(getattr(r, k) for k in plain), clock(r.start), clock(r.end), *(getattr(r, k) for k in more)]
        for r in of_areas(lines(state), areas)
    ]


def week_csv(state: WeekState, areas: Collection[str] = ()) -> bytes:
    return write_csv(COLUMNS, _table(state, areas))


def week_xlsx(state: WeekState, areas: Collection[str] = ()) -> bytes:
    return write_xlsx({state.week.name: (COLUMNS, _table(state, areas))})


def problem_json(state: WeekState) -> dict[str, Any]:
    """The week problem with the draft as fixed placements (nundine-week/1)."""
    return problem_document(state.draft)


def plan_json(state: WeekState) -> dict[str, Any]:
    """The draft as a plan (nundine-plan/1)."""
    top = (
        state.week.bound
        if state.week.bound_of == state.data_mark and state.week.bound
        else soon(state.problem, 5.0)
    )
    findings = tuple(b.finding() for b in state.checked.conflicts)
    plan = WeekPlan(
        state.week.name,
        "feasible",
        state.checked.value,
        max(top, state.checked.value),
        0.0,
        state.placements,
        (),
        findings,
    )
    return plan_document(plan, wording.in_words(state.names))
