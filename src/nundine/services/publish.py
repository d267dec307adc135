"""Freezing a week as a revision, comparing revisions, and what is handed out: sheets, calendars, tables."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from peewee import fn

from nundine.core.week.build.prove import proven_within
from nundine.core.week.files import plan_document, problem_document
from nundine.core.week.load import portion_hours
from nundine.core.week.plan import WeekPlan
from nundine.formats.sheets import CrewSheet, SheetLine, crew_sheets_pdf, person_calendar
from nundine.formats.tables import write_csv, write_xlsx
from nundine.services.backlog import summary
from nundine.services.crew import titles
from nundine.services.errors import NotFound, Refused
from nundine.services.log import Change, Edit, run
from nundine.services.state import WeekState, forget, load_locked, remember
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.roster import Person
from nundine.store.site import Craft
from nundine.store.week import Revision, Week

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


def lines(state: WeekState) -> list[dict[str, Any]]:
    """A line for each seat of the week: what, where, when, who."""
    named = titles(state)
    people = {p.key: p for p in Person.select()}
    crafts = {c.key: c.name for c in Craft.select()}
    assets = {a.key: a.name for a in Asset.select(Asset.key, Asset.name)}
    out = []
    for p in state.placements:
        job, info = state.problem.job_by_id[p.job], named[p.job]
        task = job.task(p.task)
        for n, (seat, need) in enumerate(zip(p.people, task.seat_needs, strict=True)):
            who = people.get(seat.id or "")
            out.append(
                {
                    "job": p.job, "title": info["title"], "task": p.task, "what": info["tasks"].get(p.task, ""), "portion": p.portion, "asset": job.asset,
                    "asset_name": assets.get(job.asset or "", ""), "day": p.day.isoformat(), "start": p.start.isoformat() if p.start else None,
                    "end": p.end.isoformat() if p.end else None, "hours": round(portion_hours(p, task), 2), "craft": crafts[need.craft],
                    "seat": n, "person": seat.id, "name": who.name if who else None, "crew": who.crew if who else None, "must": info["must"],
                    "pinned": state.rows[p.key]["pinned"], "asset_state": task.asset_state,
                    "with": [people[s.id].name for s in p.people if s.id and s.id != seat.id],
                }
            )  # fmt: skip
    return sorted(out, key=in_time)


def in_time(line: dict[str, Any]) -> tuple[str, str, str]:
    """Orders lines by the moment at which they begin; what has no time comes at the end of its day."""
    start = datetime.fromisoformat(line["start"]).astimezone(UTC).isoformat() if line["start"] else None
    return (start or f"{line['day']}T~", line["job"], line["task"])


def weeks_of_backlog(state: WeekState) -> list[dict[str, Any]]:
    """Weeks of ready backlog by craft, as it stands."""
    return [{"craft": c["craft"], "name": c["name"], "weeks": c["weeks"]} for c in summary(state)["crafts"]]


def publish(week_name: str, account: Account) -> Revision:
    """Freeze the week as it stands. An agreed or published week may be published; conflicts must be gone or are named.

    The week is locked before anything of it is read, so that the revision holds what its count of edits says.
    """
    try:
        with db.atomic():
            return _publish(load_locked(week_name), account)
    except BaseException:
        forget()  # what was read inside the transaction may be taken back with it
        raise


def _publish(state: WeekState, account: Account) -> Revision:
    if state.week.status not in ("agreed", "published"):
        raise Refused("status", f"The week is {state.week.status}. Agree it first (step 3), then publish.")
    if not state.placements:
        raise Refused("empty", "Nothing is placed in this week, so there is nothing to publish.")
    if state.week.status == "agreed":
        change = Change("week", [state.week.name], {"status": "agreed"}, {"status": "published"})
        run(state.week, account, Edit("publish", "Publish the week", [change]), None)
    week = Week.get(Week.id == state.week.id)
    newest = Revision.select(fn.MAX(Revision.number)).where(Revision.week == week).scalar() or 0
    content = {
        "lines": lines(state),
        "backlog": weeks_of_backlog(state),
        "value": state.checked.value,
        "conflicts": [b.text for b in state.checked.conflicts],
    }
    return Revision.create(
        week=week,
        number=newest + 1,
        at=settings().now(),
        account=account,
        edits=week.edits,
        content=content,
    )


def revisions(week: Week) -> list[dict[str, Any]]:
    rows = (
        Revision.select(Revision.number, Revision.at, Revision.edits, Account.full_name)
        .join(Account)
        .where(Revision.week == week)
        .order_by(Revision.number.desc())
    )
    return [{"number": r.number, "at": r.at.isoformat(), "by": r.account.full_name} for r in rows]


def revision(week: Week, number: int) -> Revision:
    found = Revision.get_or_none((Revision.week == week) & (Revision.number == number))
    if found is None:
        raise NotFound("revision", f"Week {week.name} has no revision {number}.")
    return found


def compare(before: list[dict[str, Any]], after: list[dict[str, Any]]) -> dict[str, list[dict[str, Any]]]:
    """Seats that are new, gone, or changed in day, time or person between two lists of lines."""

    def by_key(rows: list[dict[str, Any]]) -> dict[tuple[str, str, int, int], dict[str, Any]]:
        seen: dict[tuple[str, str, int], int] = {}
        out = {}
        for r in rows:
            k = (r["job"], r["task"], r["portion"])
            seen[k] = seen.get(k, -1) + 1
            out[(*k, seen[k])] = r
        return out

    a, b = by_key(before), by_key(after)
    changed = []
    for key in a.keys() & b.keys():
        what = [f for f in ("day", "start", "name") if a[key][f] != b[key][f]]
        if what:
            changed.append({"before": a[key], "after": b[key], "what": what})
    return {
        "added": [b[k] for k in sorted(b.keys() - a.keys())],
        "removed": [a[k] for k in sorted(a.keys() - b.keys())],
        "changed": sorted(changed, key=lambda c: (c["after"]["day"], c["after"]["job"])),
    }


def changes_since(state: WeekState, number: int) -> dict[str, Any]:
    """A revision against the one before it, or for 0 the week as it stands against the newest revision."""
    if number == 0:
        newest = revisions(state.week)
        base = revision(state.week, newest[0]["number"]).content["lines"] if newest else []
        return compare(base, lines(state))
    base = revision(state.week, number - 1).content["lines"] if number > 1 else []
    return compare(base, revision(state.week, number).content["lines"])


def sheets_pdf(state: WeekState, by: str, only: str | None) -> bytes:
    """Crew sheets as PDF, a page for each person or crew. Kept until the week's next edit: laying out a whole site takes seconds."""
    number = max((r["number"] for r in revisions(state.week)), default=0)
    key = ("sheets", id(state.problem), state.week.name, state.week.edits, number, by, only)
    return bytes(remember(key, state.problem, lambda: _sheets_pdf(state, by, only, number)))


def _sheets_pdf(state: WeekState, by: str, only: str | None, number: int) -> bytes:
    group, label = ("name", "person") if by == "person" else ("crew", "crew")
    rows = [
        r for r in lines(state) if r[group] and (only is None or r["person"] == only or r["crew"] == only)
    ]
    pages: dict[str, list[SheetLine]] = {}
    for r in rows:
        windows = _windows(state, r)
        pages.setdefault(r[group], []).append(
            SheetLine(
                r["day"],
                r["start"],
                r["end"],
                r["hours"],
                r["job"],
                r["title"],
                f"{r['task']} {r['what']}",
                r["asset_name"],
                windows,
                r["name"],
                r["with"],
            )
        )
    found = [CrewSheet(name, label, tuple(found)) for name, found in sorted(pages.items())]
    return crew_sheets_pdf(
        state.site.name, state.week.name, number, state.week.status, state.zone, tuple(found), by == "crew"
    )


def _windows(state: WeekState, r: dict[str, Any]) -> str:
    asset = state.problem.asset_by_id.get(r["asset"] or "")
    if asset is None or r["asset_state"] == "any":
        return ""
    if r["asset_state"] == "running":
        return "asset running"
    if asset.work_windows is None:
        return "asset stopped"
    inside = [
        w
        for w in asset.work_windows
        if r["start"] and w.start.isoformat()[:10] <= r["start"][:10] <= w.end.isoformat()[:10]
    ]
    return (
        "stopped; window " + ", ".join(f"{w.start:%H:%M}–{w.end:%H:%M}" for w in inside)
        if inside
        else "stopped; no window"
    )


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


def _table(state: WeekState) -> list[list[Any]]:
    return [
        [r["job"], r["title"], r["task"], r["what"], r["asset"], r["asset_name"], r["day"], _clock(state, r["start"]), _clock(state, r["end"]), r["hours"],
         r["craft"], r["person"], r["name"], r["crew"], r["must"], r["pinned"]]
        for r in lines(state)
    ]  # fmt: skip


def _clock(state: WeekState, moment: str | None) -> str | None:

    return f"{datetime.fromisoformat(moment).astimezone(state.zone):%Y-%m-%d %H:%M}" if moment else None


def week_csv(state: WeekState) -> bytes:
    return write_csv(COLUMNS, _table(state))


def week_xlsx(state: WeekState) -> bytes:
    return write_xlsx({state.week.name: (COLUMNS, _table(state))})


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
