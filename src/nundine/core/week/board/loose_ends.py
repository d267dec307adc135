"""What a job's own loose ends cost on a board: gaps in which nobody works on it, handovers, hours away
(docs/engine.md, "Prices")."""

from __future__ import annotations

from nundine.core.week.board.board import Board, Portion
from nundine.core.week.problem import Job, Weights


class LooseEnds:
    """Prices of the jobs of one board, in points."""

    def __init__(self, board: Board) -> None:
        self.board, self.w = board, board.problem.weights
        self.hours = board.problem.slot_minutes / 60
        self.order: dict[str, dict[str, int]] = {}

    def of(self, job: Job, portions: list[Portion]) -> float:
        """What the job as these portions costs beside its points; changes of area are counted by the
        board."""
        if not self.w.has_prices:
            return 0.0
        cost = 0.0
        if len(portions) > 1:
            its = self.in_order(job, portions)
            cost = self._waiting(its) + self.w.handover * handovers(its)
        return cost + self.w.away_per_hour * (self.away(job, portions) * self.hours)

    def in_order(self, job: Job, portions: list[Portion]) -> list[Portion]:
        """By start, end, order of tasks, portion."""
        if job.id not in self.order:
            self.order[job.id] = {t.id: n for n, t in enumerate(job.ordered_tasks)}
        order = self.order[job.id]
        return sorted(portions, key=lambda p: (p.start, p.end, order[p.task.id], p.number))

    def _waiting(self, its: list[Portion]) -> float:
        cost, end = 0.0, its[0].end
        for p in its[1:]:
            if p.start > end:
                cost += waiting(self.w, (p.start - end) * self.hours, longest_lag(p))
            end = max(end, p.end)
        return cost

    def gaps(self, its: list[Portion]) -> int:
        """Slots in which nobody works on the job, its portions given in their order."""
        idle, end = 0, its[0].end
        for p in its[1:]:
            idle += max(0, p.start - end)
            end = max(end, p.end)
        return idle

    def away(self, job: Job, portions: list[Portion]) -> int:
        """Slots of the seats outside the areas of their shifts."""
        board, area = self.board, self.board.problem.area_of(job)
        return sum(
            (board.areas.away(n, area, board.there[n]) & p.mask).bit_count()
            for p in portions
            for n in p.people
            if n is not None
        )


def longest_lag(portion: Portion) -> float:
    """Hours that the portion's task must wait at most after what it follows."""
    return max((a.lag for a in portion.task.after), default=0.0)


def waiting(w: Weights, hours: float, lag: float) -> float:
    """Points for a gap of some hours before a portion whose longest lag is given."""
    return w.waiting_per_hour * min(w.waiting_cap_hours, max(0.0, hours - lag))


def handovers(its: list[Portion]) -> int:
    """How often entirely other people go on with a craft in common; `its` in their order."""
    return sum(handed_over(a, b) for a, b in zip(its, its[1:], strict=False))


def handed_over(before: Portion, after: Portion) -> bool:
    """Whether a portion is done by entirely other people than the one before it, with a craft in common."""
    if after.start < before.end or not share_a_craft(before, after):
        return False
    if None in before.people or None in after.people:
        return False
    return not set(before.people) & set(after.people)


def share_a_craft(a: Portion, b: Portion) -> bool:
    return any(n.craft == m.craft for n in a.task.needs for m in b.task.needs)
