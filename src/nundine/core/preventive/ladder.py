"""Ladders: nested services of one plan, of which a higher takes in the lower ones that fall together."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import NamedTuple

from nundine.core.preventive.due import Due, Last, Rule, after, coming, next_due
from nundine.core.preventive.meter import Counter


@dataclass(frozen=True)
class Rung:
    """One service of a ladder; a higher `rank` takes in lower ones. A plan without a ladder has one rung."""

    name: str
    rule: Rule
    rank: int = 1


class Occurrence(NamedTuple):
    """Work that falls due together on one day: its rungs, the highest first, and when each of them fell due
    by itself."""

    day: date
    rungs: tuple[str, ...]
    dues: tuple[Due, ...]


@dataclass(frozen=True)
class Ladder:
    """The rungs of a plan, and within how many days they fall together."""

    rungs: tuple[Rung, ...]
    together: int = 0

    def __post_init__(self) -> None:
        if not self.rungs or len({r.name for r in self.rungs}) < len(self.rungs):
            raise ValueError("a ladder has one rung at least, and each has its own name")
        if len({r.rank for r in self.rungs}) < len(self.rungs):
            raise ValueError("each rung of a ladder has its own rank")


Lasts = Mapping[str, Last]
"""The last time of each rung, by its name."""


def next_occurrence(ladder: Ladder, lasts: Lasts, counter: Counter | None = None) -> Occurrence | None:
    """What falls due next; None where nothing does."""
    return _first(ladder, {r.name: next_due(r.rule, lasts[r.name], counter) for r in ladder.rungs})


def _first(ladder: Ladder, due: Mapping[str, Due | None]) -> Occurrence | None:
    """What falls due first of the rungs' next dues."""
    if len(due) == 1:
        ((name, only),) = due.items()
        return None if only is None else Occurrence(only.day, (name,), (only,))
    days = [d.day for d in due.values() if d is not None]
    if not days:
        return None
    first = min(days)
    end = first + timedelta(days=ladder.together)
    together = [(r, d) for r in ladder.rungs if (d := due[r.name]) is not None and d.day <= end]
    together.sort(key=lambda pair: -pair[0].rank)
    return Occurrence(together[0][1].day, tuple(r.name for r, _ in together), tuple(d for _, d in together))


def over(lasts: Lasts, one: Occurrence, done: date | None, counter: Counter | None = None) -> dict[str, Last]:
    """The last times once an occurrence was done on a day, or left out (None)."""
    fell = {name: due.day for name, due in zip(one.rungs, one.dues, strict=True)}
    return {
        name: after(last, fell[name], done, counter) if name in fell else last for name, last in lasts.items()
    }


def forecast(ladder: Ladder, lasts: Lasts, until: date, counter: Counter | None = None) -> list[Occurrence]:
    """All that falls due until a day, if each is done on its day."""
    out: list[Occurrence] = []
    rungs = {r.name: coming(r.rule, lasts[r.name], counter) for r in ladder.rungs}
    while True:
        one = _first(ladder, {name: rung.due for name, rung in rungs.items()})
        if one is None or one.day > until or (out and one.day < out[-1].day):
            return out
        out.append(one)
        for name, fell in zip(one.rungs, one.dues, strict=True):
            rungs[name].done(fell.day, one.day)


def tasks_of(rungs: Collection[str], grid: Mapping[str, Sequence[str]]) -> list[str]:
    """The tasks of an occurrence: those that belong to one of its rungs; a task that belongs to none belongs
    to all."""
    return [task for task, belongs in grid.items() if not belongs or set(belongs) & set(rungs)]
