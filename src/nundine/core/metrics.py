"""Maintenance metrics of a week. Formulas with their sources.

Schedule compliance by WOs and by hours follow the definition of "schedule compliance" in the best-practice
metrics of the Society for Maintenance and Reliability Professionals (metric 5.4.x, work order management;
number from memory): work completed as scheduled, divided by work scheduled, as a percentage. EN 15341 defines
like ratios of planned and done work.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date


@dataclass(frozen=True)
class Scheduled:
    """A WO in the baseline revision: its scheduled work hours, and whether it was finished within the
    week."""

    job: str
    hours: float
    done: bool
    done_hours: float


@dataclass(frozen=True)
class Compliance:
    """Shares 0-1; None when nothing was scheduled."""

    jobs: int
    jobs_done: int
    hours: float
    hours_done: float

    @property
    def by_jobs(self) -> float | None:
        return self.jobs_done / self.jobs if self.jobs else None

    @property
    def by_hours(self) -> float | None:
        return self.hours_done / self.hours if self.hours else None


@dataclass(frozen=True)
class CraftHours:
    """Work hours of a craft in a week: planned for its tasks, and spent on them."""

    craft: str
    planned: float
    spent: float

    @property
    def ratio(self) -> float | None:
        """Hours spent for each hour planned (common practice, no source)."""
        return self.spent / self.planned if self.planned else None


def break_in_share(hours_placed: float, hours_of_break_ins: float) -> float | None:
    """Hours of work that entered after the baseline, of all hours in the week at its end (common practice, no
    source)."""
    return hours_of_break_ins / hours_placed if hours_placed else None


def remaining_hours(planned: float, spent: float, reported: float | None, least: float = 0.25) -> float:
    """Hours that a begun task still needs: as reported, else what is left of the plan, and never less than a
    slot."""
    return reported if reported is not None else max(planned - spent, least)


def schedule_compliance(scheduled: Iterable[Scheduled]) -> Compliance:
    """WOs finished of WOs scheduled, and scheduled hours of finished tasks of hours scheduled."""
    rows = list(scheduled)
    return Compliance(
        len(rows),
        sum(r.done for r in rows),
        sum(r.hours for r in rows),
        sum(min(r.done_hours, r.hours) for r in rows),
    )


def days_off(published: date, ended: date | None, today: date) -> int | None:
    """Days by which a task was done after (+) or before (-) its published day; open work past its day counts
    up to today.

    None for open work whose day is not past.
    """
    if ended is not None:
        return (ended - published).days
    return (today - published).days if today > published else None
