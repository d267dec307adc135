"""Rungs as they are written, in files and by hand: `monthly: 1 month`, `greasing: 2 weeks on Mon, Thu`,
`service: 500 h or 1 year`, `overhaul: shutdown autumn +2`. With several clauses, whichever comes first."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

from nundine.core.preventive.cycle import LAST, UNITS, Cycle, Unit
from nundine.core.preventive.due import Basis, Rule, Season
from nundine.core.preventive.ladder import Ladder, Rung

DAY_NAMES = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
NAMED = re.compile(r"^([^:;/]{1,40}):\s*(.+)$")
BY_CALENDAR = re.compile(r"^(\d{1,3})\s+(day|week|month|year)s?(?:\s+on\s+(.+))?$", re.IGNORECASE)
BY_METER = re.compile(r"^(\d{1,7}(?:\.\d{1,2})?)\s+([^\s\d;:/,]{1,12})$")
BY_SHUTDOWN = re.compile(r"^shutdown\s+([^;:/,]{1,40}?)(?:\s+([+-]\d{1,3}))?$", re.IGNORECASE)
OR = re.compile(r"\s+or\s+")
DAYS_OR_SHARE = re.compile(r"^(\d{1,3})\s*(%|days?)?$")
MOST_NOTICE, MOST_TOLERANCE = 366, 400
"""Days."""
HALF = 0.5
"""The most of an interval that a tolerance may be: with more, a service would be done in another's turn."""


@dataclass(frozen=True)
class WrittenRung:
    """A rung as it is written: `every` so many of a meter's `unit`, and `offset` days after the start of each
    shutdown of a `series`; what it does not hang on is None or empty."""

    name: str
    cycle: Cycle | None = None
    every: float | None = None
    unit: str = ""
    series: str = ""
    offset: int = 0

    @property
    def days(self) -> float:
        """Its interval in days by the calendar; 0 without one."""
        return self.cycle.days if self.cycle else 0.0


def rung_of(line: str) -> WrittenRung:
    """A rung as it is written. Raises ValueError, saying what is wrong and how it is written."""
    found = NAMED.match(" ".join(line.split()))
    if found is None:
        raise ValueError(f"{line!r}: write a name and how often, like monthly: 1 month")
    out = WrittenRung(found[1].strip())
    for clause in OR.split(found[2]):
        out = _with(line, out, clause.strip())
    return out


def _with(line: str, rung: WrittenRung, clause: str) -> WrittenRung:
    """The rung with one more clause."""
    if (by := BY_CALENDAR.match(clause)) and rung.cycle is None:
        every, unit, on = by.groups()
        weekdays, month_day = _on(line, on) if on else ((), None)
        return replace(rung, cycle=Cycle(int(every), _unit(unit), weekdays, month_day))
    if (by := BY_SHUTDOWN.match(clause)) and not rung.series:
        return replace(rung, series=by[1], offset=int(by[2] or 0))
    if (by := BY_METER.match(clause)) and rung.every is None and float(by[1]) > 0:
        return replace(rung, every=float(by[1]), unit=by[2])
    raise ValueError(
        f"{line!r}: write how often, like 1 month, 500 h (a meter's unit) or shutdown autumn; "
        "with or between, whichever comes first"
    )


def _unit(word: str) -> Unit:
    return next(u for u in UNITS if u == word.lower())


def _on(line: str, on: str) -> tuple[tuple[int, ...], int | None]:
    day = re.match(r"^day\s+(\d{1,2}|last)$", on, re.IGNORECASE)
    if day:
        return (), LAST if day[1].lower() == "last" else int(day[1])
    names = [w.strip().capitalize()[:3] for w in on.split(",")]
    if not set(names) <= set(DAY_NAMES):
        raise ValueError(f"{line!r}: write weekdays like on Mon, Thu, or a day of the month like on day 15")
    return tuple(sorted({DAY_NAMES.index(n) for n in names})), None


def rung_line(rung: WrittenRung) -> str:
    """A rung as the line that reads back equal."""
    clauses = []
    if rung.cycle is not None:
        clauses.append(_cycle_words(rung.cycle))
    if rung.every is not None:
        clauses.append(f"{rung.every:.2f}".rstrip("0").rstrip(".") + f" {rung.unit}")
    if rung.series:
        clauses.append(f"shutdown {rung.series}" + (f" {rung.offset:+d}" if rung.offset else ""))
    return f"{rung.name}: {' or '.join(clauses)}"


def _cycle_words(cycle: Cycle) -> str:
    on = ""
    if cycle.weekdays:
        on = " on " + ", ".join(DAY_NAMES[d] for d in cycle.weekdays)
    if cycle.month_day is not None:
        on = f" on day {'last' if cycle.month_day == LAST else cycle.month_day}"
    return f"{cycle.every} {cycle.unit}{'s' if cycle.every > 1 else ''}{on}"


def ladder_of(
    lines: Sequence[str],
    basis: Basis,
    season: Season,
    together: int,
    shutdowns: Mapping[str, Sequence[date]] = {},  # noqa: B006
) -> Ladder:
    """The ladder of rungs as they are written, the lowest first; `shutdowns`: the first days of those of each
    series. Raises ValueError."""
    rungs = []
    for rank, line in enumerate(lines, 1):
        one = rung_of(line)
        dates = None
        if one.series:
            dates = tuple(sorted(d + timedelta(days=one.offset) for d in shutdowns.get(one.series, ())))
        rungs.append(Rung(one.name, Rule(basis, one.cycle, one.every, season, dates), rank))
    unit_of(lines)
    return Ladder(tuple(rungs), together)


def unit_of(lines: Sequence[str]) -> str:
    """The meter's unit that the rungs of a plan count; empty where they count none. Raises ValueError where
    they count several."""
    units = {one.unit for one in map(rung_of, lines) if one.unit}
    if len(units) > 1:
        raise ValueError(f"the rungs of a plan count one unit, not {' and '.join(sorted(units))}")
    return next(iter(units), "")


def series_of(lines: Sequence[str]) -> set[str]:
    """The series of shutdowns on which rungs hang."""
    return {one.series for one in map(rung_of, lines) if one.series}


def notice_of(text: str) -> tuple[int | None, float | None]:
    """Days before the due date, or the share (0-1) of the interval that has gone by, at which work is raised.
    Raises ValueError."""
    try:
        return _days_or_share(text, MOST_NOTICE, 1.0)
    except ValueError:
        raise ValueError(
            f"{text!r}: write days before it is due, like 14, or a share of its interval: 75 %"
        ) from None


def tolerance_of(text: str) -> tuple[int | None, float | None]:
    """Days that a service may be done sooner or later, or that as a share (0-0.5) of its interval. Raises
    ValueError."""
    try:
        return _days_or_share(text, MOST_TOLERANCE, HALF)
    except ValueError:
        raise ValueError(
            f"{text!r}: write days, up to {MOST_TOLERANCE}, or a share of the interval, up to "
            f"{HALF * 100:.0f} %, like 10 %"
        ) from None


def _days_or_share(text: str, most_days: int, most_share: float) -> tuple[int | None, float | None]:
    found = DAYS_OR_SHARE.match(text.strip())
    if found is None or int(found[1]) > (most_share * 100 if found[2] == "%" else most_days):
        raise ValueError(text)
    return (None, int(found[1]) / 100) if found[2] == "%" else (int(found[1]), None)


def tolerance_days(text: str, lines: Sequence[str]) -> int:
    """Whole days of a tolerance; a share is one of the shortest interval among the rungs, and never more
    than was said. Raises ValueError for a share where no rung recurs by the calendar."""
    days, share = tolerance_of(text)
    if days is not None:
        return days
    assert share is not None
    found = [c.days / max(1, len(c.weekdays)) for c in (rung_of(line).cycle for line in lines) if c]
    if not found:
        raise ValueError(f"{text!r}: a share needs a rung that recurs by the calendar; write days")
    return math.floor(min(found) * share)


def raise_day(due: date, before: date, notice: str) -> date:
    """The day on which work is raised that falls due on a day, where it was last due or done `before`: at
    once with 0 %, on the day with 100 %."""
    days, share = notice_of(notice)
    if days is not None:
        return due - timedelta(days=days)
    assert share is not None
    return before + timedelta(days=round((due - before).days * share))
