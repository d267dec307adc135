"""What stands on the board of the compiled search, and what it is worth, as `board.py` and `worth.py` have it."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from nundine.core.week.build.compiling import inner
from nundine.core.week.build.kernel.words import U1, count_in, longest_run, part
from nundine.core.week.build.tables import (
    C_BUDGET,
    F_BASE,
    F_FIXED,
    F_RATE,
    F_VALUE,
    J_ASSET,
    J_BLOCK,
    J_DUE,
    J_FIRST,
    J_FIXED,
    J_FIXED_LAST,
    J_LAST,
    J_MUST,
    J_NOW,
    J_NTASKS,
    J_TASKS,
    P_CRAFT,
    P_LONGEST,
    P_LONGEST_EXTRA,
    S_FREE,
    S_REGULAR,
    S_THERE,
    S_TOOL_FREE,
    T_HAVE_END,
    T_HAVE_SLOTS,
    T_NTOOLS,
    T_PEOPLE,
    T_TOOLS,
    T_TOUCHES,
    V_HOURS,
    V_LATE,
    V_MUST_JOB,
    V_OVERTIME,
    V_PER_DAY,
    V_VALUE,
)


@inner
def occupy(k: Any, x: int) -> None:
    """Portion x of the placed ones takes its people, hours and tools."""
    t, first, last = k.X[x, 0], k.X[x, 1], k.X[x, 2]
    for c in range(k.T[t, T_PEOPLE]):
        n = k.X[x, 3 + c]
        k.C[k.P[n, P_CRAFT], C_BUDGET] -= count_in(k.W, k.S[S_REGULAR] + n, first, last)
        for w in range(first >> 6, ((last - 1) >> 6) + 1):
            k.W[k.S[S_FREE] + n, w] &= ~part(w, first, last)
        k.P[n, P_LONGEST] = -1
    for i in range(k.T[t, T_NTOOLS]):
        tool = k.L[k.T[t, T_TOOLS] + i]
        for s in range(first, last):
            k.U[tool, 1 + s] += 1
            if k.U[tool, 1 + s] >= k.U[tool, 0]:
                k.W[k.S[S_TOOL_FREE] + tool, s >> 6] &= ~(U1 << np.uint64(s & 63))


@inner
def vacate(k: Any, x: int) -> None:
    t, first, last = k.X[x, 0], k.X[x, 1], k.X[x, 2]
    for c in range(k.T[t, T_PEOPLE]):
        n = k.X[x, 3 + c]
        k.C[k.P[n, P_CRAFT], C_BUDGET] += count_in(k.W, k.S[S_REGULAR] + n, first, last)
        for w in range(first >> 6, ((last - 1) >> 6) + 1):
            k.W[k.S[S_FREE] + n, w] |= part(w, first, last) & k.W[k.S[S_THERE] + n, w]
        k.P[n, P_LONGEST] = -1
    for i in range(k.T[t, T_NTOOLS]):
        tool = k.L[k.T[t, T_TOOLS] + i]
        for s in range(first, last):
            k.U[tool, 1 + s] -= 1
            if k.U[tool, 1 + s] < k.U[tool, 0]:
                k.W[k.S[S_TOOL_FREE] + tool, s >> 6] |= U1 << np.uint64(s & 63)


@inner
def know_runs(k: Any, n: int) -> None:
    """Look up how long a person is free at most, if that is not known."""
    if k.P[n, P_LONGEST] < 0:
        k.P[n, P_LONGEST], k.P[n, P_LONGEST_EXTRA] = longest_run(k.W, k.S[S_FREE] + n, k.S[S_REGULAR] + n)


@inner
def spread(k: Any, j: int) -> None:
    """The job's span on an asset that takes one job at a time, from its placed and fixed portions."""
    if k.J[j, J_ASSET] < 0:
        return
    first, last = k.J[j, J_FIXED], k.J[j, J_FIXED_LAST]
    for x in range(k.J[j, J_BLOCK], k.J[j, J_BLOCK] + k.J[j, J_NOW]):
        if k.T[k.X[x, 0], T_TOUCHES]:
            first = k.X[x, 1] if first < 0 else min(first, k.X[x, 1])
            last = max(last, k.X[x, 2])
    k.J[j, J_FIRST], k.J[j, J_LAST] = first, last


@inner
def take(k: Any, j: int) -> None:
    """All portions of the job that may move come off."""
    b = k.J[j, J_BLOCK]
    for x in range(b, b + k.J[j, J_NOW]):
        vacate(k, x)
    k.J[j, J_NOW] = 0
    k.V[V_VALUE] += k.F[j, F_BASE] - k.F[j, F_VALUE]
    k.F[j, F_VALUE] = k.F[j, F_BASE]
    spread(k, j)


@inner
def worth(k: Any, j: int) -> float:
    """Points of the job as it stands on the board."""
    block, count = k.J[j, J_BLOCK], k.J[j, J_NOW]
    hours, whole, last, over = 0.0, True, -1, 0
    for i in range(k.J[j, J_NTASKS]):
        t = k.J[j, J_TASKS] + i
        slots = k.T[t, T_HAVE_SLOTS]
        last = max(last, k.T[t, T_HAVE_END])
        for x in range(block, block + count):
            if k.X[x, 0] == t:
                first, end = k.X[x, 1], k.X[x, 2]
                slots += end - first
                last = max(last, end)
                for c in range(k.T[t, T_PEOPLE]):
                    over += end - first - count_in(k.W, k.S[S_REGULAR] + k.X[x, 3 + c], first, end)
        placed = min(k.TH[t], slots * k.V[V_HOURS])
        whole = whole and placed >= k.TH[t] - 1e-9
        hours += placed * k.T[t, T_PEOPLE]
    points = k.F[j, F_RATE] * hours
    if whole and k.J[j, J_MUST]:
        points += k.V[V_MUST_JOB]
    days = 0
    if last > k.J[j, J_DUE]:
        days = math.ceil((last - k.J[j, J_DUE]) / k.V[V_PER_DAY])
    points -= k.V[V_LATE] * points * days
    return points - k.V[V_OVERTIME] * (over * k.V[V_HOURS]) - k.F[j, F_FIXED]
