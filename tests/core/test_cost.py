"""What work costs, and how a sum is shared out to the cent."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nundine.core.cost import cents, labour, labour_of_people, shared_out

RATES = {"mech": 84.0, "elec": 88.5}
WEIGHTS = st.dictionaries(st.sampled_from("abcdefgh"), st.floats(0, 100), min_size=1)


def test_labour_is_elapsed_hours_by_people_by_rate() -> None:
    assert labour(1.5, [("mech", 2), ("elec", 1)], RATES) == 25_200 + 13_275
    assert labour(4.0, [("unknown", 3)], RATES) == 0


def test_half_a_cent_counts_upwards() -> None:
    assert cents(0.25, 0.1) == 3
    assert cents(0.1, 0.1) == 1


def test_hours_told_person_by_person_cost_what_each_fills() -> None:
    seats = [("mech", 2), ("elec", 1)]
    told = {"a": 2.0, "b": 1.0, "c": 3.0}
    main = {"a": "mech", "b": "elec", "c": "veh"}
    assert labour_of_people(told, main, seats, RATES) == cents(2, 84) + cents(1, 88.5) + cents(3, 84)


@given(total=st.integers(0, 10**9), weights=WEIGHTS)
def test_shares_add_up_to_the_cent_and_lie_within_a_cent_of_the_exact_ones(
    total: int, weights: dict[str, float]
) -> None:
    if not any(weights.values()):
        with pytest.raises(ValueError, match="weights"):
            shared_out(total, weights)
        return
    shares = shared_out(total, weights)
    assert sum(shares.values()) == total
    whole = sum(weights.values())
    for name, share in shares.items():
        assert share == pytest.approx(total * (weights[name] / whole), abs=1.001, rel=1e-9)


def test_a_weight_below_nothing_is_refused() -> None:
    with pytest.raises(ValueError, match="weights"):
        shared_out(100, {"a": 1, "b": -1})
