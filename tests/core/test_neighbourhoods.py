"""Exact neighbourhoods: whatever is placed anew, the plan on the board gets better or stays as it is."""

from __future__ import annotations

from random import Random

import pytest

from nundine.core.week.board.board import Board
from nundine.core.week.board.draft import Draft
from nundine.core.week.building import build
from nundine.core.week.check import check
from nundine.core.week.plan import WeekPlan
from nundine.core.week.problem import Job, Need, Task, WeekProblem
from nundine.core.week.search import neighbourhoods, side_by_side
from nundine.core.week.search.neighbourhoods import PLACED, WAITING, Polish
from nundine.core.week.search.plain import Search
from tests.core.test_exact import staff, week
from tests.weeks import random_week


class Polished:
    """A dispatched week on a board, ready to be polished."""

    def __init__(self, problem: WeekProblem) -> None:
        self.problem, self.board = problem, Board(problem)
        self.draft = Draft(self.board)
        jobs = [j for j in problem.jobs if j.id not in self.draft.loose_jobs and j.tasks]
        self.search = Search(self.board, jobs, self.draft.kept, 1)
        self.search.dispatch()
        self.polish = Polish(self.search)

    def checked(self) -> float:
        """The value of what stands on the board, by the independent check, which finds no error in it."""
        found = check(self.problem, build.plan_placements(self.problem, self.board, self.draft))
        assert not found.errors
        return found.value


def one_task(name: str, priority: float, hours: float) -> Job:
    return Job(name, None, priority, (Task("10", hours, needs=(Need("mech", 1, 1),)),))


@pytest.mark.parametrize("seed", range(6))
def test_a_neighbourhood_placed_anew_never_makes_the_plan_worse_nor_breaks_a_rule(seed: int) -> None:
    polished = Polished(random_week(seed, people=5, jobs=22))
    for _ in range(4):
        before = polished.search.value
        better = polished.polish.once(0.5)
        assert polished.search.value >= before - 1e-6
        assert better == (polished.search.value > before + 1e-6)
        assert polished.checked() == pytest.approx(polished.search.value)
        assert polished.search.best_value == pytest.approx(polished.search.value)


@pytest.mark.parametrize("seed", range(4))
def test_what_is_fixed_stays_where_it_is(seed: int) -> None:
    problem = random_week(seed, people=5, jobs=18)
    first = Polished(problem)
    placed = build.plan_placements(problem, first.board, first.draft)
    chosen = {p.job for p in Random(seed).sample(placed, min(4, len(placed)))}
    fixed = tuple(p for p in placed if p.job in chosen)
    polished = Polished(problem.with_placements(fixed))
    for _ in range(3):
        polished.polish.once(0.5)
    now = build.plan_placements(polished.problem, polished.board, polished.draft)
    assert [p for p in now if p.job in chosen] == sorted(fixed, key=lambda p: p.key)


def test_two_jobs_that_fill_the_shift_take_the_place_of_a_dearer_one_that_leaves_a_rest() -> None:
    """Eight hours: by points an hour the job of five goes first, and nothing fits beside it; the two of four
    are worth more together."""
    problem = week(
        staff((8, 16)), one_task("five", 60, 5), one_task("four", 55, 4), one_task("also four", 55, 4)
    )
    polished = Polished(problem)
    assert polished.search.value == pytest.approx(300)
    assert polished.polish.once(600.0)
    assert polished.search.value == polished.checked() == pytest.approx(440)
    assert not polished.polish.once(600.0)


def test_an_empty_board_has_no_neighbourhood() -> None:
    polished = Polished(week(staff((8, 16)), one_task("too long", 50, 9)))
    assert not polished.polish.once(1.0)
    assert polished.search.value == 0


def test_a_neighbourhood_holds_so_many_placed_and_waiting_jobs_at_most_and_none_without_hope() -> None:
    problem = random_week(3, people=6, jobs=60)
    polished = Polished(problem)
    for _ in range(20):
        free = polished.polish._neighbourhood()
        placed = [j for j in free if polished.search.movable(j.id)]
        assert 0 < len(placed) <= PLACED and len(free) - len(placed) <= WAITING
        assert len({j.id for j in free}) == len(free)
        assert not {j.id for j in free} & polished.search.hopeless


def test_it_ends_when_time_is_over_or_when_it_is_told_to(monkeypatch: pytest.MonkeyPatch) -> None:
    polished = Polished(random_week(1, people=4, jobs=12))
    told: list[float] = []

    def enough(value: float) -> bool:
        told.append(value)
        return len(told) > 2

    asked: list[float] = []
    once = polished.polish.once
    monkeypatch.setattr(polished.polish, "once", lambda seconds: asked.append(seconds) or once(seconds))
    polished.polish.run(10**6, enough)
    assert len(told) == 3 and len(asked) == 2
    assert all(0 < seconds <= neighbourhoods.MOST_SECONDS for seconds in asked)
    assert told == sorted(told)
    assert polished.polish.run(0.0, enough) == 0


class Clock:
    """A clock that goes on by a fixed step at each look, however fast the machine is."""

    def __init__(self, step: float) -> None:
        self.now, self.step = 0.0, step

    def __call__(self) -> float:
        self.now += self.step
        return self.now


@pytest.mark.long
def test_a_week_of_middle_size_is_polished_at_the_end_of_a_build(monkeypatch: pytest.MonkeyPatch) -> None:
    """Counted in looks at a clock, not in time: what is left after the search is given to polishing, once."""
    clock = Clock(0.01)
    for module in (side_by_side, build, neighbourhoods):
        monkeypatch.setattr(module, "perf_counter", clock)
    monkeypatch.setattr(side_by_side, "EXACT_BELOW", 0)
    ran: list[float] = []
    run = Polish.run

    def watched(self: Polish, seconds: float, report) -> int:
        ran.append(seconds)
        return run(self, seconds, report)

    monkeypatch.setattr(Polish, "run", watched)
    problem = random_week(2, people=5, jobs=20)
    limits = build.Limits(20.0)
    plan: WeekPlan = build.build(problem, limits=limits, helps=False, known_bound=float("inf"))
    assert len(ran) == 1 and 0 < ran[0] <= 0.15 * limits.seconds
    found = check(problem, plan.placements)
    assert not found.errors and found.value == pytest.approx(plan.value)
