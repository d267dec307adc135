"""Crew sheets.

Those of a revision are laid out once, in the background, and kept with it; those of one person or crew, and
those of a draft, when they are asked for.
"""

from __future__ import annotations

from collections.abc import Collection
from contextlib import suppress
from datetime import date, timedelta
from typing import Any

from nundine.core.timeline import week_name
from nundine.formats.sheets import CrewSheet, SheetLine, crew_sheets_pdf
from nundine.services.background.run_kinds import background
from nundine.services.background.runs import begin
from nundine.services.background.runs import newest as newest_run
from nundine.services.background.working import Working
from nundine.services.cache import remember
from nundine.services.errors import Refused
from nundine.services.week.links import link_to_job
from nundine.services.week.publish import revision
from nundine.services.week.seat_lines import SeatLine, frozen_lines, lines, of_areas
from nundine.services.week.state import WeekState, load_state
from nundine.services.wording.phrases import day_words
from nundine.settings import settings
from nundine.store.reading.kits import kits_of
from nundine.store.run import GOING, Run
from nundine.store.site import Area
from nundine.store.week import Handout, Revision, Week

KIND = "crew sheets"
BY = ("person", "crew")
FAILED = "The sheets could not be laid out. Ask for them again."


def newest(week: Week) -> int:
    """Number of the revision that is out; 0 for none."""
    return int(
        Revision.select(Revision.number)
        .where(Revision.week == week)
        .order_by(Revision.number.desc())
        .scalar()
        or 0
    )


def to_make(week: Week, number: int, areas: Collection[str] = (), by: Collection[str] = BY) -> list[Run]:
    """Runs that lay out the sheets of a revision that are not there and that nobody is at."""
    asked = []
    for one in by:
        key = _key(week, number, one, areas)
        Handout.insert(**key, asked=settings().now()).on_conflict_ignore().execute()
        row = Handout.select(Handout.id, Handout.made).where(*_is(key)).get()
        if row.made is None:
            with suppress(Refused):  # somebody is at it
                asked.append(begin(KIND, f"sheets {row.id}", f"crew sheets of week {week.name}", None, {}))
    return asked


def _key(week: Week, number: int, by: str, areas: Collection[str]) -> dict[str, Any]:
    """What tells sheets apart. Raises Refused for areas that the site does not have, and for more than can be
    kept apart."""
    known = {key for (key,) in Area.select(Area.key).tuples()}
    unknown = sorted(set(areas) - known)
    if unknown:
        raise Refused("unknown", f"There is no area {unknown[0][:40]!r}.", field="areas")
    chosen = ";".join(sorted(set(areas)))
    if len(chosen) > Handout.areas.max_length:
        raise Refused(
            "areas", "These are too many areas for one set of sheets. Choose fewer, or all.", field="areas"
        )
    return {"week": week.id, "revision": number, "by": by, "areas": chosen}


def _is(key: dict[str, Any]) -> list[Any]:
    return [getattr(Handout, name) == value for name, value in key.items()]


@background(KIND, busy="These sheets are being made already.")
def make(working: Working) -> dict[str, Any]:
    """What the worker does: lay the sheets out and keep them."""
    row = Handout.get_or_none(Handout.id == int(working.target.removeprefix("sheets ")))
    if row is None:
        raise Refused("not made", "These sheets are not wanted any more. Ask for them on their page.")
    state = load_state(row.week.name)
    frozen = frozen_lines(revision(row.week, row.revision).content)
    body = _laid_out(state, row.by, of_areas(frozen, row.areas.split(";") if row.areas else []), row.revision)
    Handout.update(content=body, made=settings().now()).where(Handout.id == row.id).execute()
    return {}


def kept(week: Week, number: int, by: str, areas: Collection[str] = ()) -> bytes | None:
    """The sheets of a revision, if they are made. Raises Refused where making them failed."""
    row = Handout.select(Handout.id, Handout.content).where(*_is(_key(week, number, by, areas))).first()
    if row is not None and row.content is not None:
        return bytes(row.content)
    run = newest_run(KIND, f"sheets {row.id}") if row is not None else None
    if run is None or run.state not in GOING:
        raise Refused("not made", FAILED)
    return None


def sheets_of(state: WeekState, by: str, only: str, number: int) -> bytes:
    """The sheet of one person or crew, of a revision, or of the week as it stands (0)."""
    rows = frozen_lines(revision(state.week, number).content) if number else lines(state)
    return _laid_out(state, by, [r for r in rows if only in (r.person, r.crew)], number)


def sheets_from(first: date, by: str, only: str | None = None, areas: Collection[str] = ()) -> bytes:
    """Sheets of seven days from any first one, as they stand, of everybody or of one person or crew."""
    last = first + timedelta(days=6)
    weeks = [load_state(name) for name in dict.fromkeys((week_name(first), week_name(last)))]
    rows = [
        r
        for state in weeks
        for r in of_areas(lines(state), areas)
        if first.isoformat() <= r.day <= last.isoformat() and only in (None, r.person, r.crew)
    ]
    return _laid_out(weeks[0], by, rows, 0, f"{day_words(first)} to {day_words(last)}")


def draft_sheets(state: WeekState, by: str, areas: Collection[str] = ()) -> bytes:
    """Sheets of the week as it stands, published or not; kept until its next edit."""
    kits = tuple(sorted(kits_of({p.job for p in state.placements}).items()))
    key = ("sheets", id(state.problem), state.week.name, state.week.edits, by, tuple(sorted(areas)), kits)
    return bytes(remember(key, state.problem, lambda: _laid_out(state, by, of_areas(lines(state), areas), 0)))


def _laid_out(state: WeekState, by: str, rows: list[SeatLine], number: int, days: str | None = None) -> bytes:
    """The sheets of some lines; `days` says which days they are of, if not those of the week."""
    pages: dict[str, list[SheetLine]] = {}
    kits = kits_of({r.job for r in rows})
    for r in rows:
        page = r.name if by == "person" else r.crew
        if page:
            line = SheetLine(
                r.day,
                r.start,
                r.end,
                r.hours,
                r.job,
                r.title,
                f"{r.task} {r.what}",
                r.asset_name,
                r.window,
                r.name or "",
                r.beside,
                [*r.notes, *([f"parts: {kits[r.job]}"] if r.job in kits else [])],
                link_to_job(week_name(date.fromisoformat(r.day)), r.job),
            )
            pages.setdefault(page, []).append(line)
    found = tuple(CrewSheet(name, by, tuple(its)) for name, its in sorted(pages.items()))
    week = state.week
    of = days or f"week {week.name}"
    return crew_sheets_pdf(state.site.name, of, number, week.status, state.zone, found, by == "crew")
