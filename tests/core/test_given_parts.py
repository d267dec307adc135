"""What jobs got of parts, counted to what their tasks need."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from nundine.core.parts.given import Wanted, counted

PARTS = ("A", "B", "C")
WANTED = st.lists(
    st.builds(Wanted, st.integers(1, 2), st.sampled_from(PARTS), st.integers(1, 4).map(float)), max_size=6
)
GOT = st.dictionaries(
    st.tuples(st.integers(1, 2), st.sampled_from(PARTS)), st.integers(0, 6).map(float), max_size=6
)
ALTERNATES = st.dictionaries(
    st.sampled_from(PARTS), st.lists(st.sampled_from(PARTS), max_size=2, unique=True)
)


def test_a_part_counts_to_its_own_needs_before_it_counts_instead_of_another() -> None:
    wanted = [Wanted(1, "A", 2), Wanted(1, "B", 1)]
    assert counted(wanted, {(1, "B"): 2.0}, {"A": ("B",)}) == [{"B": 1.0}, {"B": 1.0}]


def test_what_another_job_got_counts_to_nobody_else() -> None:
    assert counted([Wanted(1, "A", 1)], {(2, "A"): 5.0, (2, "B"): 5.0}, {"A": ("B",)}) == [{}]


@given(WANTED, GOT, ALTERNATES)
def test_nothing_counts_twice_nor_beyond_what_is_needed(
    wanted: list[Wanted], got: dict[tuple[int, str], float], alternates: dict[str, list[str]]
) -> None:
    found = counted(wanted, got, alternates)
    for need, counts in zip(wanted, found, strict=True):
        assert sum(counts.values()) <= need.quantity
        assert set(counts) <= {need.part, *alternates.get(need.part, ())}
    for (job, part), much in got.items():
        used = sum(c.get(part, 0.0) for w, c in zip(wanted, found, strict=True) if w.job == job)
        assert used <= much


@given(WANTED, GOT, ALTERNATES)
def test_a_need_that_lacks_something_leaves_nothing_of_its_part_nor_of_what_does_instead(
    wanted: list[Wanted], got: dict[tuple[int, str], float], alternates: dict[str, list[str]]
) -> None:
    found = counted(wanted, got, alternates)
    left = dict(got)
    for need, counts in zip(wanted, found, strict=True):
        for part, much in counts.items():
            left[(need.job, part)] -= much
    for need, counts in zip(wanted, found, strict=True):
        if sum(counts.values()) < need.quantity:
            for part in (need.part, *alternates.get(need.part, ())):
                assert left.get((need.job, part), 0.0) == 0
