"""Mending a week: after a change, a plan without broken rules and with the fewest moves of what was promised.

Moves are counted: a person on a seat, a start, a day; a job that has to leave is the last resort. Held-back
hours may be used, for this is what they are held back for. Work that is under way or done, and whatever is
pinned, stays.

Work that has its day alone stands on the board at a time of that day that nobody is told: so it takes hours,
people and windows like all other work, and what comes of it is a day again.
"""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from nundine.core.week.mending.mender import Mended, Mender
from nundine.core.week.mending.standing import Key, Standing
from nundine.core.week.problem import Placement, WeekProblem

__all__ = ["Mended", "mend"]


def mend(
    problem: WeekProblem,
    placements: tuple[Placement, ...],
    *,
    stay: Iterable[Key] = (),
    wanted: Iterable[str] = (),
    now: datetime | None = None,
) -> Mended:
    """Repair `placements` for the problem as it is now.

    Parameters
    ----------
    problem
        The week as it is now: without the sick person's hours, the lost window, with the later part.
        Its own `fixed` is not read.
    placements
        What was promised. Those of tasks or people that the problem no longer has are dropped.
    stay
        Placements that may not be touched: under way, done, pinned. What they break is reported in
        `conflicts`.
    wanted
        Jobs to put in (a break-in), even where a cheaper job has to leave.
    now
        Nothing starts before it, and what began before it stays.
    """
    return Mender(Standing(problem.with_placements(), placements, set(stay), now)).run(list(wanted))
