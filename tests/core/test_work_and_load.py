"""Critical path, priority index, tanks and work by hand."""

from datetime import date, timedelta
from random import Random

import networkx
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.priority import PriorityWeights, priority_index
from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
from nundine.core.week.hand import candidates, put_in
from nundine.core.week.load import tanks
from nundine.core.week.moving import move_jobs, move_to_day, relief
from nundine.core.work import critical_path_hours, in_order, tasks_before, work_hours
from tests.examples import examples
from tests.weeks import random_week

TODAY = date(2026, 11, 30)


@examples(30)
@given(st.integers(0, 10**6))
def test_the_critical_path_is_the_longest_path_of_the_network(seed: int) -> None:
    for job in random_week(seed, 3, 6).jobs:
        graph = networkx.DiGraph()
        for t in job.tasks:
            graph.add_edge("start", t.id, weight=0.0)
            graph.add_edge(t.id, t.id + "!", weight=t.hours)
            graph.add_edge(t.id + "!", "end", weight=0.0)
            for a in t.after:
                graph.add_edge(a.task + "!", t.id, weight=a.lag)
        assert critical_path_hours(job.tasks) == pytest.approx(networkx.dag_longest_path_length(graph))
        position = {t.id: n for n, t in enumerate(in_order(job.tasks))}
        assert all(position[a.task] < position[t.id] for t in job.tasks for a in t.after)


@given(st.integers(0, 10**6))
def test_tasks_before_others_are_their_ancestors_in_the_network(seed: int) -> None:
    for job in random_week(seed, 3, 8).jobs:
        graph = networkx.DiGraph()
        graph.add_nodes_from(t.id for t in job.tasks)
        graph.add_edges_from((a.task, t.id) for t in job.tasks for a in t.after)
        chosen = {job.tasks[-1].id}
        assert set(tasks_before(job.tasks, chosen)) == networkx.ancestors(graph, job.tasks[-1].id)
        assert tasks_before(job.tasks, graph.nodes) == []


def test_priority_is_criticality_times_kind_plus_ageing_up_to_a_cap() -> None:
    w = PriorityWeights()
    assert priority_index(8, "corrective", TODAY, TODAY, w) == 48
    assert priority_index(8, "corrective", TODAY - timedelta(weeks=3), TODAY, w) == 51
    assert priority_index(8, "corrective", TODAY - timedelta(weeks=300), TODAY, w) == 63
    with pytest.raises(ValueError):
        priority_index(11, "corrective", TODAY, TODAY, w)


def test_tanks_hold_every_hour_of_people_and_work_exactly_once() -> None:
    problem = random_week(4, 10, 30)
    plan = build(problem, limits=Limits(iterations=10), helps=False)
    found = tanks(problem, plan.placements)
    hours = sum((h.end - h.start).total_seconds() / 3600 for p in problem.people for h in p.hours)
    assert sum(t.available for t in found.values()) == pytest.approx(hours)
    work = sum(work_hours(t) for j in {p.job for p in plan.placements} for t in problem.job_by_id[j].tasks)
    partial = any(problem.job_by_id[p.job].divisible for p in plan.placements)
    assert partial or sum(t.load for t in found.values()) == pytest.approx(work)


@examples(20)
@given(st.integers(0, 10**5), st.integers(0, 6))
def test_a_move_by_hand_lands_on_its_day_and_never_books_anybody_twice(seed: int, day: int) -> None:
    problem = random_week(seed, 8, 20)
    placements = build(problem, limits=Limits(iterations=2), helps=False).placements
    if not placements:
        return
    moved = move_to_day(problem, placements, placements[:1], problem.days[day])
    assert [p.day for p in moved] == [problem.days[day]]
    rest = tuple(p for p in placements if p.key != moved[0].key)
    assert "double" not in {b.code for b in check(problem, rest + moved).errors}


def test_who_can_take_a_seat_is_listed_best_first_with_why() -> None:
    problem = random_week(21, 10, 20)
    placements = build(problem, limits=Limits(iterations=5), helps=False).placements
    found = candidates(problem, placements, placements[0], 0)
    assert found
    assert [c.fits for c in found] == sorted((c.fits for c in found), reverse=True)
    assert all(c.why for c in found)
    assert placements[0].people[0].id in {c.person for c in found if c.fits}


def test_a_job_put_in_by_hand_is_placed_even_where_it_does_not_fit() -> None:
    problem = random_week(8, 6, 30)
    plan = build(problem, limits=Limits(iterations=5), helps=False)
    for left in plan.not_placed[:5]:
        put = put_in(problem, plan.placements, left.job, problem.days[2])
        assert {p.task for p in put} == {t.id for t in problem.job_by_id[left.job].tasks}
        assert {p.day for p in put} == {problem.days[2]}


@pytest.mark.parametrize("seed", range(8))
def test_whole_jobs_move_so_that_their_tasks_stay_in_order(seed: int) -> None:
    problem = random_week(seed, people=8, jobs=24)
    plan = build(problem, limits=Limits(iterations=40), helps=False).placements
    dice = Random(seed)
    for _ in range(6):
        chosen = tuple(dice.sample(plan, 3))
        day = dice.choice(problem.days)
        moved = {p.key: p for p in move_jobs(problem, plan, chosen, day)}
        assert set(moved) == {p.key for p in plan if p.job in {c.job for c in chosen}}
        assert all(
            moved[c.key].day == day for c in chosen if len({x.day for x in chosen if x.job == c.job}) == 1
        )
        after = tuple(moved.get(p.key, p) for p in plan)
        broken = check(problem.with_placements(after), after).conflicts
        assert not {b.finding().name for b in broken} & {"order, day", "order, portions"}


def test_what_stays_does_not_move_with_its_job() -> None:
    problem = random_week(3, people=8, jobs=24)
    plan = build(problem, limits=Limits(iterations=40), helps=False).placements
    job = next(j for j in {p.job for p in plan} if sum(p.job == j for p in plan) > 1)
    first, *others = [p for p in plan if p.job == job]
    moved = move_jobs(problem, plan, (first,), problem.days[6], {p.key for p in others})
    assert {p.key for p in moved} == {first.key}


def test_a_relief_of_a_tank_fits_as_it_is_told() -> None:
    problem = random_week(5, people=8, jobs=24)
    plan = build(problem, limits=Limits(iterations=40), helps=False).placements
    for craft in problem.crafts:
        for day in problem.days:
            for found in relief(problem, plan, craft.id, day):
                chosen = tuple(p for p in plan if p.job == found.job and p.day == day)
                after = {p.key: p for p in (*plan, *move_jobs(problem, plan, chosen, found.day))}
                assert not check(
                    problem.with_placements(tuple(after.values())), tuple(after.values())
                ).conflicts
