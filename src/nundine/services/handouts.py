"""What is handed out: crew sheets, calendars, tables, and the week as files of the engine.

Crew sheets of a revision are laid out once, in the background, and kept with it; those of one person or crew, and those of a
draft, when they are asked for.
"""

from __future__ import annotations

from collections.abc import Collection
from datetime import datetime
from typing import Any

from nundine.core.week.build.prove import proven_within
from nundine.core.week.files import plan_document, problem_document
from nundine.core.week.plan import WeekPlan
from nundine.formats.sheets import CrewSheet, SheetLine, crew_sheets_pdf, person_calendar
from nundine.formats.tables import write_csv, write_xlsx
from nundine.services.errors import NotFound, Refused
from nundine.services.lines import lines, of_areas
from nundine.services.publish import revision
from nundine.services.state import WeekState, load_state, remember
from nundine.settings import settings
from nundine.store.roster import Person
from nundine.store.week import Handout, Revision, Week

BY = ("person", "crew")
FAILED = "The sheets could not be laid out. Ask for them again."

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


def newest(week: Week) -> int:
    """Number of the revision that is out; 0 for none."""
    return int(
        Revision.select(Revision.number)
        .where(Revision.week == week)
        .order_by(Revision.number.desc())
        .scalar()
        or 0
    )


def to_make(week: Week, number: int, areas: Collection[str] = (), by: Collection[str] = BY) -> list[int]:
    """Rows of the sheets of a revision that are still to be laid out, made where they are missing."""
    chosen = " ".join(sorted(areas))
    waiting = []
    for one in by:
        key = {"week": week.id, "revision": number, "by": one, "areas": chosen}
        Handout.insert(**key, asked=settings().now()).on_conflict_ignore().execute()
        row = Handout.select(Handout.id, Handout.made, Handout.taken).where(*_is(key)).get()
        if row.made is None and row.taken is None:
            waiting.append(row.id)
    return waiting


def _is(key: dict[str, Any]) -> list[Any]:
    return [getattr(Handout, name) == value for name, value in key.items()]


def make(id_: int) -> None:
    """What the worker does: lay the sheets out and keep them. Once, however often it is asked."""
    free = (Handout.id == id_) & Handout.taken.is_null()
    if not Handout.update(taken=settings().now()).where(free).execute():
        return
    row = Handout.get_by_id(id_)
    try:
        state = load_state(row.week.name)
        frozen = revision(row.week, row.revision).content["lines"]
        body = _laid_out(state, row.by, of_areas(frozen, row.areas.split()), row.revision)
        Handout.update(content=body, made=settings().now()).where(Handout.id == id_).execute()
    except Exception:
        Handout.delete().where(Handout.id == id_).execute()
        raise


def kept(week: Week, number: int, by: str, areas: Collection[str] = ()) -> bytes | None:
    """The sheets of a revision, if they are made. Raises Refused where making them failed."""
    key = {"week": week.id, "revision": number, "by": by, "areas": " ".join(sorted(areas))}
    row = Handout.select(Handout.content).where(*_is(key)).first()
    if row is None:
        raise Refused("not made", FAILED)
    return bytes(row.content) if row.content is not None else None


def sheets_of(state: WeekState, by: str, only: str, number: int) -> bytes:
    """The sheet of one person or crew, of a revision, or of the week as it stands (0)."""
    rows = revision(state.week, number).content["lines"] if number else lines(state)
    return _laid_out(state, by, [r for r in rows if only in (r["person"], r["crew"])], number)


def draft_sheets(state: WeekState, by: str, areas: Collection[str] = ()) -> bytes:
    """Sheets of the week as it stands, published or not; kept until its next edit."""
    key = ("sheets", id(state.problem), state.week.name, state.week.edits, by, tuple(sorted(areas)))
    return bytes(remember(key, state.problem, lambda: _laid_out(state, by, of_areas(lines(state), areas), 0)))


def _laid_out(state: WeekState, by: str, rows: list[dict[str, Any]], number: int) -> bytes:
    group = "name" if by == "person" else "crew"
    pages: dict[str, list[SheetLine]] = {}
    for r in rows:
        if r[group]:
            task = f"{r['task']} {r['what']}"
            line = SheetLine(
                r["day"],
                r["start"],
                r["end"],
                r["hours"],
                r["job"],
                r["title"],
                task,
                r["asset_name"],
                r.get("window", ""),
                r["name"],
                r["with"],
            )
            pages.setdefault(r[group], []).append(line)
    found = tuple(CrewSheet(name, by, tuple(its)) for name, its in sorted(pages.items()))
    week = state.week
    return crew_sheets_pdf(state.site.name, week.name, number, week.status, state.zone, found, by == "crew")


def calendar(state: WeekState, person: str) -> bytes:
    """An iCalendar file (RFC 5545) of one person's week."""
    found = Person.get_or_none(Person.key == person)
    if found is None:
        raise NotFound("person", f"There is no person {person}.")
    return person_calendar(
        found.name,
        [r for r in lines(state) if r["person"] == person and r["start"]],
        state.zone,
        settings().now(),
    )


def _table(state: WeekState, areas: Collection[str]) -> list[list[Any]]:
    def clock(moment: str | None) -> str | None:
        return f"{datetime.fromisoformat(moment).astimezone(state.zone):%Y-%m-%d %H:%M}" if moment else None

    plain = ("job", "title", "task", "what", "asset", "asset_name", "day")
    more = ("hours", "craft", "person", "name", "crew", "must", "pinned")
    return [
        [*(r[k] for k in plain), clock(r["start"]), clock(r["end"]), *(r[k] for k in more)]
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
        else proven_within(state.problem, 5.0)
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
    return plan_document(plan)
