"""Which assets a job plan applies to, and what its uses teach."""

from __future__ import annotations

from statistics import median

from hypothesis import given
from hypothesis import strategies as st

from nundine.core.job_plan import FEWEST_USES, applies, learned

HOURS = st.floats(0.25, 40)


def test_a_plan_applies_to_the_assets_that_it_names_and_to_all_below_them() -> None:
    assert applies(["L1"], "", ["L1-drive", "L1"], "Larch gondola, drive station")
    assert not applies(["L1"], "", ["L2"], "Mirror gondola")


def test_a_word_of_its_kind_is_enough_however_it_ends() -> None:
    assert applies([], "drive winch", ["x"], "Larch gondola, drive station")
    assert applies([], "tower", ["x"], "Crest gondola, line and towers")
    assert not applies([], "tower", ["x"], "Pump house")


def test_a_plan_that_names_neither_assets_nor_words_applies_to_all() -> None:
    assert applies([], "", ["x"], "Pump house")


@given(planned=HOURS, spent=st.lists(HOURS, min_size=1, max_size=30))
def test_the_median_lies_in_the_middle_half_and_that_among_the_uses(
    planned: float, spent: list[float]
) -> None:
    found = learned(planned, spent)
    assert found is not None
    assert found.median == median(spent)
    assert min(spent) - 1e-9 <= found.low <= found.median + 1e-9
    assert found.median <= found.high + 1e-9 <= max(spent) + 2e-9


@given(planned=HOURS, spent=st.lists(HOURS, max_size=30))
def test_nothing_is_suggested_or_said_to_be_off_before_enough_uses(
    planned: float, spent: list[float]
) -> None:
    found = learned(planned, spent)
    if len(spent) < FEWEST_USES:
        assert found is None or (found.suggested, found.off) == (None, False)


@given(planned=st.integers(1, 40), share=st.sampled_from((0.5, 0.66, 0.7, 1.0, 1.3, 1.34, 2.0)))
def test_it_is_off_where_the_median_differs_by_more_than_a_third(planned: int, share: float) -> None:
    found = learned(float(planned), [planned * share] * FEWEST_USES)
    assert found is not None
    assert found.off == (share not in (0.7, 1.0, 1.3))


def test_a_suggestion_is_in_quarters_of_an_hour_and_not_for_a_trifle() -> None:
    said = learned(4.0, [5.1, 5.1, 5.2])
    assert said is not None and said.suggested == 5.0
    trifle = learned(4.0, [4.2, 4.2, 4.2])
    assert trifle is not None and trifle.suggested is None
