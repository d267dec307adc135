"""Asks: single changes that others can grant, ranked by the work that each would let in.

First each change is tried by inserting what is left out into the week as it stands; the best are then
confirmed by building again from the present plan, with the change and without it, with the same seed and
steps.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from time import perf_counter
from typing import Any

from nundine.core.finding import Finding
from nundine.core.timeline import Interval
from nundine.core.week.board.bits import span
from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.draft import Draft
from nundine.core.week.board.fit import Fitter
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.board.worth import Worth
from nundine.core.week.building.build import Limits, build
from nundine.core.week.plan import WeekPlan
from nundine.core.week.problem import BY_TASK, STOPPED, Job, PersonHours, Placement, WeekProblem

EXTRA_HOURS, LONGEST_WINDOW = 4.0, 192
"""Hours of overtime that are asked for at once; slots of the longest window that is asked for: two days."""
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


@dataclass(frozen=True)
class _Change:
    """A change to try: on the board at once, and in the problem for the re-solve."""

    found: Finding
    jobs: tuple[str, ...]
    on_board: Callable[[Board], None]
    in_problem: Callable[[WeekProblem], WeekProblem]


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

    def changes(self) -> list[_Change]:
        return [
            *self._windows(),
            *self._hours(),
            *self._parts(),
            *self._tools(),
            *self._put_back(),
            *self._lent(),
        ]

    def choose(self, most: int) -> list[tuple[Ask, _Change]]:
        """Up to so many changes, each the best beside those before it, with their alternatives."""
        alone = [gain for change in self.changes() if (gain := self.gain(change)) is not None]
        waiting = sorted(alone, key=_best_first)
        chosen: list[tuple[Ask, _Change]] = []
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

    def _apply(self, ask: Ask, change: _Change) -> None:
        """The change is made, and what it lets in is placed."""
        change.on_board(self.board)
        let_in = set(ask.jobs)
        for job in [j for j in self.left if j.id in let_in]:
            found = self.fitter.fit(job, _freedom(change))
            if found:
                self.board.add(job, found)
        self.left = [j for j in self.left if j.id not in self.board.placed]

    def gain(self, change: _Change) -> tuple[Ask, _Change] | None:
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

    # ---------------------------------------------------------------- what could be asked for

    def _moment(self, slot: int) -> datetime:
        return self.p.grid.moment(slot)

    def _windows(self) -> list[_Change]:
        """For each asset with work left out: the time at which a job would fit if the asset were free for
        it."""
        out: dict[tuple[str, int, int], _Change] = {}
        tried: dict[str, int] = {}
        for job in self.left:
            touching = [t for t in job.tasks if t.asset_state == STOPPED]
            if (
                job.asset is None
                or not touching
                or tried.get(job.asset, 0) >= 4
                or (job.earliest is not None and job.earliest >= self.p.end)
                or self.fitter.fit(job, Freedom(loose=True))
            ):
                continue
            tried[job.asset] = tried.get(job.asset, 0) + 1
            found = self.fitter.fit(job, Freedom(windows=True))
            stopped = [p for p in found or () if p.task.asset_state == STOPPED]
            if stopped and job.stays_out and len(stopped) > 1:
                first, last = min(p.start for p in stopped), max(p.end for p in stopped)
                if last - first <= LONGEST_WINDOW:
                    out.setdefault((job.asset, first, last), self._window(job.asset, first, last))
                continue
            for p in [
                p
                for p in found or ()
                if p.task.asset_state == STOPPED and p.mask & ~self.board.stopped[job.asset]
            ]:
                first, last = (
                    p.start,
                    max(
                        q.end for q in found or () if q.task.asset_state == STOPPED and q.start - p.start < 48
                    ),
                )
                out.setdefault((job.asset, first, last), self._window(job.asset, first, last))
                break
        return list(out.values())

    def _window(self, asset: str, first: int, last: int) -> _Change:
        start, end = self._moment(first), self._moment(last)
        jobs = tuple(j.id for j in self.left if j.asset == asset)
        part = span(first, last)

        def on_board(board: Board) -> None:
            board.stopped[asset] |= part

        def in_problem(p: WeekProblem) -> WeekProblem:
            def opened(a: Any) -> Any:
                work = None if a.work_windows is None else (*a.work_windows, Interval(start, end))
                run = tuple(w for r in a.run_windows for w in _without(r, Interval(start, end)))
                return replace(a, work_windows=work, run_windows=run)

            return replace(p, assets=tuple(opened(a) if a.id == asset else a for a in p.assets))

        facts = {"asset": asset, "start": start.isoformat(), "end": end.isoformat()}
        return _Change(Finding("window", facts), jobs, on_board, in_problem)

    def _hours(self) -> list[_Change]:
        """For each craft and day: four more hours of the most able person, after the shift."""
        wanted = {n.craft for j in self.left for t in j.tasks for n in t.needs}
        out = []
        for craft in (c.id for c in self.p.crafts if c.id in wanted):
            jobs = tuple(j.id for j in self.left if any(n.craft == craft for t in j.tasks for n in t.needs))
            for day in self.p.days:
                change = self._overtime(craft, day, jobs)
                if change is not None:
                    out.append(change)
        return out

    def _overtime(self, craft: str, day: date, jobs: tuple[str, ...]) -> _Change | None:
        able = [
            (x.level_in(craft), n)
            for n, x in enumerate(self.p.people)
            if x.main_craft == craft and self.board.day_of[n].get(day, 0)
        ]
        for _, n in sorted(able, key=lambda a: (-a[0], a[1])):
            first = self.board.day_of[n][day].bit_length()
            last = min(first + self.p.grid.slots_for(EXTRA_HOURS), self.board.slots)
            part = span(first, last)
            if last - first < self.p.grid.slots_for(EXTRA_HOURS) or part & self.board.there[n]:
                continue
            return self._extra(n, craft, day, first, last, jobs)
        return None

    def _extra(self, n: int, craft: str, day: date, first: int, last: int, jobs: tuple[str, ...]) -> _Change:
        person, part = self.p.people[n].id, span(first, last)
        start, end = self._moment(first), self._moment(last)

        def on_board(board: Board) -> None:
            board.there[n] |= part
            board.free[n] |= part

        def in_problem(p: WeekProblem) -> WeekProblem:
            more = PersonHours(start, end, True, day)
            return replace(
                p, people=tuple(replace(x, hours=(*x.hours, more)) if x.id == person else x for x in p.people)
            )

        facts = {
            "hours": EXTRA_HOURS,
            "craft": craft,
            "person": person,
            "day": day.isoformat(),
            "start": start.isoformat(),
            "end": end.isoformat(),
        }
        return _Change(Finding("hours", facts), jobs, on_board, in_problem)

    def _parts(self) -> list[_Change]:
        """Jobs that wait for a date and would fit before it."""
        out = []
        for job in self.left:
            if (
                job.earliest is None
                or job.earliest <= self.p.start
                or self.fitter.fit(job, Freedom(loose=True))
            ):
                continue
            found = self.fitter.fit(job, Freedom(earliest=True))
            if not found:
                continue
            by = self._moment(min(p.start for p in found))

            def in_problem(p: WeekProblem, job_id: str = job.id, by: datetime = by) -> WeekProblem:
                return replace(
                    p, jobs=tuple(replace(j, earliest=by) if j.id == job_id else j for j in p.jobs)
                )

            facts = {"job": job.id, "by": by.isoformat(), "earliest": job.earliest.isoformat()}
            out.append(_Change(Finding("part", facts), (job.id,), lambda _: None, in_problem))
        return out

    def _put_back(self) -> list[_Change]:
        """Jobs that would fit if their asset went back into service between their tasks."""
        out = []
        for job in self.left:
            if not job.stays_out or self.fitter.fit(job, Freedom(loose=True)):
                continue
            if not self.fitter.fit(job, Freedom(in_pieces=True)):
                continue

            def in_problem(p: WeekProblem, job_id: str = job.id) -> WeekProblem:
                return replace(
                    p,
                    jobs=tuple(replace(j, out_of_service=BY_TASK) if j.id == job_id else j for j in p.jobs),
                )

            facts = {"job": job.id, "asset": job.asset}
            out.append(_Change(Finding("put back", facts), (job.id,), lambda _: None, in_problem))
        return out

    def _lent(self) -> list[_Change]:
        """For each craft and area with work left out: the shift of somebody from another area in which
        most is free."""
        wanted: dict[tuple[str, str], list[str]] = {}
        for job in self.left:
            area = self.p.area_of(job)
            for craft in {n.craft for t in job.tasks for n in t.needs} if area is not None else ():
                wanted.setdefault((craft, area or ""), []).append(job.id)
        out = []
        for (craft, area), jobs in sorted(wanted.items()):
            free = [
                ((self.board.free[n] & mask).bit_count(), n, day)
                for n, x in enumerate(self.p.people)
                if x.main_craft == craft
                for day, mask in self.board.day_of[n].items()
                if day in self.p.days
                and not any(m & mask for m in self.board.areas.starts[n].values())
                and mask & self.board.areas.away(n, area, self.board.there[n])
            ]
            if free:
                _, n, day = max(free, key=lambda f: (f[0], -f[1]))
                out.append(self._loan(n, craft, day, area, tuple(jobs)))
        return out

    def _loan(self, n: int, craft: str, day: date, area: str, jobs: tuple[str, ...]) -> _Change:
        person, shift = self.p.people[n].id, self.board.day_of[n][day]

        def on_board(board: Board) -> None:
            board.areas.home = list(board.areas.home)
            home = {a: m & ~shift for a, m in board.areas.home[n].items()}
            home[area] = home.get(area, 0) | shift
            board.areas.home[n] = home

        def in_problem(p: WeekProblem) -> WeekProblem:
            def lent(hours: PersonHours) -> PersonHours:
                return replace(hours, area=area) if hours.day == day else hours

            return replace(
                p,
                people=tuple(
                    replace(x, hours=tuple(lent(h) for h in x.hours)) if x.id == person else x
                    for x in p.people
                ),
            )

        facts = {"person": person, "craft": craft, "day": day.isoformat(), "area": area}
        return _Change(Finding("lent", facts), jobs, on_board, in_problem)

    def _tools(self) -> list[_Change]:
        """One more of a tool that work left out needs."""
        out = []
        for tool in self.p.tools:
            jobs = tuple(j.id for j in self.left if any(tool.id in t.tools for t in j.tasks))
            if not jobs:
                continue

            def on_board(board: Board, name: str = tool.id) -> None:
                board.tool_levels[name] = [*board.tool_levels[name], 0]

            def in_problem(p: WeekProblem, name: str = tool.id) -> WeekProblem:
                return replace(
                    p, tools=tuple(replace(t, count=t.count + 1) if t.id == name else t for t in p.tools)
                )

            found = Finding("tool", {"tool": tool.id, "count": tool.count})
            out.append(_Change(found, jobs, on_board, in_problem))
        return out


def _freedom(change: _Change) -> Freedom:
    """What a change of one job lets its places pass over."""
    return Freedom(earliest=change.found.code == "part", in_pieces=change.found.code == "put back")


def _best_first(one: tuple[Ask, _Change]) -> tuple[float, str, str]:
    """Dearest first; of equal ones always the same first."""
    found = one[0].found
    return -one[0].value, found.code, str(sorted((k, str(v)) for k, v in found.facts.items()))


def _without(one: Interval, cut: Interval) -> list[Interval]:
    parts = [Interval(one.start, min(one.end, cut.start)), Interval(max(one.start, cut.end), one.end)]
    return [p for p in parts if p.end - p.start > timedelta(0)]
