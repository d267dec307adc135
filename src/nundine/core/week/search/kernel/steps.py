"""The inner loop of the search, compiled with numba: the same moves as `plain.py`, some twenty times as fast.

Everything is in plain arrays (`tables.py` lays them out and names the columns). Sets of slots are rows of
64-bit words. Words are uint64 and never mix with signed integers, which would make floats of them. Nothing
here looks at a clock: `run` makes a given number of steps at a given temperature and is repeatable for a
seed.
"""

from __future__ import annotations

import math
from typing import Any

from nundine.core.week.board.frequencies import (
    HASTEN,
    TIDY,
)
from nundine.core.week.compiling import entry, inlined, inner
from nundine.core.week.search.kernel.board import free_all, take
from nundine.core.week.search.kernel.fit import copy_portions, fit
from nundine.core.week.search.kernel.moves import hasten, ruin_or_displace, tidy_up
from nundine.core.week.search.kernel.trial import bring, try_place
from nundine.core.week.search.kernel.words import I0, YES, unit
from nundine.core.week.search.tables import (
    J_BEST,
    J_DIRTY,
    J_HOPELESS,
    J_NOW,
    J_SAVED,
    J_TOUCHED,
    S_CHANCE,
    S_CHANGES,
    S_DIRTY,
    S_MOVABLE,
    S_TIDY,
    S_TOUCHED,
    S_WIDTH,
    V_BEST,
    V_CHANGE,
    V_VALUE,
    Z_DIRTY,
    Z_RANK,
    Z_UNDO,
)


@inlined
def value(k: Any) -> float:
    """What the plan on the board is worth: points less all prices."""
    return float(k.V[V_VALUE] - k.V[V_CHANGE] * k.S[S_CHANGES])


@inner
def step(k: Any, temperature: float) -> None:
    """One move; undone if it is not accepted (annealing: worse by d with probability exp(-d /
    temperature))."""
    before, total = value(k), k.V[V_VALUE]
    k.S[S_TOUCHED], k.S[S_CHANCE] = 0, 1
    done = False
    if k.S[S_TIDY] and unit(k) < TIDY:
        done = tidy_up(k)
    if not done and unit(k) < HASTEN:
        done = hasten(k)
    if not done:
        ruin_or_displace(k)
    k.S[S_CHANCE] = 0
    change = value(k) - before
    accept = change >= -1e-6 or (temperature > 0 and unit(k) < math.exp(change / temperature))
    for i in range(k.S[S_TOUCHED]):
        j = k.Z[Z_UNDO, i]
        k.J[J_TOUCHED, j] = 0
        if accept:
            if not k.J[J_DIRTY, j]:
                k.J[J_DIRTY, j] = 1
                k.Z[Z_DIRTY, k.S[S_DIRTY]] = j
                k.S[S_DIRTY] += 1
        else:
            take(k, j)
    if not accept:
        for i in range(k.S[S_TOUCHED]):
            bring(k, k.Z[Z_UNDO, i], k.S[S_WIDTH], k.J[J_SAVED, k.Z[Z_UNDO, i]])
        k.V[V_VALUE] = total
    elif value(k) > k.V[V_BEST] + 1e-6:
        keep_best(k)


@inlined
def keep_best(k: Any) -> None:
    k.V[V_BEST] = value(k)
    for i in range(k.S[S_DIRTY]):
        j = k.Z[Z_DIRTY, i]
        k.J[J_DIRTY, j] = 0
        k.J[J_BEST, j] = k.J[J_NOW, j]
        copy_portions(k, j, I0, 2 * k.S[S_WIDTH], k.J[J_NOW, j])
    k.S[S_DIRTY] = 0


@inner
def restore_best(k: Any) -> None:
    """The board as it was at the best value."""
    for i in range(k.S[S_DIRTY]):
        take(k, k.Z[Z_DIRTY, i])
    for i in range(k.S[S_DIRTY]):
        j = k.Z[Z_DIRTY, i]
        k.J[J_DIRTY, j] = 0
        bring(k, j, 2 * k.S[S_WIDTH], k.J[J_BEST, j])
    k.S[S_DIRTY] = 0
    k.V[V_VALUE] = k.V[V_BEST] + k.V[V_CHANGE] * k.S[S_CHANGES]


@inner
def dispatch(k: Any) -> None:
    """Each job in the order of rank at its earliest place."""
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[Z_RANK, r]
        if k.J[J_NOW, j] == 0:
            k.S[S_TOUCHED] = 0
            try_place(k, j, I0)
            k.J[J_TOUCHED, j] = 0
            if k.J[J_NOW, j] > 0 and not k.J[J_DIRTY, j]:
                k.J[J_DIRTY, j] = 1
                k.Z[Z_DIRTY, k.S[S_DIRTY]] = j
                k.S[S_DIRTY] += 1
    keep_best(k)


@inner
def mark_hopeless(k: Any) -> None:
    """On an empty board: jobs that fit nowhere are not tried again."""
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[Z_RANK, r]
        if fit(k, j, YES, I0):
            free_all(k, j)
            k.J[J_NOW, j] = 0
        else:
            k.J[J_HOPELESS, j] = 1


@entry
def run(k: Any, what: int, steps: int, temperature: float) -> None:
    """The one compiled entry: 0 marks hopeless jobs, 1 dispatches, 2 makes steps, 3 goes back to the best."""
    if what == 0:
        mark_hopeless(k)
    elif what == 1:
        dispatch(k)
    elif what == 2:
        for _ in range(steps):
            step(k, temperature)
    else:
        restore_best(k)
