"""Numbers that are given out one after another, and turns at making records: two at one moment never get the
same."""

from __future__ import annotations

from typing import Any

from peewee import fn

from nundine.store.base import db
from nundine.store.number import Counter

WORK_ORDERS, REQUESTS, JOB_PLANS = "work orders", "requests", "job plans"
FIGURES = "^[0-9]{1,9}$"
"""What stands behind the prefix of a number of ours; longer ones came from elsewhere."""
PREVENTIVE_PLANS, MOVEMENTS = "preventive plans", "movements"
BUY_REQUESTS, PURCHASES = "requests to buy", "orders of parts"


def turn(name: str) -> Counter:
    """Wait for one's turn at a series; it lasts until the caller's transaction ends, of which this is the
    first statement.

    What is read afterwards is what others had committed by then.
    """
    if not db.in_transaction():
        raise RuntimeError("a turn lasts as long as a transaction, and there is none")
    Counter.insert(name=name).on_conflict_ignore().execute()
    found: Counter = Counter.select().where(Counter.name == name).for_update().get()
    return found


def take(counter: Counter, at_least: int) -> int:
    """The next number of a series, which is ours; more than `at_least`, where numbers came from elsewhere."""
    number = max(counter.last, at_least) + 1
    Counter.update(last=number).where(Counter.id == counter.id).execute()
    return number


def take_own(counter: Counter, table: Any, prefix: str, least: int) -> str:
    """The next number with a prefix of ours, above all of the table that begin so, however they came in.

    Parameters
    ----------
    table
        Whose `number` is looked at.
    least
        The number before the first that is ever given.
    """
    figures = fn.SUBSTRING(table.number, len(prefix) + 1)
    of_ours = table.number.startswith(prefix) & figures.regexp(FIGURES)
    highest = table.select(fn.MAX(figures.cast("unsigned"))).where(of_ours).scalar()
    return f"{prefix}{take(counter, max(int(highest or 0), least))}"


def take_several(counter: Counter, table: Any, prefix: str, least: int, count: int) -> list[str]:
    """So many numbers on end, as `take_own` gives the first."""
    if not count:
        return []
    first = int(take_own(counter, table, prefix, least).removeprefix(prefix))
    Counter.update(last=first + count - 1).where(Counter.id == counter.id).execute()
    return [f"{prefix}{first + n}" for n in range(count)]
