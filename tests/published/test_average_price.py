"""The moving average price of a part against an example of a textbook."""

from __future__ import annotations

import pytest

from nundine.core.parts.stock import Move, after, position_of

HERE = ("main", "A-1", "")


def test_the_moving_average_is_that_of_a_textbooks_example() -> None:
    # Franklin, Graybeal, Cooper: Principles of Accounting, Volume 1 (OpenStax, 2019), section 10.3, "The Spy
    # Who Loves You Corporation", weighted average under the perpetual method (figures from memory): 150 at
    # 21, 120 sold, 225 at 27 come, 180 sold, 210 at 33 come; the average is 26.29, then 31.24, what was sold
    # cost 7,253, and 8,902 lie there.
    stock = position_of([Move("receipt", HERE, 150, 21.0)])
    cost = 120 * (stock.average or 0.0)
    stock = after(after(stock, Move("hand-out", HERE, -120, 21.0)), Move("receipt", HERE, 225, 27.0))
    assert stock.average == pytest.approx(26.29, abs=0.005)
    cost += 180 * (stock.average or 0.0)
    stock = after(stock, Move("hand-out", HERE, -180, stock.average))
    stock = after(stock, Move("receipt", HERE, 210, 33.0))
    assert stock.average == pytest.approx(31.24, abs=0.005)
    assert (round(cost), round(stock.on_hand * (stock.average or 0.0))) == (7253, 8902)
