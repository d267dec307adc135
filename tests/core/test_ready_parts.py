"""When parts are there: given to needs in their order, never twice, never later for more."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st

from nundine.core.parts.ready import Need, Supply, There, allocate

TODAY = date(2026, 11, 23)
SOON, LATER = TODAY + timedelta(days=5), TODAY + timedelta(days=20)
QUANTITY = st.integers(1, 5).map(float)
NEED = st.builds(
    Need,
    id=st.just(""),
    part=st.just("A"),
    quantity=QUANTITY,
    storeroom=st.sampled_from((None, "main", "north")),
    held=st.sampled_from((0.0, 1.0, 3.0)),
    reserves=st.booleans(),
)
NEEDS = st.lists(NEED, max_size=6).map(lambda ns: [replace(n, id=str(k)) for k, n in enumerate(ns)])
SUPPLY = st.builds(
    Supply,
    stock=st.fixed_dictionaries(
        {"main": st.integers(0, 6).map(float), "north": st.integers(0, 4).map(float)}
    ),
    receipts=st.lists(
        st.tuples(st.sampled_from((SOON, LATER)), QUANTITY, st.sampled_from(("B-1", "B-2"))), max_size=3
    ).map(tuple),
    lead_days=st.sampled_from((None, 30)),
)
FAR = date.max


def days(found: dict[str, There]) -> dict[str, date]:
    return {n: t.day or FAR for n, t in found.items()}


@given(SUPPLY, NEEDS)
def test_no_more_is_reserved_than_lies_there_and_none_for_whom_nothing_is_kept(
    supply: Supply, needs: list[Need]
) -> None:
    found = allocate({"A": supply}, needs, TODAY)
    assert sum(t.reserved for t in found.values()) <= sum(supply.stock.values()) + 1e-9
    for need in needs:
        assert 0 <= found[need.id].reserved <= need.quantity
        assert need.reserves or not found[need.id].reserved


@given(SUPPLY, NEEDS, st.sampled_from(("main", "north")))
def test_more_stock_makes_no_need_later(supply: Supply, needs: list[Need], store: str) -> None:
    needs = [replace(n, storeroom=None) for n in needs]
    before = days(allocate({"A": supply}, needs, TODAY))
    more = {**supply.stock, store: supply.stock[store] + 1}
    after = days(allocate({"A": replace(supply, stock=more)}, needs, TODAY))
    assert all(after[n] <= before[n] for n in before)


@given(SUPPLY, NEEDS)
def test_an_order_that_comes_sooner_makes_no_need_later(supply: Supply, needs: list[Need]) -> None:
    before = days(allocate({"A": supply}, needs, TODAY))
    sooner = tuple((min(day, SOON), quantity, name) for day, quantity, name in supply.receipts)
    after = days(allocate({"A": replace(supply, receipts=sooner)}, needs, TODAY))
    assert all(after[n] <= before[n] for n in before)


@given(SUPPLY, NEEDS)
def test_needs_in_their_order_get_what_a_plain_reading_gives_them(supply: Supply, needs: list[Need]) -> None:
    """Against a reference that hands out units one by one: without storerooms and what was held."""
    needs = [replace(n, storeroom=None, held=0.0) for n in needs]
    units = [TODAY] * int(sum(supply.stock.values()))
    units += sorted(day for day, quantity, _ in supply.receipts for _ in range(int(quantity)))
    bought = FAR if supply.lead_days is None else TODAY + timedelta(days=supply.lead_days)
    found = days(allocate({"A": supply}, needs, TODAY))
    for need in [*(n for n in needs if n.reserves), *(n for n in needs if not n.reserves)]:
        mine, units = units[: int(need.quantity)], units[int(need.quantity) :]
        short = len(mine) < need.quantity
        assert found[need.id] == (bought if short else max(mine))


def test_the_last_one_goes_to_the_first_and_stays_there() -> None:
    one = Supply({"main": 1.0}, lead_days=10)
    first, second = Need("first", "A", 1.0), Need("second", "A", 1.0)
    found = allocate({"A": one}, [first, second], TODAY)
    assert (found["first"].reserved, found["second"].reserved) == (1.0, 0.0)
    assert (found["second"].day, found["second"].how) == (TODAY + timedelta(days=10), "bought")
    turned = allocate({"A": one}, [second, replace(first, held=1.0)], TODAY)
    assert turned["first"].reserved == 1.0


def test_an_alternate_does_where_it_is_there_in_whole_and_another_storeroom_takes_a_day() -> None:
    supplies = {
        "A": Supply({"main": 1.0}, alternates=("B",)),
        "B": Supply({"north": 2.0}),
    }
    found = allocate(supplies, [Need("x", "A", 3.0, "main"), Need("y", "B", 1.0, "main")], TODAY)
    assert (found["x"].how, found["x"].name) == ("alternate", "B")
    assert found["y"].how == "unknown"
    elsewhere = allocate({"B": supplies["B"]}, [Need("y", "B", 1.0, "main")], TODAY)
    assert (elsewhere["y"].how, elsewhere["y"].day) == ("transfer", TODAY + timedelta(days=1))
