"""How the packing bound sees chains and stretches: nothing that a plan may do is left out."""

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from nundine.core.week.board.bits import run_starts, span
from nundine.core.week.board.board import Board
from nundine.core.week.bound.possible_starts import (
    FEW_JOBS,
    LONGEST_PATH,
    Laid,
    in_order,
    longest_path,
    on_asset,
    paths,
    together,
)
from nundine.core.week.bound.stretches import COARSEST, MOST_PARTS, nested
from nundine.core.week.problem import After, Need, Task
from tests.core.test_check import problem as check_problem

DAY, DAYS = 24, 4
WEEK = [span(b * DAY, (b + 1) * DAY) for b in range(DAYS)]
BOARD = Board(check_problem())


def laid(
    name: str,
    length: int,
    allowed: int,
    after: tuple[After, ...] = (),
    least: int | None = None,
    state: str = "any",
) -> Laid:
    least = length if least is None else least
    task = Task(name, length / 4, state, after, needs=(Need("mech"),))
    return Laid(task, length, run_starts(allowed, least), allowed, least < length, least)


MASKS = st.lists(st.tuples(st.integers(0, DAY * DAYS - 1), st.integers(4, 60)), min_size=1, max_size=3).map(
    lambda parts: sum({1 << s for a, n in parts for s in range(a, min(a + n, DAY * DAYS))})
)
LINKS = st.tuples(st.integers(1, 10), st.integers(0, 6), MASKS)


def chain_of(links: list[tuple[int, int, int]]) -> list[Laid]:
    """Tasks one after another: slots, slots of lag after the one before, slots allowed."""
    return [
        laid(str(n), length, allowed, (After(str(n - 1), lag / 4),) if n else ())
        for n, (length, lag, allowed) in enumerate(links)
    ]


def ways(chain: list[Laid], links: list[tuple[int, int, int]], pick: st.DataObject) -> list[int]:
    """Starts of a chain in order, some way of all; none where this way does not come to the end."""
    starts: list[int] = []
    since = 0
    for x, (length, lag, _) in zip(chain, links, strict=True):
        since += lag if starts else 0
        open_ = [s for s in range(since, DAY * DAYS) if x.starts >> s & 1]
        if not open_:
            return []
        starts.append(pick.draw(st.sampled_from(open_[:40])))
        since = starts[-1] + length
    return starts


@given(st.lists(LINKS, min_size=1, max_size=4), st.data())
def test_every_way_to_place_a_chain_is_among_the_options_of_tasks_that_share_a_day(
    links: list[tuple[int, int, int]], data: st.DataObject
) -> None:
    chain = chain_of(links)
    starts = ways(chain, links, data)
    groups = {(first, last, b): masks for first, last, b, masks in together(BOARD, chain, WEEK)}
    first = 0
    while first < len(starts):
        last, day = first, starts[first] // DAY
        while last + 1 < len(starts) and starts[last + 1] // DAY == day:
            last += 1
        masks = groups[first, last, day]
        assert all(mask >> s & 1 for mask, s in zip(masks, starts[first : last + 1], strict=True))
        first = last + 1


@given(st.lists(LINKS, min_size=1, max_size=4), st.data())
def test_no_way_to_place_a_whole_chain_is_lost_by_its_order(
    links: list[tuple[int, int, int]], data: st.DataObject
) -> None:
    chain = chain_of(links)
    starts = ways(chain, links, data)
    in_order(BOARD, chain, True)
    assert all(x.starts >> s & 1 for x, s in zip(chain, starts, strict=False))


def test_tasks_that_share_a_day_leave_one_another_only_what_fits_before_and_after() -> None:
    window = span(4, 10) | span(DAY + 4, DAY + 10)
    chain = [laid("a", 3, window), laid("b", 3, window, (After("a"),))]
    groups = {(first, last, b): masks for first, last, b, masks in together(BOARD, chain, WEEK)}
    assert groups[0, 1, 0] == [1 << 4, 1 << 7]
    assert groups[0, 0, 0] == [span(4, 8)]
    assert groups[1, 1, 1] == [span(DAY + 4, DAY + 8)]


def test_a_chain_is_one_path_until_it_branches_or_a_task_may_be_cut() -> None:
    everything = span(0, DAY * DAYS)
    one, two, cut, other = (
        laid(n, 8, everything, least=k) for n, k in (("1", 8), ("2", 8), ("3", 2), ("4", 8))
    )
    assert paths([one, two, cut, other], [-1, 0, 1, 2]) == [[0, 1], [2], [3]]
    assert paths([one, two, other], [-1, 0, 0]) == [[0], [1], [2]]
    assert paths([one, two, other], [-1, -1, 0]) == [[0, 2], [1]]
    assert paths([one, two], [-1, 0], longest_path(FEW_JOBS + 1)) == [[0], [1]]
    assert [len(p) for p in paths([one] * 12, [n - 1 for n in range(12)])] == [LONGEST_PATH, LONGEST_PATH, 2]


def test_of_tasks_side_by_side_only_the_longest_chain_takes_hours_of_the_asset() -> None:
    everything = span(0, DAY * DAYS)
    a = laid("a", 4, everything, state="stopped")
    b = laid("b", 6, everything, (After("a"),), state="stopped")
    beside = laid("c", 8, everything, state="stopped")
    between = replace(a, task=replace(a.task, id="d", asset_state="any", after=(After("b"),)))
    assert on_asset([a, b, beside, between]) == {0, 1}


ITEMS = st.lists(
    st.tuples(st.integers(0, 9), st.integers(1, 8), st.integers(0, 30), st.integers(1, 32), st.just(0)),
    max_size=20,
).map(
    lambda items: [
        (price, min(slots, high), min(low, 32 - high), min(low, 32 - high) + high, least)
        for price, slots, low, high, least in items
    ]
)


@given(ITEMS)
def test_each_item_lies_within_its_part_and_each_part_within_the_one_around_it(
    items: list[tuple[int, int, int, int, int]],
) -> None:
    parts = nested(items, 32)
    assert sorted(one for _, inside, _ in parts for one in inside) == sorted(items)
    assert parts[-1][0] == (0, 32) and parts[-1][2] == -1
    for n, ((low, high), inside, around) in enumerate(parts):
        assert all(low <= one[2] and one[3] <= high for one in inside)
        if n < len(parts) - 1:
            assert n < around
            outer = parts[around][0]
            assert outer[0] <= low and high <= outer[1]


@given(ITEMS)
def test_many_parts_of_a_stretch_are_told_apart_more_coarsely(
    items: list[tuple[int, int, int, int, int]],
) -> None:
    exact = {one[2:4] for one in items} | {(0, 32)}
    parts = {part for part, _, _ in nested(items, 32)}
    if len(exact) <= MOST_PARTS:
        assert parts == exact
    elif len(parts) > MOST_PARTS:
        assert all(low % COARSEST == 0 and (high % COARSEST == 0 or high == 32) for low, high in parts)
