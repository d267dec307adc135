"""The week as bitsets: who is there and free, where each asset and tool may be used, what is placed."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date

from nundine.core.timeline import Interval, merge
from nundine.core.week.build.bits import span, union
from nundine.core.week.problem import Job, Need, Person, Task, WeekProblem


@dataclass(frozen=True)
class Portion:
    """A placed portion on slots start..end-1 with the people's positions in the order of the seats; None = open."""

    task: Task
    number: int
    start: int
    end: int
    people: tuple[int | None, ...]

    @property
    def mask(self) -> int:
        return span(self.start, self.end)


class Board:
    """Mutable state of a build. Positions of people and masks of slots; slot 0 is the week's start."""

    def __init__(self, problem: WeekProblem, days: frozenset[date] | None = None) -> None:
        self.problem = problem
        grid = problem.grid
        self.week_end = grid.floor(problem.end)
        ends = [grid.floor(h.end) for x in problem.people for h in x.hours]
        self.slots = max([self.week_end, *ends])
        self.everything = span(0, self.slots)
        self.people = problem.people
        self.position = {x.id: n for n, x in enumerate(problem.people)}
        self.day_of: list[dict[date, int]] = []
        self.there: list[int] = []
        self.regular: list[int] = []
        for x in problem.people:
            self._add_person(x, days)
        self.free = list(self.there)
        self.main = [x.main_craft for x in problem.people]
        self.breadth = [sum(c.level for c in x.crafts) for x in problem.people]
        held = {c.id: c.held_back for c in problem.crafts}
        hours: dict[str, int] = defaultdict(int)
        for x in problem.people:
            whole = self._joined(x, False)
            hours[x.main_craft] += whole.bit_count()
        self.budget = {c: int((1 - held[c]) * n + 1e-9) for c, n in hours.items()}
        self._qualified: dict[Need, list[tuple[int, int]]] = {}
        self.stopped: dict[str, int] = {}
        self.running: dict[str, int] = {}
        self._windows()
        self.spans: dict[str, dict[str, int]] = {a.id: {} for a in problem.assets if a.one_job_at_a_time}
        self.tool_levels = {t.id: [0] * (t.count + 1) for t in problem.tools}
        self.placed: dict[str, list[Portion]] = {}

    def _joined(self, x: Person, overtime: bool) -> int:
        grid = self.problem.grid
        joined = merge(Interval(h.start, h.end) for h in x.hours if overtime or not h.overtime)
        return union(span(grid.ceil(i.start), grid.floor(i.end)) for i in joined)

    def _add_person(self, x: Person, days: frozenset[date] | None) -> None:
        grid = self.problem.grid
        there, taken = self._joined(x, True), 0
        by_day: dict[date, int] = defaultdict(int)
        for h in sorted(x.hours, key=lambda h: h.start):
            part = span(grid.floor(h.start), grid.ceil(h.end)) & there & ~taken
            taken |= part
            by_day[h.day] |= part
        allowed = union(m for d, m in by_day.items() if d in self.problem.days and (days is None or d in days))
        self.day_of.append(dict(by_day))
        self.there.append(there & allowed)
        self.regular.append(self._joined(x, False) & allowed)

    def _windows(self) -> None:
        grid = self.problem.grid
        for a in self.problem.assets:
            run_out = union(span(grid.floor(i.start), grid.ceil(i.end)) for i in merge(a.run_windows))
            run_in = union(span(grid.ceil(i.start), grid.floor(i.end)) for i in merge(a.run_windows))
            work_in = self.everything if a.work_windows is None else union(span(grid.ceil(i.start), grid.floor(i.end)) for i in merge(a.work_windows))
            work_out = union(span(grid.floor(i.start), grid.ceil(i.end)) for i in merge(a.work_windows or ()))
            self.stopped[a.id] = self.everything & work_in & ~run_out
            self.running[a.id] = self.everything & (run_in if a.run_windows else ~work_out)

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
                    mask = union(m for d, m in self.day_of[n].items() if any(c.until is None or d <= c.until for c in held))
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

    def tool_free(self, task: Task) -> int:
        mask = self.everything
        for tool in task.tools:
            levels = self.tool_levels[tool]
            mask &= ~levels[-1] if len(levels) > 1 else 0
        return mask

    def regular_slots(self, person: int, mask: int) -> int:
        return (self.regular[person] & mask).bit_count()

    def _tools(self, portion: Portion, add: bool) -> None:
        m = portion.mask
        for tool in portion.task.tools:
            levels = self.tool_levels[tool]
            if len(levels) == 1:
                continue
            order = range(len(levels) - 1, 0, -1) if add else range(1, len(levels))
            for k in order:
                if add:
                    levels[k] |= m if k == 1 else levels[k - 1] & m
                else:
                    levels[k] &= ~m | (levels[k + 1] if k + 1 < len(levels) else 0)

    def add(self, job: Job, portions: list[Portion]) -> None:
        """Put portions of a job on the board."""
        for portion in portions:
            m = portion.mask
            for n in portion.people:
                if n is not None:
                    self.free[n] &= ~m
                    self.budget[self.main[n]] -= self.regular_slots(n, m)
            self._tools(portion, True)
        self.placed.setdefault(job.id, []).extend(portions)
        self._span(job)

    def remove(self, job: Job, kept: int = 0) -> list[Portion]:
        """Take the job's portions off, all but the first `kept` (those that are fixed); gives them back."""
        portions = self.placed.get(job.id, [])
        taken = portions[kept:]
        for portion in taken:
            m = portion.mask
            for n in portion.people:
                if n is not None:
                    self.free[n] |= m & self.there[n]
                    self.budget[self.main[n]] += self.regular_slots(n, m)
            self._tools(portion, False)
        if kept:
            self.placed[job.id] = portions[:kept]
        else:
            self.placed.pop(job.id, None)
        self._span(job)
        return taken

    def _span(self, job: Job) -> None:
        if job.asset not in self.spans:
            return
        touching = [p for p in self.placed.get(job.id, ()) if p.task.asset_state != "any"]
        if touching:
            self.spans[job.asset][job.id] = span(min(p.start for p in touching), max(p.end for p in touching))
        else:
            self.spans[job.asset].pop(job.id, None)
