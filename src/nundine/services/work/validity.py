"""What does not hold on the day for which a WO is planned: its job plan, a craft, whoever is answerable. Said
while it is entered; nothing is refused for it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from zoneinfo import ZoneInfo

from nundine.formats.bad import BadCell
from nundine.services.exchange import cells
from nundine.services.exchange.forms import Cells
from nundine.services.wording.phrases import day_words
from nundine.settings import settings
from nundine.store.job_plan import JobPlan
from nundine.store.roster import Person, RosterLine
from nundine.store.site import Craft, site


@dataclass(frozen=True)
class Remark:
    """The cell that it is about, and what does not hold, in words."""

    field: str
    text: str


def remarks(order: Cells, tasks: list[Cells]) -> list[Remark]:
    """Looks at the WO's first possible day, else its due day, else today; back-dated ones alike."""
    zone = ZoneInfo(site().timezone)
    plan, crew = ((order.get(name) or "").strip() for name in ("plan", "crew"))
    return on_day(_day_of(order, zone), plan, _crafts_of(tasks, zone), crew)


def on_day(day: date, plan: str, crafts: Mapping[str, str], crew: str) -> list[Remark]:
    """The same of a day alone.

    Parameters
    ----------
    plan
        The number of a job plan, or "".
    crafts
        The cell that each craft stands in.
    crew
        The name of a crew or person, or "".
    """
    return [*_of_plan(plan, day), *_of_crafts(crafts, day), *_of_crew(crew, day)]


def _day_of(order: Cells, zone: ZoneInfo) -> date:
    for name in ("earliest", "due"):
        try:
            if (order.get(name) or "").strip():
                found: date = cells.moment(order[name], zone).astimezone(zone).date()
                return found
        except BadCell:
            continue  # saving says what is wrong with it
    return settings().day(site().timezone)


def _of_plan(number: str, day: date) -> list[Remark]:
    one = JobPlan.get_or_none(JobPlan.number == number) if number else None
    if one is None:
        return []
    if one.state != "in force":
        return [Remark("plan", f"Job plan {number} is {one.state}.")]
    if one.valid_from and one.valid_from > day:
        from_when = day_words(one.valid_from)
        return [Remark("plan", f"Job plan {number} holds from {from_when} on, not yet on {day_words(day)}.")]
    return []


def _crafts_of(tasks: list[Cells], zone: ZoneInfo) -> dict[str, str]:
    used: dict[str, str] = {}
    for n, task in enumerate(tasks):
        try:
            needs = cells.needs(task["needs"], zone) if (task.get("needs") or "").strip() else ()
        except BadCell:
            continue
        for craft, *_ in needs:
            used.setdefault(craft, f"tasks.{n}.needs")
    return used


def _of_crafts(used: Mapping[str, str], day: date) -> list[Remark]:
    found = []
    for craft in Craft.select().where(Craft.key.in_(sorted(used) or [""])).order_by(Craft.id):
        field = used[craft.key]
        if craft.valid_from and craft.valid_from > day:
            text = (
                f"There are {craft.name}s from {day_words(craft.valid_from)} on, not yet on {day_words(day)}."
            )
            found.append(Remark(field, text))
        elif craft.valid_to and craft.valid_to < day:
            text = f"There are {craft.name}s until {day_words(craft.valid_to)}, no more on {day_words(day)}."
            found.append(Remark(field, text))
    return found


def _of_crew(name: str, day: date) -> list[Remark]:
    """A crew, or a person, of whom nobody stands on the roster that day."""
    if not name:
        return []
    people = [p.id for p in Person.select(Person.id).where((Person.crew == name) | (Person.name == name))]
    if not people:
        return []
    lines = RosterLine.person.in_(people) & (RosterLine.first <= day)
    if RosterLine.select().where(lines & (RosterLine.last.is_null() | (RosterLine.last >= day))).exists():
        return []
    first = RosterLine.select(RosterLine.first).where(
        RosterLine.person.in_(people) & (RosterLine.first > day)
    )
    begins = first.order_by(RosterLine.first).limit(1).scalar()
    again = f"; from {day_words(begins)} on" if begins else ""
    return [Remark("crew", f"{name} stands on no roster on {day_words(day)}{again}.")]
