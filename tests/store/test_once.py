"""What is read once for a command: kept in it alone, and not past what writes it."""

from __future__ import annotations

from itertools import count

import pytest

from nundine.store.once import forget, once, read_once


def test_outside_of_a_command_everything_is_read_anew() -> None:
    turn = count()
    assert [once("a", lambda: next(turn)) for _ in range(3)] == [0, 1, 2]


def test_within_a_command_and_those_within_it_things_are_read_once() -> None:
    turn = count()
    with read_once():
        first = once("a", lambda: next(turn))
        with read_once():
            assert once("a", lambda: next(turn)) == first
        assert once("a", lambda: next(turn)) == first
    with read_once():
        assert once("a", lambda: next(turn)) == first + 1


def test_a_command_that_fails_leaves_nothing_behind() -> None:
    with pytest.raises(ValueError), read_once():
        once("a", lambda: 1)
        raise ValueError
    assert once("a", lambda: 2) == 2


def test_what_was_written_is_read_anew_and_all_else_is_kept() -> None:
    turn = count()
    with read_once():
        site, ids = (once(("site", 1), lambda: next(turn)), once(("ids", "asset"), lambda: next(turn)))
        forget("site")
        assert once(("site", 1), lambda: next(turn)) != site
        assert once(("ids", "asset"), lambda: next(turn)) == ids
