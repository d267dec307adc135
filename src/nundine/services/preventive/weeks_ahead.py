"""What falls due in coming weeks by craft, against the hours that there are, and what could move so that no
week is overfull."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, timedelta
from typing import NamedTuple

from nundine.core.preventive.due import window
from nundine.core.preventive.level import Cell, Shift, level, loads, monday_of
from nundine.core.preventive.level import Service as LevelService
from nundine.core.timeline import week_name
from nundine.services.preventive.availability import hours_by_day
from nundine.store.roster import Person, PersonCraft
from nundine.store.site import Craft

TO_COME = "to come"
"""The state of what is not raised yet."""
ROSTERED = 8
"""Weeks whose hours are reckoned shift by shift."""
HOURS_A_WEEK = 36.0
"""Regular hours of a person in a week that no roster reaches yet (common practice, no source)."""


@dataclass(frozen=True)
class ForecastService:
    """Preventive work of a plan on an asset."""

    plan: str
    title: str
    kind: str
    asset: str
    asset_name: str
    area: str
    crew: str


@dataclass(frozen=True)
class ForecastWork:
    """What rungs that fall together ask for: `hours` are work hours by craft."""

    rungs: list[str]
    hours: dict[str, float]


class ForecastLine(NamedTuple):
    """An occurrence: raised already (`order` or `request`, `state`, `done` on a day) or to come; `can_raise`:
    it is what falls due next of its service, and nothing of that is raised."""

    service: ForecastService
    work: ForecastWork
    day: date
    order: str | None = None
    request: str | None = None
    state: str = TO_COME
    can_raise: bool = False
    done: date | None = None

    @property
    def hours(self) -> dict[str, float]:
        return self.work.hours


@dataclass(frozen=True)
class CraftWeek:
    """Hours of a craft that fall due in a week, of them raised, and those of its people that preventive work
    may take."""

    week: str
    due: float
    raised: float
    there: float


@dataclass(frozen=True)
class CraftForecast:
    craft: str
    name: str
    weeks: list[CraftWeek]


@dataclass(frozen=True)
class ShiftLine:
    """A service that could move: its plan and asset, where from and to, and how full the craft is before and
    after, as shares."""

    plan: str
    title: str
    asset: str
    asset_name: str
    day: date
    to: date
    craft: str
    before: float
    after: float


def hours_there(first: date, last: date) -> dict[Cell, float]:
    """Hours a week by craft and Monday: in the next weeks as rosters and absences say, later their mean;
    where there are no rosters, people by their main craft at a usual week's hours. The share that a craft
    holds back is taken off."""
    monday = first - timedelta(days=first.weekday())
    weeks = [monday + timedelta(weeks=n) for n in range(((last - monday).days // 7) + 60)]
    near = weeks[:ROSTERED]
    out: dict[Cell, float] = defaultdict(float)
    for (craft, day), hours in hours_by_day(near[0], near[-1] + timedelta(days=6)).items():
        out[(craft, monday_of(day))] += hours
    rows = PersonCraft.select(Craft.key, Craft.held_back).join(Craft).switch(PersonCraft).join(Person)
    usual: dict[str, float] = defaultdict(float)
    for craft, held_back in rows.where(PersonCraft.rank == 0).tuples():
        usual[craft] += HOURS_A_WEEK * (1 - held_back)
    for craft, hours in usual.items():
        known = sum(out[(craft, w)] for w in near)
        for w in weeks if not known else weeks[ROSTERED:]:
            out[(craft, w)] = known / len(near) if known else hours
    return dict(out)


def by_craft(
    lines: list[ForecastLine], due: dict[Cell, float], there: dict[Cell, float], first: date, last: date
) -> list[CraftForecast]:
    """`due` are the hours that these lines ask for."""
    raised = loads(one for one in lines if one.order or one.request)
    monday = first - timedelta(days=first.weekday())
    weeks = [monday + timedelta(weeks=n) for n in range((last - monday).days // 7 + 1)]
    out = []
    for craft in Craft.select().order_by(Craft.id):
        cells = [(craft.key, w) for w in weeks]
        if any(c in due for c in cells):
            found = [
                CraftWeek(week_name(w), *(round(t.get((craft.key, w), 0.0), 2) for t in (due, raised, there)))
                for w in weeks
            ]
            out.append(CraftForecast(craft.key, craft.name, found))
    return out


def asked_by(lines: list[ForecastLine]) -> dict[Cell, float]:
    """Work hours by craft and week of what is not left out."""
    return loads(one for one in lines if one.state != "left out")


def shifts(
    lines: list[ForecastLine],
    tolerances: dict[str, tuple[int, int]],
    due: dict[Cell, float],
    there: dict[Cell, float],
) -> list[ShiftLine]:
    """The next occurrence of each service alone may move: what comes after follows from it. `tolerances` are
    days before and after, by plan."""
    services = [
        LevelService(str(n), line.day, line.hours, *window(line.day, *tolerances[line.service.plan]))
        for n, line in enumerate(lines)
        if line.can_raise
    ]

    def told(s: Shift) -> ShiftLine:
        of = lines[int(s.id)].service
        of_line = of.plan, of.title, of.asset, of.asset_name
        return ShiftLine(*of_line, s.day, s.to, s.craft, round(s.before, 3), round(s.after, 3))

    return [told(s) for s in level(services, due, there)]
