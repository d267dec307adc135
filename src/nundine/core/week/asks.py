"""Asks: single changes that others can grant, ranked by the work that each would let in.

First each change is tried by inserting what is left out into the week as it stands; the best are then
confirmed by building again from the present plan, with the change and without it, with the same seed and
steps.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from time import perf_counter

from nundine.core.finding import Finding
from nundine.core.timeline import Interval
from nundine.core.week.asking import Change, changes_to_ask
from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.draft import Draft
from nundine.core.week.board.fit import Fitter
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.board.worth import Worth
from nundine.core.week.building.build import Limits, build
from nundine.core.week.plan import WeekPlan
from nundine.core.week.problem import Job, Placement, WeekProblem

STILL_ITS_OWN, MOST_ALTERNATIVES = 0.5, 3
"""An ask of which less than this share of its value is left beside those before it is an alternative to one
of them."""


@dataclass(frozen=True)
class Ask:
    """One change and what it would let in beside the asks before it. Codes of what is asked for: window,
    hours, part, tool, put back, lent.

    `value` and `hours` are points and work hours gained by it, `total_value` and `total_hours` those of it
    and all before it together. `alternatives` would let in much of the same work, and add little to it.
    """

    found: Finding
    value: float
    hours: float
    jobs: tuple[str, ...]
    confirmed: bool = False
    total_value: float = 0.0
    total_hours: float = 0.0
    alternatives: tuple[Ask, ...] = ()


def asks(
    problem: WeekProblem,
    placements: tuple[Placement, ...],
    *,
    most: int = 10,
    confirm: int = 6,
    steps: int = 1500,
    seconds: float = 20.0,
) -> tuple[Ask, ...]:
    """The best changes for a week as it stands, each valued beside those before it, so that their sums add
    up.

    Chosen one after another, each time the one that lets in most beside those chosen already (greedy choice
    of a set; near the best set where what changes let in overlaps: Nemhauser, Wolsey and Fisher 1978). What
    is worth little beside them, for it would let in the same work, is told as their alternative.

    Parameters
    ----------
    problem, placements
        The week and its plan; what the problem has as fixed stays where it is when the week is built again.
    most, confirm, steps, seconds
        How many to give, how many to confirm by building again with so many steps, and when to end
        confirming.
    """
    started = perf_counter()
    trial = _Trial(problem.with_placements(), placements)
    chosen = trial.choose(max(most, confirm))
    if not chosen:
        return ()
    limits = Limits(iterations=steps)

    def built(p: WeekProblem, before: tuple[Placement, ...]) -> WeekPlan:
        again = p.with_placements(problem.fixed, before)
        return build(again, limits=limits, helps=False, known_bound=float("inf"))

    last = built(problem, placements)
    # each change is judged by as many steps with it as without it, from one plan: searching on gains
    # something too
    out: list[Ask] = []
    changed = problem
    for n, (ask, change) in enumerate(chosen):
        if n >= confirm or perf_counter() - started >= seconds:
            out.append(ask)
            continue
        more = change.in_problem(changed)
        again, without = built(more, last.placements), built(changed, last.placements)
        value, hours = again.value - without.value, _hours(again.placements) - _hours(without.placements)
        if value > 1e-6:
            new = tuple(sorted({p.job for p in again.placements} - {p.job for p in without.placements}))
            out.append(replace(ask, value=value, hours=hours, jobs=new, confirmed=True))
            changed, last = more, again
        else:
            last = without
    return tuple(_summed(sorted(out, key=lambda a: not a.confirmed)[:most]))


def _summed(asks: list[Ask]) -> list[Ask]:
    """Asks with the sums of them and those before them."""
    out: list[Ask] = []
    value = hours = 0.0
    for ask in asks:
        value, hours = value + ask.value, hours + ask.hours
        out.append(replace(ask, total_value=value, total_hours=hours))
    return out


def _hours(placements: Iterable[Placement]) -> float:
    return sum(Interval(p.start, p.end).hours * len(p.people) for p in placements if p.start and p.end)


class _Trial:
    """The week as it stands, on which changes are tried one at a time."""

    def __init__(self, problem: WeekProblem, placements: tuple[Placement, ...]) -> None:
        self.p = problem
        self.board = Board(problem.with_placements(placements))
        Draft(self.board, complete=False)
        self.board.there, self.board.free = list(self.board.there), list(self.board.free)
        self.board.stopped = dict(self.board.stopped)
        self.fitter, self.worth = Fitter(self.board), Worth(self.board)
        held = {p.job for p in placements}
        left = [j for j in problem.jobs if j.id not in held and j.tasks]
        self.left = sorted(left, key=lambda j: (-j.must, -self.worth.per_hour(j), j.id))

    def choose(self, most: int) -> list[tuple[Ask, Change]]:
        """Up to so many changes, each the best beside those before it, with their alternatives."""
        alone = [
            gain
            for change in changes_to_ask(self.p, self.board, self.fitter, self.left)
            if (gain := self.gain(change)) is not None
        ]
        waiting = sorted(alone, key=_best_first)
        chosen: list[tuple[Ask, Change]] = []
        beside: list[list[Ask]] = []
        at_first = {id(change): ask for ask, change in waiting}
        while waiting and len(chosen) < most:
            (ask, change), *waiting = waiting
            first = at_first[id(change)]
            now = self.gain(change) if chosen else (ask, change)
            if now is None or now[0].value < STILL_ITS_OWN * first.value:
                near = max(range(len(chosen)), key=lambda n: len(set(first.jobs) & set(chosen[n][0].jobs)))
                if set(first.jobs) & set(chosen[near][0].jobs):
                    beside[near].append(first)
            elif waiting and now[0].value < waiting[0][0].value:
                waiting = sorted([now, *waiting], key=_best_first)
            else:
                self._apply(*now)
                chosen.append(now)
                beside.append([])
        return [
            (replace(ask, alternatives=tuple(others[:MOST_ALTERNATIVES])), change)
            for (ask, change), others in zip(chosen, beside, strict=True)
        ]

    def _apply(self, ask: Ask, change: Change) -> None:
        """The change is made, and what it lets in is placed."""
        change.on_board(self.board)
        let_in = set(ask.jobs)
        for job in [j for j in self.left if j.id in let_in]:
            found = self.fitter.fit(job, _freedom(change))
            if found:
                self.board.add(job, found)
        self.left = [j for j in self.left if j.id not in self.board.placed]

    def gain(self, change: Change) -> tuple[Ask, Change] | None:
        """What could be inserted at once with the change; the board is left as it was."""
        there, free = list(self.board.there), list(self.board.free)
        stopped, home = dict(self.board.stopped), list(self.board.areas.home)
        levels = {t: list(m) for t, m in self.board.tool_levels.items()}
        change.on_board(self.board)
        chosen = set(change.jobs)
        put: list[tuple[Job, list[Portion]]] = []
        value = hours = 0.0
        for job in self.left:
            if job.id not in chosen:
                continue
            found = self.fitter.fit(job, _freedom(change))
            if not found:
                continue
            changes = self.board.areas.changes
            self.board.add(job, found)
            more = self.board.areas.changes - changes
            worth = self.worth.of(job, found) - self.p.weights.area_change * more
            if worth <= 0:
                self.board.remove(job)
            else:
                put.append((job, found))
                value += worth
                hours += sum((p.end - p.start) * len(p.people) for p in found) * self.p.slot_minutes / 60
        for job, _ in put:
            self.board.remove(job)
        self.board.areas.home = home
        self.board.there, self.board.free, self.board.stopped, self.board.tool_levels = (
            there,
            free,
            stopped,
            levels,
        )
        if value <= 1e-6:
            return None
        return Ask(change.found, value, hours, tuple(j.id for j, _ in put)), change


def _freedom(change: Change) -> Freedom:
    """What a change of one job lets its places pass over."""
    return Freedom(earliest=change.found.code == "part", in_pieces=change.found.code == "put back")


def _best_first(one: tuple[Ask, Change]) -> tuple[float, str, str]:
    """Dearest first; of equal ones always the same first."""
    found = one[0].found
    return -one[0].value, found.code, str(sorted((k, str(v)) for k, v in found.facts.items()))
