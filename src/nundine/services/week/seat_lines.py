"""A line for each seat of a week: what, where, when, who; the rows of revisions, sheets, tables and
reviews."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field, fields
from datetime import UTC, datetime
from typing import Any, Protocol

from nundine.core.week import problem as core
from nundine.core.week.load import portion_hours
from nundine.services.week import workable
from nundine.services.week.state import WeekState
from nundine.services.week.titles import titles
from nundine.store.asset import Asset
from nundine.store.roster import Person
from nundine.store.site import Craft


@dataclass(frozen=True)
class SeatLine:
    """One seat: its task, the local moments (ISO) from which to which it lasts, its hours, and who sits in
    it.

    What older revisions do not hold has a value that says nothing.
    """

    job: str
    title: str
    task: str
    what: str
    portion: int
    day: str
    start: str | None
    end: str | None
    hours: float
    craft: str
    name: str | None
    person: str | None = None
    seat: int = 0
    crew: str | None = None
    asset: str | None = None
    asset_name: str = ""
    must: bool = False
    pinned: bool = False
    asset_state: str = ""
    beside: list[str] = field(default_factory=list)
    """Names of those who work on the same portion."""
    area: str | None = None
    notes: list[str] = field(default_factory=list)
    window: str = ""

    @property
    def key(self) -> tuple[str, str, int]:
        return (self.job, self.task, self.portion)


KEPT = tuple(f.name for f in fields(SeatLine))


def frozen_lines(content: Mapping[str, Any]) -> list[SeatLine]:
    """The lines of a revision, as it holds them."""
    return [
        SeatLine(**{"beside": line.get("with", []), **{k: line[k] for k in KEPT if k in line}})
        for line in content["lines"]
    ]


def lines(state: WeekState) -> list[SeatLine]:
    """A line for each seat of the week: what, where, when, who."""
    named = titles(state)
    people = {p.key: p for p in Person.select()}
    crafts = {c.key: c.name for c in Craft.select()}
    assets = {a.key: a.name for a in Asset.select(Asset.key, Asset.name)}
    areas = {p.id: p.area for p in state.problem.people}
    ways, (began, finish) = workable.ways(state), workable.handovers(state)
    out = []
    for p in state.placements:
        job, info = state.problem.job_by_id[p.job], named[p.job]
        task = job.task(p.task)
        asset = state.problem.asset_by_id.get(job.asset or "")
        for n, (seat, need) in enumerate(zip(p.people, task.seat_needs, strict=True)):
            who = people.get(seat.id or "")
            notes = _notes(ways.get((seat.id or "", p.key)), began.get(p.key), finish.get(p.key))
            out.append(
                SeatLine(
                    job=p.job,
                    title=info.title,
                    task=p.task,
                    what=info.tasks.get(p.task, ""),
                    portion=p.portion,
                    asset=job.asset,
                    asset_name=assets.get(job.asset or "", ""),
                    day=p.day.isoformat(),
                    start=p.start.isoformat() if p.start else None,
                    end=p.end.isoformat() if p.end else None,
                    hours=round(portion_hours(p, task), 2),
                    craft=crafts[need.craft],
                    seat=n,
                    person=seat.id,
                    name=who.name if who else None,
                    crew=who.crew if who else None,
                    must=info.must,
                    pinned=state.rows[p.key]["pinned"],
                    asset_state=task.asset_state,
                    beside=[people[s.id].name for s in p.people if s.id and s.id != seat.id],
                    area=areas.get(seat.id or "", job.area) if seat.id else job.area,
                    notes=notes if seat.id else [],
                    window=window_words(asset, task.asset_state, p),
                )
            )
    return sorted(out, key=in_time)


def _notes(way: workable.Way | None, began: str | None, finish: str | None) -> list[str]:
    """What a person has to know beside the work: where to go first, whose work this goes on with, who goes on
    with it."""
    out = []
    if way is not None:
        minutes = f", {way.minutes:g} min on the way" if way.minutes else ""
        out.append(f"go from {way.comes_from} to {way.goes_to} first{minutes}")
    if began:
        out.append(f"you finish what {began} began")
    if finish:
        out.append(f"you begin what {finish} finishes")
    return out


class InTime(Protocol):
    """What is ordered by its time: a seat, or a task of the review."""

    @property
    def job(self) -> str: ...
    @property
    def task(self) -> str: ...
    @property
    def day(self) -> str: ...
    @property
    def start(self) -> str | None: ...


def in_time(line: InTime) -> tuple[str, str, str]:
    """Orders lines by the moment at which they begin; what has no time comes at the end of its day."""
    start = datetime.fromisoformat(line.start).astimezone(UTC).isoformat() if line.start else None
    return (start or f"{line.day}T~", line.job, line.task)


def of_areas(rows: list[SeatLine], areas: Collection[str]) -> list[SeatLine]:
    """Lines of people of some areas, and open seats of their jobs; all where no area is given."""
    return [r for r in rows if not areas or r.area is None or r.area in areas]


def window_words(asset: core.Asset | None, asset_state: str, one: core.Placement) -> str:
    """In which state the asset is for the work, and its windows of that day."""
    if asset is None or asset_state == core.ANY:
        return ""
    if asset_state == core.RUNNING:
        return "asset running"
    if asset.work_windows is None:
        return "asset stopped"
    day = one.start.date() if one.start is not None else None
    inside = [w for w in asset.work_windows if day and w.start.date() <= day <= w.end.date()]
    if not inside:
        return "stopped; no window"
    return "stopped; window " + ", ".join(f"{w.start:%H:%M}–{w.end:%H:%M}" for w in inside)
