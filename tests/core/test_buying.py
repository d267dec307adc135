"""How far requests to buy and orders are, and how much is to be bought."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from nundine.core.lifecycle import BUY_REQUEST, BUY_STATES, LINES, PURCHASE, PURCHASE_STATES
from nundine.core.parts.buying import (
    AskedLine,
    OrderedLine,
    amount,
    may_approve,
    purchase_state,
    request_state,
)

QUANTITY = st.integers(1, 9).map(float)
ASKED = st.lists(st.builds(AskedLine, QUANTITY, st.integers(0, 9).map(float), st.booleans()), max_size=4)
ORDERED = st.lists(st.builds(OrderedLine, QUANTITY, st.integers(0, 9).map(float), st.booleans()), max_size=4)


@given(st.sampled_from(BUY_STATES), ASKED)
def test_a_request_is_closed_when_and_only_when_nothing_of_it_is_left_to_order(
    now: str, lines: list[AskedLine]
) -> None:
    then = request_state(now, lines)
    if now not in ("approved", "closed"):
        assert then == now
    else:
        assert (then == "closed") == (bool(lines) and all(line.left == 0 for line in lines))


@given(st.sampled_from(PURCHASE_STATES), ORDERED)
def test_an_order_is_delivered_when_and_only_when_nothing_of_it_is_awaited(
    now: str, lines: list[OrderedLine]
) -> None:
    then = purchase_state(now, lines)
    if now not in ("placed", "delivered"):
        assert then == now
    else:
        assert (then == "delivered") == (bool(lines) and all(line.to_come == 0 for line in lines))


@given(ASKED)
def test_taking_a_line_off_its_order_opens_the_request_again_and_ordering_it_again_closes_it(
    lines: list[AskedLine],
) -> None:
    wanted = [line for line in lines if not line.settled]
    whole = [AskedLine(line.quantity, line.quantity) for line in wanted]
    if not whole:
        return
    assert request_state("approved", whole) == "closed"
    off = [AskedLine(whole[0].quantity, 0.0), *whole[1:]]
    assert request_state("closed", off) == "approved"
    assert request_state(request_state("closed", off), whole) == "closed"


@given(st.sampled_from(BUY_STATES), ASKED, st.sampled_from(PURCHASE_STATES), ORDERED)
def test_whatever_lines_bring_about_the_lifecycles_know_as_a_move(
    request: str, asked: list[AskedLine], purchase: str, ordered: list[OrderedLine]
) -> None:
    assert BUY_REQUEST.blocked(request, request_state(request, asked), LINES, {}) is None
    assert PURCHASE.blocked(purchase, purchase_state(purchase, ordered), LINES, {}) is None


def test_a_request_goes_its_way_by_hand_past_its_guards() -> None:
    assert set(BUY_REQUEST.ends("written", "hand")) == {"asked", "refused"}
    assert set(BUY_REQUEST.ends("asked", "hand")) == {"approved", "refused", "written"}
    empty = BUY_REQUEST.blocked("written", "asked", "hand", {"without_lines": True})
    assert empty and empty.guard and empty.guard.code == "no line"
    ordered = BUY_REQUEST.blocked("approved", "written", "hand", {"ordered": True})
    assert ordered and ordered.guard and ordered.guard.code == "ordered"
    came = PURCHASE.blocked("placed", "cancelled", "hand", {"received": True})
    assert came and came.guard and came.guard.code == "received"


def test_an_amount_without_a_price_is_unknown_and_nobody_approves_it() -> None:
    assert amount([(2.0, 10.0), (3.0, 0.1)]) == 20.3
    assert amount([(2.0, 10.0), (3.0, None)]) is None
    assert may_approve(200.0, 200.0) and not may_approve(200.01, 200.0)
    assert not may_approve(None, 1e9) and not may_approve(1.0, None)
