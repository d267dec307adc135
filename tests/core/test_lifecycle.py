"""Lifecycles as data: every state can be reached, every guard has words, and what follows from tasks is a
move that there is."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.lifecycle import (
    CLOSING,
    FILE,
    HAND,
    IN_NO_WEEK,
    LIFECYCLES,
    ORDER_STATES,
    TASK_STATES,
    TASKS,
    WEEK,
    WORK_ORDER,
    Lifecycle,
    state_from_tasks,
)
from nundine.services.lifecycles import words

ALL = sorted(LIFECYCLES)


@pytest.mark.parametrize("noun", ALL)
def test_moves_lead_from_and_to_states_of_the_noun_and_stand_once_for_each_that_makes_them(noun: str) -> None:
    cycle = LIFECYCLES[noun]
    stands: set[tuple[str, str, str]] = set()
    for m in cycle.moves:
        assert {m.start, m.end} <= set(cycle.states) and m.start != m.end
        for by in m.by:
            assert (m.start, m.end, by) not in stands
            stands.add((m.start, m.end, by))


@pytest.mark.parametrize("noun", ALL)
def test_every_state_can_be_reached_from_every_first_one(noun: str) -> None:
    cycle = LIFECYCLES[noun]
    reached, edge = {cycle.states[0]}, [cycle.states[0]]
    while edge:
        state = edge.pop()
        for m in cycle.moves:
            if m.start == state and m.end not in reached:
                reached.add(m.end)
                edge.append(m.end)
    assert reached == set(cycle.states)


@pytest.mark.parametrize("noun", ALL)
def test_every_guard_stands_in_the_way_of_some_facts_and_says_so_in_words(noun: str) -> None:
    cycle = LIFECYCLES[noun]
    for m in cycle.moves:
        for guard in m.guards:
            bad = {name: False if name == "placed" else ["X-1"] for name in guard.facts}
            blocked = cycle.blocked(m.start, m.end, min(m.by), bad)
            assert blocked is not None and blocked.guard is guard
            assert words(blocked, "X-1").endswith(".")
            assert not guard.holds(bad) and guard.holds({"placed": True})


def test_a_wo_in_a_week_can_not_be_held_or_cancelled_by_hand_and_the_refusal_names_the_guard() -> None:
    blocked = WORK_ORDER.blocked("approved", "cancelled", HAND, {"week": "2026-W49"})
    assert blocked is not None and blocked.guard is IN_NO_WEEK
    assert words(blocked, "WO-1") == "WO-1 is placed in 2026-W49. Take it out there first, then cancel it."
    assert WORK_ORDER.blocked("approved", "cancelled", HAND, {"week": None}) is None
    assert WORK_ORDER.blocked("done", "approved", HAND, {}) is not None


def test_a_week_is_closed_by_closing_alone_and_opened_again_by_nothing_else() -> None:
    assert WEEK.move("published", "closed", HAND) is None
    assert WEEK.move("published", "closed", CLOSING) is not None
    assert WEEK.ends("closed", HAND) == ()


def test_a_file_may_say_any_state_of_work() -> None:
    for cycle in (WORK_ORDER, LIFECYCLES["task"]):
        assert all(set(cycle.ends(s, FILE)) == set(cycle.states) - {s} for s in cycle.states)


@given(st.sampled_from(ORDER_STATES), st.lists(st.sampled_from(TASK_STATES), max_size=6))
def test_what_follows_from_tasks_is_a_move_that_there_is_or_none_at_all(now: str, tasks: list[str]) -> None:
    then = state_from_tasks(now, tasks)
    assert then == now or WORK_ORDER.move(now, then, TASKS) is not None
    assert state_from_tasks(then, tasks) == then


@given(st.sampled_from(ALL), st.data())
def test_offered_states_are_those_that_are_not_blocked_where_nothing_stands_in_the_way(
    noun: str, data: st.DataObject
) -> None:
    cycle: Lifecycle = LIFECYCLES[noun]
    start = data.draw(st.sampled_from(cycle.states))
    for end in cycle.states:
        free = cycle.blocked(start, end, HAND, {"placed": True}) is None
        assert free == (end == start or end in cycle.ends(start, HAND))
