"""Calendars as bitsets say what slot-by-slot counting says; teams are found just where they are."""

import networkx
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.week.board.bits import cover, first_bit, run_length, run_starts, runs, span, union
from nundine.core.week.board.board import Board
from nundine.core.week.board.heads import at_least, enough_heads, match, starts_with_people
from tests.examples import examples
from tests.weeks import random_week

MASKS = st.integers(0, 2**40 - 1)
LENGTHS = st.integers(1, 12)


def slots(mask: int) -> set[int]:
    return {n for n in range(mask.bit_length()) if mask >> n & 1}


@given(st.integers(-5, 50), st.integers(-5, 50))
def test_a_span_holds_its_slots_from_the_first_to_before_the_last_and_none_before_the_week(
    first: int, last: int
) -> None:
    assert slots(span(first, last)) == set(range(max(first, 0), max(last, 0)))


@given(MASKS, LENGTHS)
def test_a_run_starts_wherever_all_its_slots_are_set(mask: int, length: int) -> None:
    assert slots(run_starts(mask, length)) == {
        n for n in slots(mask) if all(mask >> n + k & 1 for k in range(length))
    }


@given(MASKS, LENGTHS)
def test_covering_starts_gives_back_every_slot_of_their_runs_and_no_other(mask: int, length: int) -> None:
    assert slots(cover(mask, length)) == {n + k for n in slots(mask) for k in range(length)}
    assert run_starts(cover(mask, length), length) | mask == run_starts(cover(mask, length), length)


@given(MASKS)
def test_stretches_are_apart_and_together_make_the_mask(mask: int) -> None:
    found = runs(mask)
    assert union(span(a, b) for a, b in found) == mask
    assert all(b < c for (_, b), (c, _) in zip(found, found[1:], strict=False))
    assert all(run_length(mask, a) == b - a for a, b in found)
    assert first_bit(mask) == (found[0][0] if found else -1)


@given(st.lists(MASKS, max_size=6), st.integers(1, 4))
def test_enough_people_are_there_in_the_slots_in_which_so_many_are_set(masks: list[int], count: int) -> None:
    assert slots(at_least(masks, count)) == {n for n in range(40) if sum(m >> n & 1 for m in masks) >= count}


@given(st.lists(st.lists(st.integers(0, 5), max_size=4, unique=True), min_size=1, max_size=5))
def test_seats_are_all_filled_just_when_a_maximum_matching_fills_them(wanted: list[list[int]]) -> None:
    graph = networkx.Graph()
    graph.add_nodes_from(("seat", n) for n in range(len(wanted)))
    graph.add_edges_from((("seat", n), ("person", p)) for n, able in enumerate(wanted) for p in able)
    most = networkx.bipartite.hopcroft_karp_matching(graph, [("seat", n) for n in range(len(wanted))])
    full = sum(1 for node in most if node[0] == "seat") == len(wanted)
    chosen = match(wanted)
    assert (chosen is not None) == full
    if chosen is not None:
        assert len(set(chosen)) == len(wanted)
        assert all(p in able for p, able in zip(chosen, wanted, strict=True))


@given(
    st.lists(st.lists(st.tuples(st.integers(0, 3), st.integers(0, 255)), max_size=4), min_size=2, max_size=3),
    st.integers(1, 4),
)
def test_a_person_who_could_take_several_seats_is_one_head(
    able: list[list[tuple[int, int]]], people: int
) -> None:
    heads = {n: {p for one in able for p, m in one if m >> n & 1} for n in range(8)}
    assert slots(enough_heads(able, people)) == {n for n in range(8) if len(heads[n]) >= people}


@examples(25)
@given(st.integers(0, 10**6))
def test_a_team_is_found_only_where_so_many_people_stay_for_the_whole_task(seed: int) -> None:
    problem = random_week(seed, 5, 6)
    board = Board(problem)
    for job in problem.jobs:
        for task in job.tasks:
            length = problem.grid.slots_for(task.hours)
            found = starts_with_people(board, task, board.everything, length)
            for start in range(0, board.slots, 7):
                stays = [
                    [
                        n
                        for n, mask in board.qualified(need)
                        if span(start, start + length) & ~(board.free[n] & mask) == 0
                    ]
                    for need in task.seat_needs
                ]
                if match(stays) is not None:
                    assert found >> start & 1, "a start at which all seats can be filled is never left out"
            lone = [need for need in task.needs if need.people > 1]
            for need, start in ((need, s) for need in lone for s in list(slots(found))[:20]):
                able = [
                    n
                    for n, mask in board.qualified(need)
                    if span(start, start + length) & ~(board.free[n] & mask) == 0
                ]
                assert len(able) >= need.people
