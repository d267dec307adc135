"""What lies where, and the price of a part, from its movements alone."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.parts.stock import KINDS, Move, NotThere, Position, after, position_of

HERE, THERE = ("main", "A-1", ""), ("north", "", "7")
MOVES = st.lists(
    st.builds(
        Move,
        st.sampled_from(KINDS),
        st.sampled_from((HERE, THERE)),
        st.integers(-5000, 9000).map(lambda n: n / 1000),
        st.none() | st.integers(1, 500).map(float),
    ),
    max_size=30,
)


def test_the_average_follows_each_receipt_as_in_a_hand_worked_example() -> None:
    """Weighted average after each receipt (IAS 2, paragraphs 25 and 27); figures worked by hand: 100 at 20,
    then 50 at 23 are 150 at 21; of these 90 go out; 40 at 24 come: (60 x 21 + 40 x 24) / 100 = 22.2."""
    first = position_of([Move("receipt", HERE, 100, 20.0), Move("receipt", HERE, 50, 23.0)])
    assert first.average == pytest.approx(21.0)
    out = after(first, Move("hand-out", HERE, -90, first.average))
    assert out.average == pytest.approx(21.0) and out.on_hand == 60
    last = after(out, Move("receipt", THERE, 40, 24.0))
    assert last.average == pytest.approx(22.2) and last.places == {HERE: 60, THERE: 40}


def test_what_is_given_back_brings_the_price_at_which_it_went() -> None:
    stock = position_of([Move("receipt", HERE, 2, 10.0), Move("hand-out", HERE, -2, 10.0)])
    assert stock.places == {} and stock.on_hand == 0
    again = after(after(stock, Move("receipt", HERE, 1, 40.0)), Move("give-back", HERE, 1, 10.0))
    assert again.average == pytest.approx(25.0)


def test_counting_and_moving_leave_the_price_as_it_is() -> None:
    stock = position_of([Move("receipt", HERE, 4, 10.0), Move("count", HERE, 2, 99.0)])
    moved = after(after(stock, Move("transfer", HERE, -3, 5.0)), Move("transfer", THERE, 3, 5.0))
    assert (moved.average, moved.places) == (10.0, {HERE: 3, THERE: 3})


@given(MOVES)
def test_no_place_ever_holds_less_than_nothing_and_what_lies_there_is_the_sum_of_its_movements(
    moves: list[Move],
) -> None:
    position = Position()
    done: list[Move] = []
    for move in moves:
        try:
            position = after(position, move)
        except NotThere as bad:
            assert bad.there < bad.wanted and bad.place == move.place
            continue
        done.append(move)
    for place in (HERE, THERE):
        total = round(sum(m.quantity for m in done if m.place == place), 3)
        assert position.places.get(place, 0.0) == pytest.approx(total) and total >= 0
    assert position.on_hand == pytest.approx(sum(position.places.values()))


@given(MOVES)
def test_the_average_lies_between_the_lowest_and_the_highest_price_that_was_paid(moves: list[Move]) -> None:
    position, paid = Position(), []
    for move in moves:
        try:
            position = after(position, move)
        except NotThere:
            continue
        if move.quantity > 0 and move.price is not None:
            paid.append(move.price)
    if position.average is not None:
        assert min(paid) - 1e-9 <= position.average <= max(paid) + 1e-9
