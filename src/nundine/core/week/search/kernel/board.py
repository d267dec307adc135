"""What stands on the board of the compiled search, and what it is worth, as `board.py` and `worth.py` have it."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from nundine.core.week.compiling import inlined, inner
from nundine.core.week.search.kernel.words import U0, U1, count_in, part, run_starts, shifted_and, words_of
from nundine.core.week.search.tables import (
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
    J_PEOPLE,
    J_START,
    J_TASKS,
    LEVELS,
    MANY_LEVELS,
    MARKS,
    P_CRAFT,
    P_LEVELS,
    S_FREE,
    S_REGULAR,
    S_STARTS,
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


@inlined
def forget_starts(k: Any, n: int) -> None:
    """The free hours of a person have changed."""
    for kind in range(3):
        k.P[n, P_LEVELS + kind] = -1


@inner
def find_starts(W: Any, free: Any, regular: Any, at: int, kind: int) -> int:
    """Fill the rows of starts of a person from row `at` on; gives how many have any (many if all have: then it may be any length)."""
    words, row, some = np.uint64(W.shape[1]), W[at], U0
    for w in range(words):
        m = free[w]
        if kind == 0:
            m &= regular[w]
        elif kind == 2:
            m &= ~regular[w]
        row[w] = m
        some |= m
    levels = 0
    while some != U0:
        levels += 1
        if levels == LEVELS:
            return MANY_LEVELS
        some = shifted_and(W[at + levels - 1], 1 << (levels - 1), W[at + levels], U0, words)
    return levels


@inlined
def know_starts(k: Any, n: int, kind: int) -> int:
    """How many rows of starts of a person have any: in regular hours (kind 0), all (1), overtime alone (2); filled if they are not known."""
    if k.P[n, P_LEVELS + kind] < 0:
        k.P[n, P_LEVELS + kind] = find_starts(
            k.W, k.W[k.S[S_FREE] + n], k.W[k.S[S_REGULAR] + n], k.S[S_STARTS] + LEVELS * (3 * n + kind), kind
        )
    return int(k.P[n, P_LEVELS + kind])


@inlined
def starts(k: Any, n: int, kind: int, length: int, into: Any, lo: Any, hi: Any) -> None:
    """Words lo..hi-1 of a row become the slots from which a person is free so long. The person has starts of half that length, by `know_starts`."""
    level = 0
    while level < LEVELS - 1 and 2 << level <= length:
        level += 1
    have = 1 << level
    known = k.W[k.S[S_STARTS] + LEVELS * (3 * n + kind) + level]
    if length <= 2 * have:
        shifted_and(known, length - have, into, lo, hi)
        return
    words = np.uint64(len(known))
    shifted_and(known, 0, into, U0, words)
    run_starts(into, length - have + 1, U0, words)


@inlined
def occupy(k: Any, x: int) -> None:
    """Portion x of the placed ones takes its people, hours and tools."""
    t, first, last = k.X[x, 0], k.X[x, 1], k.X[x, 2]
    W, free, regular = k.W, k.S[S_FREE], k.S[S_REGULAR]
    for c in range(k.T[t, T_PEOPLE]):
        n = k.X[x, 3 + c]
        k.C[k.P[n, P_CRAFT], C_BUDGET] -= count_in(W[regular + n], first, last)
        row = W[free + n]
        for w in words_of(first, last):
            row[w] &= ~part(w, first, last)
        forget_starts(k, n)
    for i in range(k.T[t, T_NTOOLS]):
        tool = k.L[k.T[t, T_TOOLS] + i]
        for s in range(first, last):
            k.U[tool, 1 + s] += 1
            if k.U[tool, 1 + s] >= k.U[tool, 0]:
                k.W[k.S[S_TOOL_FREE] + tool, s >> 6] &= ~(U1 << np.uint64(s & 63))


@inlined
def vacate(k: Any, x: int) -> None:
    t, first, last = k.X[x, 0], k.X[x, 1], k.X[x, 2]
    W, free, regular, there = k.W, k.S[S_FREE], k.S[S_REGULAR], k.S[S_THERE]
    for c in range(k.T[t, T_PEOPLE]):
        n = k.X[x, 3 + c]
        k.C[k.P[n, P_CRAFT], C_BUDGET] += count_in(W[regular + n], first, last)
        row, all_day = W[free + n], W[there + n]
        for w in words_of(first, last):
            row[w] |= part(w, first, last) & all_day[w]
        forget_starts(k, n)
    for i in range(k.T[t, T_NTOOLS]):
        tool = k.L[k.T[t, T_TOOLS] + i]
        for s in range(first, last):
            k.U[tool, 1 + s] -= 1
            if k.U[tool, 1 + s] < k.U[tool, 0]:
                k.W[k.S[S_TOOL_FREE] + tool, s >> 6] |= U1 << np.uint64(s & 63)


@inlined
def spread(k: Any, j: int) -> None:
    """Where the job starts, who is on it, and its span on an asset that takes one job at a time, from its placed and fixed portions."""
    people, block = 0, k.J[J_BLOCK, j]
    for x in range(block, block + k.J[J_NOW, j]):
        for c in range(k.T[k.X[x, 0], T_PEOPLE]):
            people |= 1 << (k.X[x, 3 + c] % MARKS)
    k.J[J_START, j], k.J[J_PEOPLE, j] = k.X[block, 1], people
    if k.J[J_ASSET, j] < 0:
        return
    first, last = k.J[J_FIXED, j], k.J[J_FIXED_LAST, j]
    for x in range(block, block + k.J[J_NOW, j]):
        if k.T[k.X[x, 0], T_TOUCHES]:
            first = k.X[x, 1] if first < 0 else min(first, k.X[x, 1])
            last = max(last, k.X[x, 2])
    k.J[J_FIRST, j], k.J[J_LAST, j] = first, last


@inlined
def free_all(k: Any, j: int) -> None:
    """What the portions of the job that may move take becomes free."""
    b = k.J[J_BLOCK, j]
    for x in range(b, b + k.J[J_NOW, j]):
        vacate(k, x)


@inlined
def let_go(k: Any, j: int) -> None:
    """None of the job's portions that may move, whose hours are free already, stands any more."""
    k.J[J_NOW, j] = 0
    k.V[V_VALUE] += k.F[F_BASE, j] - k.F[F_VALUE, j]
    k.F[F_VALUE, j] = k.F[F_BASE, j]
    spread(k, j)


@inner
def take(k: Any, j: int) -> None:
    """All portions of the job that may move come off."""
    free_all(k, j)
    let_go(k, j)


@inlined
def worth(k: Any, j: int) -> float:
    """Points of the job as it stands on the board."""
    block, count = k.J[J_BLOCK, j], k.J[J_NOW, j]
    hours, whole, last, over = 0.0, True, -1, 0
    for i in range(k.J[J_NTASKS, j]):
        t = k.J[J_TASKS, j] + i
        slots = k.T[t, T_HAVE_SLOTS]
        last = max(last, k.T[t, T_HAVE_END])
        for x in range(block, block + count):
            if k.X[x, 0] == t:
                first, end = k.X[x, 1], k.X[x, 2]
                slots += end - first
                last = max(last, end)
                for c in range(k.T[t, T_PEOPLE]):
                    over += end - first - count_in(k.W[k.S[S_REGULAR] + k.X[x, 3 + c]], first, end)
        placed = min(k.TH[t], slots * k.V[V_HOURS])
        whole = whole and placed >= k.TH[t] - 1e-9
        hours += placed * k.T[t, T_PEOPLE]
    points = k.F[F_RATE, j] * hours
    if whole and k.J[J_MUST, j]:
        points += k.V[V_MUST_JOB]
    days = 0
    if last > k.J[J_DUE, j]:
        days = math.ceil((last - k.J[J_DUE, j]) / k.V[V_PER_DAY])
    points -= k.V[V_LATE] * points * days
    return points - k.V[V_OVERTIME] * (over * k.V[V_HOURS]) - k.F[F_FIXED, j]
