"""The week as bitsets: who is there and free, where each asset and tool may be used, what is placed."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date

from nundine.core.timeline import Interval, merge
from nundine.core.week.board.areas import Areas, Real, home_slots
from nundine.core.week.board.bits import span, union
from nundine.core.week.board.service import Service
from nundine.core.week.problem import Job, Need, Person, Task, WeekProblem


@dataclass(frozen=True)
class Portion:
    """A placed portion on slots start..end-1 with the people's positions in the order of the seats; None =
    open.

    `real`: its times, of a fixed one off the grid.
    """

    task: Task
    number: int
    start: int
    end: int
    people: tuple[int | None, ...]
    real: Real = None

    @property
    def mask(self) -> int:
        return span(self.start, self.end)


@dataclass
class _Layout:
    """What a board never changes: calendars of people and windows of assets as masks; slots that crafts may
    use."""

    problem: WeekProblem
    days: frozenset[date] | None
    day_of: list[dict[date, int]] = field(default_factory=list)
    there: list[int] = field(default_factory=list)
    regular: list[int] = field(default_factory=list)
    stopped: dict[str, int] = field(default_factory=dict)
    running: dict[str, int] = field(default_factory=dict)
    budget: dict[str, int] = field(default_factory=dict)
    qualified: dict[Need, list[tuple[int, int]]] = field(default_factory=dict)
    home: list[dict[str | None, int]] = field(default_factory=list)

    def serves(self, p: WeekProblem, days: frozenset[date] | None) -> bool:
        mine = self.problem
        same = mine.people is p.people and mine.assets is p.assets and mine.crafts is p.crafts
        return (
            same
            and mine.start == p.start
            and mine.end == p.end
            and mine.slot_minutes == p.slot_minutes
            and self.days == days
        )


_layouts: list[_Layout] = []


def _laid_out(board: Board, days: frozenset[date] | None) -> _Layout:
    """The layout of a problem, kept for problems of the very same people and assets (edits by hand ask again
    and again)."""
    p = board.problem
    for known in _layouts:
        if known.serves(p, days):
            return known
    laid = _Layout(p, days)
    held = {c.id: c.held_back for c in p.crafts}
    hours: dict[str, int] = defaultdict(int)
    for x in p.people:
        _lay_person(laid, x, days)
        hours[x.main_craft] += _joined(p, x, False).bit_count()
    laid.budget = {c: int((1 - held[c]) * n + 1e-9) for c, n in hours.items()}
    _lay_windows(laid, board.everything)
    _layouts.append(laid)
    del _layouts[:-4]
    return laid


def _joined(p: WeekProblem, x: Person, overtime: bool) -> int:
    joined = merge(Interval(h.start, h.end) for h in x.hours if overtime or not h.overtime)
    return union(span(p.grid.ceil(i.start), p.grid.floor(i.end)) for i in joined)


def _lay_person(laid: _Layout, x: Person, days: frozenset[date] | None) -> None:
    p, grid = laid.problem, laid.problem.grid
    there, taken = _joined(p, x, True), 0
    by_day: dict[date, int] = defaultdict(int)
    for h in sorted(x.hours, key=lambda h: h.start):
        part = span(grid.floor(h.start), grid.ceil(h.end)) & there & ~taken
        taken |= part
        by_day[h.day] |= part
    allowed = union(m for d, m in by_day.items() if d in p.days and (days is None or d in days))
    laid.day_of.append(dict(by_day))
    laid.home.append(home_slots(p, x, there))
    laid.there.append(there & allowed)
    laid.regular.append(_joined(p, x, False) & allowed)


def _lay_windows(laid: _Layout, everything: int) -> None:
    grid = laid.problem.grid
    for a in laid.problem.assets:
        run_out = union(span(grid.floor(i.start), grid.ceil(i.end)) for i in merge(a.run_windows))
        run_in = union(span(grid.ceil(i.start), grid.floor(i.end)) for i in merge(a.run_windows))
        work_in = (
            everything
            if a.work_windows is None
            else union(span(grid.ceil(i.start), grid.floor(i.end)) for i in merge(a.work_windows))
        )
        work_out = union(span(grid.floor(i.start), grid.ceil(i.end)) for i in merge(a.work_windows or ()))
        laid.stopped[a.id] = everything & work_in & ~run_out
        laid.running[a.id] = everything & (run_in if a.run_windows else ~work_out)


class Board:
    """Mutable state of a build. Positions of people and masks of slots; slot 0 is the week's start."""

    def __init__(self, problem: WeekProblem, days: frozenset[date] | None = None) -> None:
        self.problem, self.days = problem, days
        grid = problem.grid
        self.week_end = grid.floor(problem.end)
        ends = [grid.floor(h.end) for x in problem.people for h in x.hours]
        self.slots = max([self.week_end, *ends])
        self.everything = span(0, self.slots)
        self.people = problem.people
        self.position = {x.id: n for n, x in enumerate(problem.people)}
        laid = _laid_out(self, days)
        self.day_of, self.there, self.regular = laid.day_of, laid.there, laid.regular
        self.stopped, self.running, self._qualified = laid.stopped, laid.running, laid.qualified
        self.free = list(laid.there)
        self.budget = dict(laid.budget)
        self.main = [x.main_craft for x in problem.people]
        self.breadth = [sum(c.level for c in x.crafts) for x in problem.people]
        self.spans: dict[str, dict[str, int]] = {a.id: {} for a in problem.assets if a.one_job_at_a_time}
        self.tool_levels = {t.id: [0] * (t.count + 1) for t in problem.tools}
        self.placed: dict[str, list[Portion]] = {}
        self.areas = Areas(problem, laid.home, [list(days.values()) for days in laid.day_of])
        self.service = Service(problem, self)

    def day_at(self, person: int, slot: int) -> date | None:
        """The shift's day of a person at a slot."""
        return next((d for d, m in self.day_of[person].items() if m >> slot & 1), None)

    def qualified(self, need: Need) -> list[tuple[int, int]]:
        """People who can take a seat of this need, with the slots at which they may (certificate valid)."""
        found = self._qualified.get(need)
        if found is None:
            found = []
            for n, x in enumerate(self.people):
                if x.level_in(need.craft) < need.level:
                    continue
                mask = self.everything
                if need.certificate is not None:
                    held = [c for c in x.certificates if c.id == need.certificate]
                    mask = union(
                        m
                        for d, m in self.day_of[n].items()
                        if any(c.until is None or d <= c.until for c in held)
                    )
                if mask:
                    found.append((n, mask))
            self._qualified[need] = found
        return found

    def asset_mask(self, job: Job, task: Task) -> int:
        """Slots at which the job's asset is in the state that the task needs, other jobs aside."""
        if job.asset is None or task.asset_state == "any":
            return self.everything
        return (self.stopped if task.asset_state == "stopped" else self.running)[job.asset]

    def others_on_asset(self, job: Job) -> int:
        """Slots taken by spans of other jobs on an asset that takes one job at a time."""
        spans = self.spans.get(job.asset or "", {})
        return union(m for j, m in spans.items() if j != job.id)

    def tool_free(self, task: Task, beside: Sequence[Portion] = ()) -> int:
        """Slots at which one more of each of the task's tools is there; `beside` are portions that are not on
        the board yet."""
        mask = self.everything
        for tool in task.tools:
            levels = list(self.tool_levels[tool])
            for portion in beside:
                if tool in portion.task.tools:
                    _stack(levels, portion.mask)
            mask &= ~levels[-1] if len(levels) > 1 else 0
        return mask

    def open_for(self, person: int, area: str | None) -> int:
        """Slots at which the person is free, with time for the way, to work in an area."""
        return self.free[person] & ~self.areas.shut(person, area)

    def regular_slots(self, person: int, mask: int) -> int:
        return (self.regular[person] & mask).bit_count()

    def _tools(self, portion: Portion, add: bool) -> None:
        m = portion.mask
        for tool in portion.task.tools:
            levels = self.tool_levels[tool]
            if len(levels) == 1:
                continue
            if add:
                _stack(levels, m)
                continue
            for k in range(1, len(levels)):
                levels[k] &= ~m | (levels[k + 1] if k + 1 < len(levels) else 0)

    def add(self, job: Job, portions: list[Portion]) -> None:
        """Put portions of a job on the board."""
        area = self.problem.area_of(job)
        for portion in portions:
            m = portion.mask
            for n in portion.people:
                if n is not None:
                    self.free[n] &= ~m
                    self.budget[self.main[n]] -= self.regular_slots(n, m)
                    self.areas.begin(n, area, portion.start, portion.end, portion.real)
            self._tools(portion, True)
        self.placed.setdefault(job.id, []).extend(portions)
        self._span(job)

    def remove(self, job: Job, kept: int = 0) -> list[Portion]:
        """Take the job's portions off, all but the first `kept` (those that are fixed); gives them back."""
        portions = self.placed.get(job.id, [])
        taken, area = portions[kept:], self.problem.area_of(job)
        for portion in reversed(taken):
            m = portion.mask
            for n in portion.people:
                if n is not None:
                    self.free[n] |= m & self.there[n]
                    self.budget[self.main[n]] += self.regular_slots(n, m)
                    self.areas.end(n, area, portion.start, portion.end, portion.real)
            self._tools(portion, False)
        if kept:
            self.placed[job.id] = portions[:kept]
        else:
            self.placed.pop(job.id, None)
        self._span(job)
        return taken

    def _span(self, job: Job) -> None:
        self.service.note(job, self.placed.get(job.id, ()))
        if job.asset not in self.spans:
            return
        touching = [p for p in self.placed.get(job.id, ()) if p.task.asset_state != "any"]
        if touching:
            self.spans[job.asset][job.id] = span(min(p.start for p in touching), max(p.end for p in touching))
        else:
            self.spans[job.asset].pop(job.id, None)


def _stack(levels: list[int], mask: int) -> None:
    """One more use of a tool at these slots; `levels[k]` holds the slots with at least k in use."""
    for k in range(len(levels) - 1, 0, -1):
        levels[k] |= mask if k == 1 else levels[k - 1] & mask
