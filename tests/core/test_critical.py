"""The critical path over tasks, against networkx."""

from __future__ import annotations

import networkx as nx
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.preventive.critical import Step, critical


@st.composite
def nets(draw: st.DrawFn) -> dict[int, Step]:
    count = draw(st.integers(1, 9))
    return {
        n: Step(
            draw(st.integers(1, 20)),
            tuple((b, draw(st.integers(0, 5))) for b in range(n) if draw(st.booleans())),
        )
        for n in range(count)
    }


@given(nets())
def test_the_longest_chain_is_that_of_the_graph_and_slack_is_what_is_left(
    steps: dict[int, Step],
) -> None:
    graph = nx.DiGraph()
    for n, s in steps.items():
        graph.add_edge(("start", n), ("end", n), weight=s.hours)
        for before, lag in s.after:
            graph.add_edge(("end", before), ("start", n), weight=lag)
    longest = nx.dag_longest_path_length(graph)
    times = critical(steps)
    assert max(t.end for t in times.values()) == longest
    for n in steps:
        to = max(
            nx.dag_longest_path_length(graph.subgraph({*nx.ancestors(graph, ("end", n)), ("end", n)})), 0
        )
        onward = graph.subgraph({*nx.descendants(graph, ("end", n)), ("end", n)})
        assert times[n].slack == pytest.approx(longest - to - nx.dag_longest_path_length(onward))


@given(nets())
def test_a_task_begins_after_those_that_it_follows(steps: dict[int, Step]) -> None:
    times = critical(steps)
    for n, s in steps.items():
        for before, lag in s.after:
            assert times[n].start >= times[before].end + lag


def test_what_waits_for_each_other_is_refused() -> None:
    with pytest.raises(ValueError, match="wait for each other"):
        critical({1: Step(1, ((2, 0),)), 2: Step(1, ((1, 0),))})


def test_what_is_not_there_any_more_is_taken_as_done() -> None:
    assert critical({1: Step(2, ((7, 5),))})[1].start == 0
