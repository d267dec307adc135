"""Published scheduling instances reduced to week problems, and seat filling against maximum flow.

A job shop becomes a week in which each machine is the only person of a craft and works round the clock; that
every job can be placed by a time limit means that a schedule of that length exists. A project with limited
resources becomes one job, each unit of a resource a person. The optima stand beside the data with their
source.
"""

from __future__ import annotations

import json
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

import networkx as nx
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.week.board.board import Board
from nundine.core.week.board.heads import match
from nundine.core.week.bound.hours import bound as by_hours
from nundine.core.week.building.build import Limits, build
from nundine.core.week.check import check
from nundine.core.week.problem import (
    After,
    Craft,
    CraftLevel,
    Job,
    Need,
    Person,
    PersonHours,
    Task,
    WeekProblem,
)
from nundine.core.week.search import compiled, exact
from tests.examples import examples

PROJECT = json.loads((Path(__file__).parent / "data" / "project.json").read_text())["j301_1"]
SHOPS = json.loads((Path(__file__).parent / "data" / "job_shop.json").read_text())
START, END = datetime(2026, 11, 30, tzinfo=UTC), datetime(2026, 12, 7, tzinfo=UTC)
MINUTES = 10


def shop(name: str, length: int) -> WeekProblem:
    """The instance as a week in which every job has to end within `length` units, a unit being one slot."""
    found = SHOPS[name]
    machines = sorted({m for row in found["machines"] for m in row})
    hours = (PersonHours(START, END, False, date(2026, 11, 30)),)
    people = tuple(Person(f"m{m}", (CraftLevel(f"c{m}", 2),), hours=hours) for m in machines)
    unit, jobs = MINUTES / 60, []
    for n, (durations, order) in enumerate(zip(found["durations"], found["machines"], strict=True)):
        tasks = tuple(
            Task(str(k), d * unit, after=(After(str(k - 1)),) if k else (), needs=(Need(f"c{m}"),))
            for k, (d, m) in enumerate(zip(durations, order, strict=True))
        )
        jobs.append(Job(f"J{n}", None, 10.0, tasks, latest=START + timedelta(minutes=MINUTES * length)))
    return WeekProblem(
        "2026-W49",
        "UTC",
        START,
        END,
        MINUTES,
        crafts=tuple(Craft(f"c{m}") for m in machines),
        people=people,
        jobs=tuple(jobs),
    )


def all_placed(problem: WeekProblem) -> float:
    return sum(j.priority * sum(t.hours * t.people for t in j.tasks) for j in problem.jobs)


@pytest.mark.parametrize("name", ["ft06", "la01"])
def test_every_job_of_a_job_shop_fits_into_its_published_optimum(name: str) -> None:
    problem = shop(name, SHOPS[name]["optimum"])
    found = exact.solve(Board(problem), list(problem.jobs), {}, seconds=60)
    assert found.value == pytest.approx(all_placed(problem))
    assert by_hours(problem) >= found.value - 1e-6


def test_a_job_shop_shorter_than_its_published_optimum_has_to_leave_a_job_out() -> None:
    problem = shop("ft06", SHOPS["ft06"]["optimum"] - 1)
    found = exact.solve(Board(problem), list(problem.jobs), {}, seconds=60)
    assert found.optimal
    assert found.bound < all_placed(problem)


def test_the_search_alone_places_a_job_shop_within_a_tenth_of_its_optimum() -> None:
    assert compiled.load()
    problem = shop("ft06", round(1.1 * SHOPS["ft06"]["optimum"]))
    plan = build(problem, limits=Limits(iterations=20_000), helps=False)
    assert not check(problem, plan.placements).errors
    assert {p.job for p in plan.placements} == {j.id for j in problem.jobs}


def project(length: int) -> WeekProblem:
    """The project as one job that has to end within `length` units, a unit being one slot."""
    hours = (PersonHours(START, END, False, date(2026, 11, 30)),)
    people = tuple(
        Person(f"r{k}-{n}", (CraftLevel(f"r{k}", 2),), hours=hours)
        for k, c in enumerate(PROJECT["capacities"])
        for n in range(c)
    )
    real = [t for t in PROJECT["tasks"] if t["duration"]]
    tasks = tuple(
        Task(
            str(t["task"]),
            t["duration"] * MINUTES / 60,
            after=tuple(After(str(b["task"])) for b in real if t["task"] in b["before"]),
            needs=tuple(Need(f"r{k}", people=n) for k, n in enumerate(t["needs"]) if n),
        )
        for t in real
    )
    job = Job("P", None, 10.0, tasks, latest=START + timedelta(minutes=MINUTES * length))
    return WeekProblem(
        "2026-W49",
        "UTC",
        START,
        END,
        MINUTES,
        crafts=tuple(Craft(f"r{k}") for k in range(4)),
        people=people,
        jobs=(job,),
    )


def test_a_project_with_limited_resources_fits_into_its_published_optimum_and_not_into_less() -> None:
    fits, shorter = project(PROJECT["optimum"]), project(PROJECT["optimum"] - 1)
    found = exact.solve(Board(fits), list(fits.jobs), {}, seconds=60)
    assert found.value == pytest.approx(all_placed(fits))
    nothing = exact.solve(Board(shorter), list(shorter.jobs), {}, seconds=60)
    assert nothing.optimal
    assert nothing.bound < 1.0


@examples(200)
@given(st.lists(st.lists(st.integers(0, 7), max_size=5, unique=True), min_size=1, max_size=6))
def test_seats_are_filled_exactly_when_a_maximum_flow_fills_them(wanted: list[list[int]]) -> None:
    graph = nx.DiGraph()
    for seat, people in enumerate(wanted):
        graph.add_edge("source", ("seat", seat), capacity=1)
        for n in people:
            graph.add_edge(("seat", seat), ("person", n), capacity=1)
            graph.add_edge(("person", n), "sink", capacity=1)
    flow = nx.maximum_flow_value(graph, "source", "sink") if graph.has_node("sink") else 0
    chosen = match(wanted)
    assert (chosen is not None) == (flow == len(wanted))
    if chosen is not None:
        assert len(set(chosen)) == len(chosen)
        assert all(n in people for n, people in zip(chosen, wanted, strict=True))
