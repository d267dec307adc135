"""Rows of 64-bit words of the compiled search say what whole numbers as sets of slots say."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.week.board import bits
from nundine.core.week.search import compiled
from nundine.core.week.search.tables import words_of
from tests.examples import examples

WORDS = 3
ROWS = st.one_of(
    st.integers(0, (1 << 64 * WORDS) - 1),
    st.lists(st.tuples(st.integers(0, 191), st.integers(1, 80)), max_size=4).map(
        lambda runs: sum({1 << s: 1 << s for a, n in runs for s in range(a, min(a + n, 64 * WORDS))}.values())
    ),
)
STRETCHES = st.tuples(st.integers(0, 191), st.integers(1, 192)).map(
    lambda ab: (ab[0], min(ab[0] + ab[1], 192))
)
quickly = examples(200)
LOW, HIGH = np.uint64(0), np.uint64(WORDS)


@pytest.fixture(scope="module", autouse=True)
def loaded() -> None:
    assert compiled.load()


def row(mask: int) -> np.ndarray:
    return words_of([mask], WORDS)[0]


def number(words: np.ndarray) -> int:
    return int.from_bytes(words.tobytes(), "little")


@quickly
@given(ROWS, st.integers(1, 150))
def test_starts_of_a_length_are_the_slots_from_which_so_many_are_set(mask: int, length: int) -> None:
    from nundine.core.week.search.kernel.words import run_starts

    words = row(mask)
    run_starts(words, length, LOW, HIGH)
    assert number(words) == bits.run_starts(mask, length)


@quickly
@given(ROWS, st.integers(0, 63))
def test_a_row_and_itself_later_are_set_where_both_are(mask: int, by: int) -> None:
    from nundine.core.week.search.kernel.words import shifted_and

    words = row(0)
    some = shifted_and(row(mask), by, words, LOW, HIGH)
    assert number(words) == mask & (mask >> by)
    assert (int(some) != 0) == (mask & (mask >> by) != 0)


@quickly
@given(ROWS, STRETCHES)
def test_slots_of_a_stretch_are_counted_over_the_ends_of_words(mask: int, stretch: tuple[int, int]) -> None:
    from nundine.core.week.search.kernel.words import count_in

    assert count_in(row(mask), *stretch) == (mask & bits.span(*stretch)).bit_count()


@quickly
@given(ROWS)
def test_the_first_slot_is_the_lowest_that_is_set(mask: int) -> None:
    from nundine.core.week.search.kernel.words import first_bit

    assert first_bit(row(mask), LOW, HIGH) == (mask & -mask).bit_length() - 1


@quickly
@given(ROWS, st.integers(0, 191))
def test_a_run_lasts_until_the_first_slot_that_is_not_set(mask: int, start: int) -> None:
    from nundine.core.week.search.kernel.words import run_length

    rest = mask >> start
    assert run_length(row(mask), start, 192) == (~rest & -~rest).bit_length() - 1
