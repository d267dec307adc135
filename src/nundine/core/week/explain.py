"""Why a job is not in the week, and what would let it in. Every claim is tried on the board before it is
made."""

from __future__ import annotations

from bisect import bisect_left
from dataclasses import replace
from typing import Any

from nundine.core.finding import Finding
from nundine.core.week.board.bits import run_starts, runs, span
from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.fit import Fitter
from nundine.core.week.board.freedom import EMPTY_WEEK, Freedom
from nundine.core.week.board.heads import at_least, enough_heads
from nundine.core.week.board.loose_ends import handovers
from nundine.core.week.board.service import shortest_span
from nundine.core.week.board.worth import Worth
from nundine.core.week.plan import NotPlaced
from nundine.core.week.problem import Job, Task, WeekProblem

_Relaxed = tuple[tuple[Freedom, tuple[str, ...]], ...]
_SINGLE: _Relaxed = (
    (Freedom(windows=True), ("window",)),
    (Freedom(held_back=True), ("held back",)),
    (Freedom(earliest=True), ("release",)),
    (Freedom(tools=True), ("tool",)),
    (Freedom(in_pieces=True), ("put back",)),
    (Freedom(travel=True), ("travel",)),
    (Freedom(busy=True, held_back=True), ("hours",)),
)
_PAIRS: _Relaxed = (
    (Freedom(windows=True, earliest=True), ("window", "release")),
    (Freedom(windows=True, held_back=True), ("window", "held back")),
    (Freedom(windows=True, tools=True), ("window", "tool")),
    (Freedom(windows=True, busy=True, held_back=True), ("window", "hours")),
    (Freedom(earliest=True, busy=True, held_back=True), ("release", "hours")),
    (Freedom(tools=True, busy=True, held_back=True), ("tool", "hours")),
)
"""Changes that help only together: what one rule alone does not let in, two often do."""


class Explainer:
    """Reasons against a finished board; the board is left as it was."""

    def __init__(self, board: Board, kept: dict[str, int]) -> None:
        self.board, self.kept = board, kept
        self.fitter, self.worth = Fitter(board), Worth(board)
        self.problem: WeekProblem = board.problem
        self._by_value: list[tuple[float, str]] | None = None

    def explain(self, job: Job, helps: bool = True) -> NotPlaced:
        """The first rule that stands in the way for good, or what is in the way in this plan."""
        reason = self.reason(job)
        return NotPlaced(job.id, (reason,), self._helps(job, reason.code) if helps else ())

    def reason(self, job: Job) -> Finding:
        """Why the job is not in."""
        for task in job.ordered_tasks:
            reason = self._never(job, task)
            if reason is not None:
                return reason
        reason = self._never_whole(job)
        if reason is not None:
            return reason
        if not self._fits(job, EMPTY_WEEK):
            hours = sum(t.hours for t in job.tasks)
            return Finding("order", {"hours": hours, "tasks": len(job.tasks)})
        return self._in_the_way(job)

    def _fits(self, job: Job, freedom: Freedom) -> list[Portion] | None:
        return self.fitter.fit(job, replace(freedom, loose=True), self.board.placed.get(job.id, []), False)

    def _never_whole(self, job: Job) -> Finding | None:
        """Why the asset can not stay out of service for the whole job, in an empty week too."""
        grid = self.problem.grid
        stretches = self.board.service.stretches(job, self.board.placed.get(job.id, []), False)
        if stretches is None:
            return None
        longest = max((b - a for a, b in stretches), default=0)
        needed = shortest_span(job, grid.slots_for)
        if needed <= longest:
            return None
        need, have = (n * self.problem.slot_minutes / 60 for n in (needed, longest))
        facts = {"hours": need, "longest": have, "asset": job.asset}
        return Finding("window too short for the whole job", facts)

    def _never(self, job: Job, task: Task) -> Finding | None:
        """Reasons that hold in an empty week too."""
        board, grid = self.board, self.problem.grid
        facts = {"task": task.id, "hours": task.hours}
        length = grid.slots_for(min(task.hours, task.min_portion) if task.splittable else task.hours)
        free = board.everything
        seats = []
        for need in task.needs:
            able = [(n, board.there[n] & mask) for n, mask in board.qualified(need)]
            on_shift = [n for n, m in able if m]
            if len(on_shift) < need.people:
                short = {"needed": need.people, "there": len(on_shift), **need.facts}
                return Finding("nobody", {"how": "on shift", **facts, **short})
            if not any(run_starts(m, length) for _, m in able):
                return Finding("too long", facts)
            free &= at_least([m for _, m in able], need.people)
            seats.append(able)
        if seats:
            free &= enough_heads(seats, task.people)
            if not run_starts(free, length):
                together = length * self.problem.slot_minutes / 60
                return Finding(
                    "nobody", {"how": "together", **facts, "needed": task.people, "together": together}
                )
        if job.earliest is not None and grid.ceil(job.earliest) >= board.week_end:
            return Finding("not yet", {**facts, "earliest": job.earliest.isoformat()})
        first = grid.ceil(job.earliest) if job.earliest else 0
        last = grid.floor(job.latest) if job.latest else board.slots
        when = board.asset_mask(job, task) & span(first, last)
        facts |= {"asset": job.asset, "asset_state": task.asset_state}
        if not when:
            return Finding("no window", facts)
        if not run_starts(when, length):
            longest = max(b - a for a, b in runs(when)) * self.problem.slot_minutes / 60
            return Finding("window too short", {**facts, "longest": longest})
        if not run_starts(when & free, length):
            return Finding("nobody in the window", facts)
        if any(len(board.tool_levels[t]) == 1 for t in task.tools):
            return Finding("tool", {"how": "none", **facts, "tools": list(task.tools)})
        return None

    def _in_the_way(self, job: Job) -> Finding:
        """Reasons of this plan: the single rule without which it would fit."""
        found = self._fits(job, Freedom())
        if found:
            if self.worth.points(job, found) <= 0:
                return Finding("overtime", {"overtime": self.worth.overtime_hours(found)})
            torn = self._torn(job)
            if torn is not None:
                return torn
            return Finding("fits", {"day": self._day(found)})
        if self._fits(job, Freedom(held_back=True)):
            crafts = sorted(
                {
                    n.craft
                    for t in job.tasks
                    for n in t.needs
                    if self.board.budget.get(n.craft, 0) < self._slots(job)
                }
            )
            return Finding("held back", {"crafts": crafts})
        if self._fits(job, Freedom(travel=True)):
            return Finding("travel", {"area": self.problem.area_of(job)})
        if self._fits(job, Freedom(tools=True)):
            tools = sorted({t for x in job.tasks for t in x.tools})
            return Finding("tool", {"how": "in use", "tools": tools})
        if self._fits(job, Freedom(other_jobs=True)):
            others = sorted(j for j in self.board.spans.get(job.asset or "", {}) if j != job.id)
            return Finding("outranked", {"how": "one job", "asset": job.asset, "jobs": others})
        worth = self.worth.most(job)
        for other, value in self._others(job, worth, 8):
            if self._fits_without(job, other):
                facts = {"how": "worth", "jobs": [other], "value": value, "own_value": worth}
                return Finding("outranked", facts)
        return self._full(job)

    def _torn(self, job: Job) -> Finding | None:
        """Why a job that fits is not worth what its loose ends would cost, None if it is."""
        have = self.board.placed.get(job.id, [])
        found = self.fitter.fit(job, Freedom(), have, False)
        if not found or not self.problem.weights.has_prices:
            return None
        areas, area = self.board.areas, self.problem.area_of(job)
        before = areas.changes
        self.board.add(job, found)
        changes = areas.changes - before
        self.board.remove(job, len(have))
        points, own = self.worth.points(job, have + found), self.worth.ends.of(job, have + found)
        price = own + self.problem.weights.area_change * changes
        stays = self.worth.of(job, have) if have else 0.0
        if points - price > stays:
            return None
        its = self.worth.ends.in_order(job, have + found)
        facts = {
            "points": points,
            "price": price,
            "open": self._open(its) if len(its) > 1 and self.worth.ends.gaps(its) else None,
            "handovers": handovers(its),
            "area_changes": max(0, changes),
            "away": self.worth.ends.away(job, its) * self.problem.slot_minutes / 60,
            "area": area,
        }
        return Finding("not worth its prices", facts)

    def _open(self, its: list[Portion]) -> list[str]:
        """From when to when a job would lie open."""
        moment = self.problem.grid.moment
        return [moment(its[0].start).isoformat(), moment(max(p.end for p in its)).isoformat()]

    def _slots(self, job: Job) -> int:
        return sum(self.problem.grid.slots_for(t.hours) * t.people for t in job.tasks)

    def _full(self, job: Job) -> Finding:
        """Which crafts are full on which days, within the times at which the job could be done."""
        usable: dict[str, dict[int, int]] = {}
        wanted: dict[str, float] = {}
        for task in job.tasks:
            when = self.board.asset_mask(job, task)
            for need in task.needs:
                wanted[need.craft] = wanted.get(need.craft, 0.0) + task.hours * need.people
                people = usable.setdefault(need.craft, {})
                for n, mask in self.board.qualified(need):
                    people[n] = people.get(n, 0) | mask & when
        short: dict[str, dict[str, float]] = {}
        for craft, people in usable.items():
            by_day = short.setdefault(craft, {})
            for n, mask in people.items():
                for day, slots in self.board.day_of[n].items():
                    left = (self.board.free[n] & mask & slots).bit_count() * self.problem.slot_minutes / 60
                    if day in self.problem.days:
                        by_day[day.isoformat()] = by_day.get(day.isoformat(), 0.0) + left
        tight = min(short, key=lambda c: sum(short[c].values()) / max(wanted.get(c, 1.0), 0.25), default="")
        jobs = self._cheaper(job, 3)
        facts: dict[str, Any] = {
            "craft": tight,
            "free_by_day": short.get(tight, {}),
            "needed": wanted.get(tight, 0.0),
            "jobs": [j for j, _ in jobs],
        }
        left = sum(short.get(tight, {}).values())
        how = "too few" if left < wanted.get(tight, 0.0) else "in pieces"
        return Finding("hours", {"how": how, "left": left, **facts})

    def _day(self, portions: list[Portion]) -> str:
        first = min(portions, key=lambda p: p.start)
        day = (
            self.board.day_at(first.people[0], first.start)
            if first.people and first.people[0] is not None
            else None
        )
        return (day or self.problem.grid.moment(first.start).date()).isoformat()

    def _helps(self, job: Job, code: str) -> tuple[Finding, ...]:
        """The cheapest single changes, each one tried."""
        if code == "fits":
            return ()
        helps: list[Finding] = []
        for freedom, codes in _SINGLE:
            helps += self._change(job, freedom, codes)
        for other, value in self._cheaper(job, 12):
            if len(helps) >= 4:
                break
            if self._fits_without(job, other):
                facts = {"job": other, "value": value, "own_value": self.worth.most(job)}
                helps.append(Finding("put out", facts))
        for other in sorted(o for o in self.board.placed if self.kept.get(o)) if len(helps) < 4 else ():
            if self._shares(job, other) and self._fits_without(job, other, whole=True):
                helps.append(Finding("lifted", {"job": other}))
                break
        for freedom, codes in _PAIRS if not helps else ():
            helps += self._change(job, freedom, codes)
            if helps:
                break
        return tuple(helps[:5])

    def _change(self, job: Job, freedom: Freedom, codes: tuple[str, ...]) -> list[Finding]:
        """What a relaxed rule stands for, if the job fits without it: a change that somebody could make."""
        found = self._fits(job, freedom)
        if not found:
            return []
        moment = self.problem.grid.moment
        facts: dict[str, Any] = {
            "day": self._day(found),
            "start": moment(min(p.start for p in found)).isoformat(),
            "end": moment(max(p.end for p in found)).isoformat(),
            "asset": job.asset if "window" in codes or "put back" in codes else None,
        }
        if "hours" in codes:
            facts["more"] = self._more_hours(found)
        if "travel" in codes:
            facts["area"] = self.problem.area_of(job)
        return [Finding(" and ".join(codes), facts)]

    def _more_hours(self, found: list[Portion]) -> dict[str, float]:
        """Hours that are taken of other work, by craft."""
        short: dict[str, int] = {}
        for p in found:
            for n in p.people:
                if n is not None:
                    taken = (p.mask & ~self.board.free[n]).bit_count()
                    short[self.board.main[n]] = short.get(self.board.main[n], 0) + taken
        return {c: n * self.problem.slot_minutes / 60 for c, n in sorted(short.items()) if n}

    def _cheaper(self, job: Job, count: int) -> list[tuple[str, float]]:
        """Placed jobs of the same crafts or asset that may move, cheapest first."""
        return self._others(job, 0.0, count)

    def _others(self, job: Job, least: float, count: int) -> list[tuple[str, float]]:
        """Placed jobs of the same crafts or asset that may move and are worth at least so much, cheapest
        first."""
        if self._by_value is None:
            placed = [
                (self.worth.of(self.problem.job_by_id[j], portions), j)
                for j, portions in self.board.placed.items()
                if not self.kept.get(j)
            ]
            self._by_value = sorted(placed)
        found: list[tuple[str, float]] = []
        for value, other_id in self._by_value[bisect_left(self._by_value, (least, "")) :]:
            if len(found) >= count:
                break
            if other_id != job.id and self._shares(job, other_id):
                found.append((other_id, value))
        return found

    def _shares(self, job: Job, other_id: str) -> bool:
        """Whether a placed job is on the same asset, or holds people of a craft that the job needs."""
        crafts = {n.craft for t in job.tasks for n in t.needs}
        return self.problem.job_by_id[other_id].asset == job.asset or any(
            n.craft in crafts for p in self.board.placed[other_id] for n in p.task.needs
        )

    def _fits_without(self, job: Job, other_id: str, whole: bool = False) -> bool:
        other = self.problem.job_by_id[other_id]
        taken = self.board.remove(other, 0 if whole else self.kept.get(other_id, 0))
        try:
            return self._fits(job, Freedom()) is not None
        finally:
            self.board.add(other, taken)
