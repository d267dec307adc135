"""Crew sheets.

Those of a revision are laid out once, in the background, and kept with it; those of one person or crew, and
those of a draft, when they are asked for.
"""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from nundine.formats.sheets import CrewSheet, SheetLine, crew_sheets_pdf
from nundine.services.cache import remember
from nundine.services.errors import Refused
from nundine.services.week.publish import revision
from nundine.services.week.seat_lines import lines, of_areas
from nundine.services.week.state import WeekState, load_state
from nundine.settings import settings
from nundine.store.site import Area
from nundine.store.week import Handout, Revision, Week

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


def to_make(week: Week, number: int, areas: Collection[str] = (), by: Collection[str] = BY) -> list[int]:
    """Rows of the sheets of a revision that are still to be laid out, made where they are missing."""
    waiting = []
    for one in by:
        key = _key(week, number, one, areas)
        Handout.insert(**key, asked=settings().now()).on_conflict_ignore().execute()
        row = Handout.select(Handout.id, Handout.made, Handout.taken).where(*_is(key)).get()
        if row.made is None and row.taken is None:
            waiting.append(row.id)
    return waiting


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


def make(id_: int) -> None:
    """What the worker does: lay the sheets out and keep them. Once, however often it is asked."""
    free = (Handout.id == id_) & Handout.taken.is_null()
    if not Handout.update(taken=settings().now()).where(free).execute():
        return
    row = Handout.get_by_id(id_)
    try:
        state = load_state(row.week.name)
        frozen = revision(row.week, row.revision).content["lines"]
        body = _laid_out(
            state, row.by, of_areas(frozen, row.areas.split(";") if row.areas else []), row.revision
        )
        Handout.update(content=body, made=settings().now()).where(Handout.id == id_).execute()
    except Exception:
        Handout.delete().where(Handout.id == id_).execute()
        raise


def cut_off() -> None:
    """At the start of the one database no worker can be at work: what was being laid out when it ended is to
    be made again."""
    Handout.update(taken=None).where(Handout.made.is_null()).execute()


def kept(week: Week, number: int, by: str, areas: Collection[str] = ()) -> bytes | None:
    """The sheets of a revision, if they are made. Raises Refused where making them failed."""
    row = Handout.select(Handout.content).where(*_is(_key(week, number, by, areas))).first()
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
                r.get("notes", []),
            )
            pages.setdefault(r[group], []).append(line)
    found = tuple(CrewSheet(name, by, tuple(its)) for name, its in sorted(pages.items()))
    week = state.week
    return crew_sheets_pdf(state.site.name, week.name, number, week.status, state.zone, found, by == "crew")
