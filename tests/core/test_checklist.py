"""Entries of checklists: how they are written, and which answers lie out of limits."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.checklist import Entry, checked, entry, limits_in_words, written

WORDS = st.text("abcdefgh äöß", min_size=1, max_size=20).map(lambda w: " ".join(w.split())).filter(bool)
LIMITS = st.none() | st.integers(-999, 999).map(float)


@st.composite
def entries(draw: st.DrawFn) -> Entry:
    what = draw(WORDS)
    kind = draw(st.sampled_from(["tick", "choice", "text", "number"]))
    if kind == "choice":
        choices = draw(st.lists(WORDS, min_size=2, max_size=4, unique=True))
        bad = tuple(c for c in choices if draw(st.booleans()))
        return Entry(what, "choice", tuple(choices), bad)
    if kind == "number":
        low, high = draw(LIMITS), draw(LIMITS)
        if low is not None and high is not None and low > high:
            low, high = high, low
        return Entry(what, "number", unit=draw(st.sampled_from(["", "mm", "bar", "°C"])), low=low, high=high)
    return Entry(what, kind)


@given(entries())
def test_an_entry_reads_back_as_it_was_written(one: Entry) -> None:
    assert entry(written(one)) == one


def test_a_number_is_within_its_limits_or_out_of_them() -> None:
    oil = entry("Oil level [mm 12..18]")
    assert [checked(oil, a) for a in ("12", "18", "15,5", "11.9", "18.1")] == [True, True, True, False, False]
    assert limits_in_words(oil) == "12 to 18 mm"
    assert (
        checked(entry("Pressure [bar ..6]"), "-3")
        and limits_in_words(entry("P [bar ..6]")) == "at most 6 bar"
    )
    assert checked(entry("Hours run [h]"), "1e6")


def test_a_choice_marked_as_bad_is_out_of_limits() -> None:
    noise = entry("Noise {none, slight, !loud}")
    assert [checked(noise, a) for a in noise.choices] == [True, True, False]
    with pytest.raises(ValueError, match="choose one of none, slight, loud"):
        checked(noise, "deafening")


@pytest.mark.parametrize(
    ("line", "why"),
    [
        ("[mm 1..2]", "write what is checked"),
        ("Oil [mm 5..2]", "lower limit lies above"),
        ("Oil [1 mm]", "unit and limits"),
        ("Noise {loud}", "at least two"),
        ("Noise {a, a}", "at least two"),
        ("Oil ] level", "write what is checked"),
    ],
)
def test_an_entry_that_cannot_be_read_says_how_it_is_written(line: str, why: str) -> None:
    with pytest.raises(ValueError, match=why):
        entry(line)


@pytest.mark.parametrize("answer", ["nan", "inf", "", "twelve"])
def test_what_is_no_number_is_no_answer_to_a_number(answer: str) -> None:
    with pytest.raises(ValueError, match="not a number"):
        checked(entry("Oil level [mm 12..18]"), answer)
