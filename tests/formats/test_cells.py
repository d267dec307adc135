"""Cells of the site's own tables: what people write is read, what can not be meant is refused in words, and
what is written reads back equal."""

from __future__ import annotations

from datetime import UTC, date, datetime, time
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nundine.formats.tables import BadCell
from nundine.services.exchange.cells import write_cell
from nundine.services.exchange.kinds import KINDS
from nundine.services.exchange.kinds.kind import Column

ZONE = ZoneInfo("Europe/Zurich")
KEYS = st.text("abcdefghijklmnopqrstuvwxyz0123456789-", min_size=1, max_size=12)
"""Keys of crafts, tools and tasks as sites write them."""


def column(kind: str, name: str) -> Column:
    return next(c for c in KINDS[kind].columns if c.name == name)


def read(kind: str, name: str, cell: Any) -> Any:
    return column(kind, name).value(cell, ZONE)


ALL = [(kind.name, c.name) for kind in KINDS.values() for c in kind.columns]


@pytest.mark.parametrize(("kind", "name"), [(k, n) for k, n in ALL if column(k, n).example])
def test_the_example_of_each_column_is_read_and_reads_back_equal_when_written(kind: str, name: str) -> None:
    value = read(kind, name, column(kind, name).example)
    assert read(kind, name, write_cell(name, value, ZONE)) == value


@pytest.mark.parametrize(("kind", "name"), ALL)
@pytest.mark.parametrize("empty", [None, "", "  \t"])
def test_an_empty_cell_has_the_default_of_its_column_or_is_told_to_be_empty(
    kind: str, name: str, empty: str | None
) -> None:
    if column(kind, name).default == "REQUIRED":
        with pytest.raises(BadCell, match="is empty"):
            read(kind, name, empty)
    else:
        assert read(kind, name, empty) == column(kind, name).default


@pytest.mark.parametrize(
    ("kind", "name", "cell", "meant"),
    [
        ("areas", "area", 12.0, "12"),  # a spreadsheet makes a figure of a key that is one
        ("areas", "name", "  Vallée du Nord ", "Vallée du Nord"),
        ("people", "name", "ليلى حداد", "ليلى حداد"),
        ("crafts", "held_back", " 0.15 ", 0.15),
        ("tools", "count", "3", 3),
        ("tools", "count", 3.0, 3),
        ("assets", "limited", "YES", True),
        ("assets", "limited", 0, False),
        ("assets", "limited", True, True),
        ("windows", "kind", " Work ", "work"),
        ("work_orders", "raised", datetime(2028, 2, 29, 13, 5), date(2028, 2, 29)),
        ("work_orders", "raised", "2028-02-29 00:00:00", date(2028, 2, 29)),
        ("windows", "start", "2026-11-30 21:00", datetime(2026, 11, 30, 20, tzinfo=UTC)),
        ("windows", "start", datetime(2026, 7, 1, 6), datetime(2026, 7, 1, 4, tzinfo=UTC)),
        ("windows", "start", "2026-11-30T21:00-05:00", datetime(2026, 12, 1, 2, tzinfo=UTC)),
        ("shifts", "start", time(6, 30, 12), time(6, 30)),
        ("shifts", "end", "24:00", time(0)),
        ("shifts", "end", "22:15:00", time(22, 15)),
        ("people", "crafts", "mech:3; weld", (("mech", 3), ("weld", 2))),
        ("people", "certificates", "rope:2027-01-31; crane", (("crane", None), ("rope", date(2027, 1, 31)))),
        ("tasks", "needs", "mech x2 level 2 with rope; elec", (("mech", 2, 2, "rope"), ("elec", 1, 1, None))),
        ("tasks", "after", 10.0, (("10", 0.0),)),
        ("tasks", "after", "20; 10+2.5", (("10", 2.5), ("20", 0.0))),
        ("tasks", "tools", "jack;crane ; ", ("crane", "jack")),
    ],
)
def test_a_cell_is_read_as_it_is_meant(kind: str, name: str, cell: Any, meant: Any) -> None:
    assert read(kind, name, cell) == meant


@pytest.mark.parametrize(
    ("kind", "name", "cell", "word"),
    [
        ("areas", "area", "n" * 41, "41 characters; at most 40"),
        ("areas", "name", "North\x07", "control character"),
        ("crafts", "held_back", "a lot", "not a number"),
        ("crafts", "held_back", 1.01, "between 0 and 1"),
        ("crafts", "held_back", float("nan"), "between 0 and 1"),
        ("tools", "count", 2.5, "not a whole number"),
        ("tools", "count", -1, "between 0 and 999"),
        ("assets", "limited", "perhaps", "write yes or no"),
        ("windows", "kind", "weekend", "none of: work, run"),
        ("work_orders", "raised", "30 November", "not a day"),
        ("work_orders", "raised", "2026-02-29", "not a day"),
        ("windows", "start", "tomorrow", "not a time"),
        ("shifts", "start", "6", "not a time of day"),
        ("shifts", "start", "25:00", "not a time of day"),
        ("people", "crafts", "mech:4", "level 1-3"),
        ("people", "crafts", "mech:1; mech:2", "twice"),
        ("people", "certificates", "rope:soon", "last valid day"),
        ("tasks", "needs", "two mechanics", "write crew needs like"),
        ("tasks", "needs", "mech x0", "write crew needs like"),
        ("tasks", "needs", "mech x100", "write crew needs like"),
        ("tasks", "needs", " ; ;", "empty but for signs"),
        ("people", "crafts", ";", "empty but for signs"),
        ("people", "crafts", ":2", "write a craft"),
        ("people", "certificates", ":2027-01-31", "write a certificate"),
        ("tasks", "after", "10+a day", "hours to wait"),
        ("tasks", "after", "10+-3", "hours to wait"),
        ("tasks", "after", "10+nan", "hours to wait"),
        ("tasks", "after", "10+inf", "hours to wait"),
        ("tasks", "after", "+2", "hours to wait"),
        ("work_orders", "raised", "0001-01-01", "years 1970 to 2199"),
        ("work_orders", "due", "0001-01-01 00:00", "years 1970 to 2199"),
        ("windows", "end", datetime(9999, 12, 31, 23, 59), "years 1970 to 2199"),
        ("tasks", "hours", 0, "between 0.01 and 2000"),
    ],
)
def test_a_cell_that_can_not_be_meant_is_refused_with_what_to_write(
    kind: str, name: str, cell: Any, word: str
) -> None:
    with pytest.raises(BadCell, match=word.replace("+", r"\+")):
        read(kind, name, cell)


@given(st.lists(st.tuples(KEYS, st.integers(1, 3)), min_size=1, max_size=4, unique_by=lambda c: c[0]))
def test_any_crafts_of_a_person_come_back_in_their_order(crafts: list[tuple[str, int]]) -> None:
    assert read("people", "crafts", write_cell("crafts", tuple(crafts), ZONE)) == tuple(crafts)


@given(
    st.lists(st.tuples(KEYS, st.integers(1, 9), st.integers(1, 3), st.none() | KEYS), min_size=1, max_size=4)
)
def test_any_crew_needs_of_a_task_come_back(needs: list[tuple[str, int, int, str | None]]) -> None:
    assert read("tasks", "needs", write_cell("needs", tuple(needs), ZONE)) == tuple(needs)


@given(st.lists(st.tuples(KEYS, st.floats(0, 500).map(lambda x: round(x, 2))), min_size=1, max_size=4))
def test_whatever_a_task_waits_for_comes_back_with_its_lags(after: list[tuple[str, float]]) -> None:
    assert read("tasks", "after", write_cell("after", tuple(after), ZONE)) == tuple(sorted(after))


@given(st.datetimes(datetime(2020, 1, 1), datetime(2035, 1, 1), timezones=st.just(UTC)))
def test_any_moment_comes_back_even_in_the_hour_that_the_clock_shows_twice(moment: datetime) -> None:
    assert read("windows", "start", write_cell("start", moment, ZONE)) == moment


STRANGE = (
    float("inf"),
    float("-inf"),
    float("nan"),
    10**30,
    date.min,
    date.max,
    datetime.min,
    datetime.max,
    "²",
    "١٢",
    "1e999",
    ";",
    ":",
    "+",
    "12:99",
    "-1:00",
)
CELLS = st.one_of(
    st.sampled_from(STRANGE),
    st.text(max_size=30),
    st.floats(),
    st.integers(),
    st.booleans(),
    st.dates(),
    st.datetimes(),
    st.times(),
)


@settings(max_examples=400, deadline=None)
@given(CELLS, st.sampled_from(ALL))
def test_whatever_stands_in_a_cell_is_read_or_refused_in_words_and_nothing_else_is_raised(
    cell: Any, at: tuple[str, str]
) -> None:
    try:
        value = read(*at, cell)
    except BadCell as refused:
        assert str(refused)
    else:
        assert value == column(*at).default or read(*at, write_cell(at[1], value, ZONE)) == value
