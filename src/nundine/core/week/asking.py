"""Single changes that others could grant: a window, hours, a part, a tool, an asset put back between tasks,
a person lent."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from typing import Any

from nundine.core.finding import Finding
from nundine.core.timeline import Interval
from nundine.core.week.board.bits import span
from nundine.core.week.board.board import Board
from nundine.core.week.board.fit import Fitter
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.problem import BY_TASK, STOPPED, Job, PersonHours, WeekProblem

EXTRA_HOURS, LONGEST_WINDOW = 4.0, 192
"""Hours of overtime that are asked for at once; slots of the longest window that is asked for: two days."""


@dataclass(frozen=True)
class Change:
    """A change to try: on the board at once, and in the problem for the re-solve."""

    found: Finding
    jobs: tuple[str, ...]
    on_board: Callable[[Board], None]
    in_problem: Callable[[WeekProblem], WeekProblem]


def changes_to_ask(p: WeekProblem, board: Board, fitter: Fitter, left: list[Job]) -> list[Change]:
    """All that could be asked for on behalf of jobs that are left out of a week as it stands."""
    return _Askable(p, board, fitter, left).changes()


class _Askable:
    def __init__(self, p: WeekProblem, board: Board, fitter: Fitter, left: list[Job]) -> None:
        self.p, self.board, self.fitter, self.left = p, board, fitter, left

    def changes(self) -> list[Change]:
        return [
            *self._windows(),
            *self._hours(),
            *self._parts(),
            *self._tools(),
            *self._put_back(),
            *self._lent(),
        ]

    def _moment(self, slot: int) -> datetime:
        return self.p.grid.moment(slot)

    def _windows(self) -> list[Change]:
        """For each asset with work left out: the time at which a job would fit if the asset were free for
        it."""
        out: dict[tuple[str, int, int], Change] = {}
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

    def _window(self, asset: str, first: int, last: int) -> Change:
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
        return Change(Finding("window", facts), jobs, on_board, in_problem)

    def _hours(self) -> list[Change]:
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

    def _overtime(self, craft: str, day: date, jobs: tuple[str, ...]) -> Change | None:
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

    def _extra(self, n: int, craft: str, day: date, first: int, last: int, jobs: tuple[str, ...]) -> Change:
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
        return Change(Finding("hours", facts), jobs, on_board, in_problem)

    def _parts(self) -> list[Change]:
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
            out.append(Change(Finding("part", facts), (job.id,), lambda _: None, in_problem))
        return out

    def _put_back(self) -> list[Change]:
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
            out.append(Change(Finding("put back", facts), (job.id,), lambda _: None, in_problem))
        return out

    def _lent(self) -> list[Change]:
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

    def _loan(self, n: int, craft: str, day: date, area: str, jobs: tuple[str, ...]) -> Change:
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
        return Change(Finding("lent", facts), jobs, on_board, in_problem)

    def _tools(self) -> list[Change]:
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
            out.append(Change(found, jobs, on_board, in_problem))
        return out


def _without(one: Interval, cut: Interval) -> list[Interval]:
    parts = [Interval(one.start, min(one.end, cut.start)), Interval(max(one.start, cut.end), one.end)]
    return [p for p in parts if p.end - p.start > timedelta(0)]
