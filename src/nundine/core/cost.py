"""What work costs: hours of people by the rates of their crafts, in whole cents, and how a sum is shared out.

Hours times rates is the trade's plain way (common practice, no source); a sum is shared by the largest
remainders (the method of Hamilton and Hare, from memory), so that the shares add up to the cent.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import ROUND_HALF_UP, Decimal
from math import floor

Seats = Sequence[tuple[str, int]]
"""Crafts, and how many people of each."""


def cents(hours: float, rate: float) -> int:
    """Hours at a rate an hour, in cents, half a cent upwards."""
    amount = Decimal(repr(hours)) * Decimal(repr(rate)) * 100
    return int(amount.quantize(Decimal(1), ROUND_HALF_UP))


def labour(hours: float, seats: Seats, rates: Mapping[str, float]) -> int:
    """Cents for the people of a task over its elapsed hours; crafts without a rate cost nothing."""
    return sum(cents(hours * people, rates.get(craft, 0.0)) for craft, people in seats)


def labour_of_people(
    hours: Mapping[str, float], craft_of: Mapping[str, str], seats: Seats, rates: Mapping[str, float]
) -> int:
    """Cents for hours that were told person by person, each at the rate of the craft that they fill.

    Parameters
    ----------
    hours
        By person.
    craft_of
        The main craft of each person. Somebody whose main craft the task does not ask for counts with the
        first craft that it does.
    seats
        What the task asks for.
    """
    asked = [craft for craft, _ in seats]
    total = 0
    for person, spent in hours.items():
        craft = craft_of.get(person, "")
        total += cents(spent, rates.get(craft if craft in asked or not asked else asked[0], 0.0))
    return total


def overtime(hours: Mapping[str, float], rates: Mapping[str, float], dearer: Mapping[str, float]) -> int:
    """Cents that hours of overtime cost beyond regular ones.

    Parameters
    ----------
    hours
        By craft.
    rates, dearer
        What a regular hour and one of overtime cost, by craft; a craft without the latter costs no more.
    """
    return sum(cents(h, dearer[c] - rates.get(c, 0.0)) for c, h in hours.items() if c in dearer)


def of_outside(hours: float, people: Sequence[tuple[str, int, float]]) -> int:
    """Cents for people of other firms over a task's elapsed hours: contract, people, cost of an hour."""
    return sum(cents(hours * count, rate) for _, count, rate in people)


def shared_out(total: int, weights: Mapping[str, float]) -> dict[str, int]:
    """A sum of cents by weights that need not add up to anything; the shares add up to it.

    Raises
    ------
    ValueError
        If no weight is above 0, or one lies below.
    """
    if any(w < 0 for w in weights.values()) or not any(weights.values()):
        raise ValueError("a sum is shared by weights of which one at least is above 0 and none below")
    whole = sum(Decimal(repr(w)) for w in weights.values())
    exact = {name: Decimal(total) * Decimal(repr(w)) / whole for name, w in weights.items()}
    shares = {name: floor(x) for name, x in exact.items()}
    by_rest = sorted(exact, key=lambda name: (shares[name] - exact[name], name))
    for name in by_rest[: total - sum(shares.values())]:
        shares[name] += 1
    return shares
