"""Who could do preventive work: who can take a seat of it on its day."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date

from nundine.services.people.names import person_row
from nundine.services.preventive.weeks_ahead import ForecastLine
from nundine.store.job_plan import JobPlan, PlanTask
from nundine.store.preventive import PreventivePlan
from nundine.store.roster import PersonCertificate, PersonCraft
from nundine.store.site import Craft

Seat = tuple[str, int, str | None]
"""Craft, level and certificate that it asks for."""


@dataclass(frozen=True)
class Skills:
    """Of one person: the level in each craft, and until when each certificate is held; None has no end."""

    levels: dict[str, int]
    held: dict[str, date | None]

    def takes(self, seat: Seat, day: date) -> bool:
        """Whether the person can take a seat on a day."""
        craft, level, certificate = seat
        if self.levels.get(craft, 0) < level:
            return False
        if certificate is None:
            return True
        until = self.held.get(certificate, date.min)
        return until is None or day <= until


def skills_of(key: str) -> Skills:
    """Raises Refused for a key that nobody has."""
    person = person_row(key)
    levels = PersonCraft.select(Craft.key, PersonCraft.level).join(Craft).where(PersonCraft.person == person)
    held = PersonCertificate.select(PersonCertificate.certificate, PersonCertificate.until)
    return Skills(dict(levels.tuples()), dict(held.where(PersonCertificate.person == person).tuples()))


def done_by(key: str, lines: list[ForecastLine]) -> list[ForecastLine]:
    """Those occurrences of which a person can take a seat. Raises Refused for a key that nobody has."""
    skills, seats = skills_of(key), _seats({line.service.plan for line in lines})
    return [
        line
        for line in lines
        if any(s[0] in line.hours and skills.takes(s, line.day) for s in seats[line.service.plan])
    ]


def _seats(plans: set[str]) -> dict[str, set[Seat]]:
    """The kinds of seats of the work of each of these plans, by number."""
    out: dict[str, set[Seat]] = defaultdict(set)
    chosen = PreventivePlan.number.in_(sorted(plans) or [""])
    of_tasks = (
        PlanTask.select(PreventivePlan.number, PlanTask.needs)
        .join(JobPlan)
        .join(PreventivePlan, on=PreventivePlan.job_plan == JobPlan.id)
        .where(chosen)
    )
    typed_in = PreventivePlan.select(PreventivePlan.number, PreventivePlan.needs)
    typed_in = typed_in.where(chosen & PreventivePlan.job_plan.is_null())
    for rows in (of_tasks, typed_in):
        for number, needs in rows.tuples():
            out[number] |= {(craft, level, certificate) for craft, _, level, certificate in needs}
    return out
