"""What stands on the board of the compiled search, and what it is worth, as `board.py` and `worth.py` have
it."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from nundine.core.week.compiling import inlined, inner
from nundine.core.week.search.kernel.areas import area_of_task, begin, end
from nundine.core.week.search.kernel.words import U0, U1, count_in, part, run_starts, shifted_and, words_of
from nundine.core.week.search.tables import (
    C_BUDGET,
    F_BASE,
    F_FIXED,
    F_LOOSE,
    F_RATE,
    F_VALUE,
    IS_STOPPED,
    J_AREA,
    J_ASSET,
    J_BLOCK,
    J_DUE,
    J_FIRST,
    J_FIXED,
    J_FIXED_LAST,
    J_KEPT,
    J_LAST,
    J_LIFTED,
    J_MUST,
    J_NKEPT,
    J_NOW,
    J_NTASKS,
    J_OUT_FIRST,
    J_OUT_LAST,
    J_PEOPLE,
    J_SHARED,
    J_SINCE,
    J_START,
    J_STAYS_OUT,
    J_TASKS,
    J_WINDOWED,
    LEVELS,
    MANY_LEVELS,
    MARKS,
    N_CRAFT,
    P_CRAFT,
    P_LEVELS,
    S_AREAS,
    S_AWAY,
    S_FOLLOWS,
    S_FREE,
    S_REGULAR,
    S_STARTS,
    S_THERE,
    S_TIDY,
    S_TOOL_FREE,
    T_HAVE_END,
    T_HAVE_SLOTS,
    T_NEEDS,
    T_NNEEDS,
    T_NTOOLS,
    T_PEOPLE,
    T_TOOLS,
    T_TOUCHES,
    V_AWAY,
    V_CAP,
    V_HANDOVER,
    V_HOURS,
    V_LATE,
    V_MUST_JOB,
    V_OVERTIME,
    V_PER_DAY,
    V_VALUE,
    V_WAITING,
)


@inlined
def forget_starts(k: Any, n: int) -> None:
    """The free hours of a person have changed."""
    for kind in range(3):
        k.P[n, P_LEVELS + kind] = -1


@inner
def find_starts(W: Any, free: Any, regular: Any, at: int, kind: int) -> int:
    """Fill the rows of starts of a person from row `at` on; gives how many have any (many if all have:
    then it may be any length)."""
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
    """How many rows of starts of a person have any: in regular hours (kind 0), all (1), overtime alone
    (2); filled if they are not known."""
    if k.P[n, P_LEVELS + kind] < 0:
        k.P[n, P_LEVELS + kind] = find_starts(
            k.W, k.W[k.S[S_FREE] + n], k.W[k.S[S_REGULAR] + n], k.S[S_STARTS] + LEVELS * (3 * n + kind), kind
        )
    return int(k.P[n, P_LEVELS + kind])


@inlined
def starts(k: Any, n: int, kind: int, length: int, into: Any, lo: Any, hi: Any) -> None:
    """Words lo..hi-1 of a row become the slots from which a person is free so long. The person has starts
    of half that length, by `know_starts`."""
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


@inner
def occupy(k: Any, x: int) -> None:
    """Portion x of the placed ones takes its people, hours and tools."""
    t, first, last = k.X[x, 0], k.X[x, 1], k.X[x, 2]
    W, free, regular, area = k.W, k.S[S_FREE], k.S[S_REGULAR], area_of_task(k, t)
    for c in range(k.T[t, T_PEOPLE]):
        n = k.X[x, 3 + c]
        k.C[k.P[n, P_CRAFT], C_BUDGET] -= count_in(W[regular + n], first, last)
        row = W[free + n]
        for w in words_of(first, last):
            row[w] &= ~part(w, first, last)
        forget_starts(k, n)
        if area >= 0 and k.S[S_FOLLOWS]:
            begin(k, n, area, first, last)
    for i in range(k.T[t, T_NTOOLS]):
        tool = k.L[k.T[t, T_TOOLS] + i]
        for s in range(first, last):
            k.U[tool, 1 + s] += 1
            if k.U[tool, 1 + s] >= k.U[tool, 0]:
                k.W[k.S[S_TOOL_FREE] + tool, s >> 6] &= ~(U1 << np.uint64(s & 63))


@inner
def vacate(k: Any, x: int) -> None:
    t, first, last = k.X[x, 0], k.X[x, 1], k.X[x, 2]
    W, free, regular, there = k.W, k.S[S_FREE], k.S[S_REGULAR], k.S[S_THERE]
    area = area_of_task(k, t)
    for c in range(k.T[t, T_PEOPLE]):
        n = k.X[x, 3 + c]
        k.C[k.P[n, P_CRAFT], C_BUDGET] += count_in(W[regular + n], first, last)
        row, all_day = W[free + n], W[there + n]
        for w in words_of(first, last):
            row[w] |= part(w, first, last) & all_day[w]
        forget_starts(k, n)
        if area >= 0 and k.S[S_FOLLOWS]:
            end(k, n, area, first, last)
    for i in range(k.T[t, T_NTOOLS]):
        tool = k.L[k.T[t, T_TOOLS] + i]
        for s in range(first, last):
            k.U[tool, 1 + s] -= 1
            if k.U[tool, 1 + s] < k.U[tool, 0]:
                k.W[k.S[S_TOOL_FREE] + tool, s >> 6] |= U1 << np.uint64(s & 63)


@inner
def keep_out(k: Any, j: int) -> None:
    """The span in which the job keeps its asset out of service."""
    first, last = -1, -1
    for i in range(k.J[J_NKEPT, j] + k.J[J_NOW, j]):
        x = row_of(k, j, i)
        if k.T[k.X[x, 0], T_TOUCHES] == IS_STOPPED:
            first = k.X[x, 1] if first < 0 else min(first, k.X[x, 1])
            last = max(last, k.X[x, 2])
    if first >= 0 and k.J[J_SINCE, j] >= 0:
        first = min(first, k.J[J_SINCE, j])
    if not k.J[J_WINDOWED, j]:
        first, last = -1, -1
    k.J[J_OUT_FIRST, j], k.J[J_OUT_LAST, j] = first, last


@inlined
def row_of(k: Any, j: int, i: int) -> int:
    """The i-th portion of a job, its fixed ones first."""
    kept = k.J[J_NKEPT, j]
    return int(k.J[J_KEPT, j] + i if i < kept else k.J[J_BLOCK, j] + i - kept)


@inlined
def spread(k: Any, j: int) -> None:
    """Where the job starts, who is on it, and its span on an asset that takes one job at a time, from its
    placed and fixed portions."""
    people, block = 0, k.J[J_BLOCK, j]
    for x in range(block, block + k.J[J_NOW, j]):
        for c in range(k.T[k.X[x, 0], T_PEOPLE]):
            people |= 1 << (k.X[x, 3 + c] % MARKS)
    k.J[J_START, j], k.J[J_PEOPLE, j] = k.X[block, 1], people
    if k.J[J_SHARED, j] >= 0 and k.J[J_STAYS_OUT, j]:
        keep_out(k, j)
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
    for x in range(b + k.J[J_NOW, j] - 1, b - 1, -1):
        vacate(k, x)


@inlined
def let_go(k: Any, j: int) -> None:
    """None of the job's portions that may move, whose hours are free already, stands any more."""
    k.J[J_NOW, j], k.J[J_LIFTED, j] = 0, 0
    k.V[V_VALUE] += k.F[F_BASE, j] - k.F[F_VALUE, j]
    k.F[F_VALUE, j] = k.F[F_BASE, j]
    spread(k, j)


@inner
def take(k: Any, j: int) -> None:
    """All portions of the job that may move come off."""
    free_all(k, j)
    let_go(k, j)


@inlined
def comes_before(k: Any, x: int, i: int, y: int, n: int) -> bool:
    """Whether the i-th portion of a job, x, comes before the n-th, y: by start, end, order of tasks,
    portion."""
    for c in (1, 2, 0):
        if k.X[x, c] != k.X[y, c]:
            return bool(k.X[x, c] < k.X[y, c])
    return i < n


@inner
def handed_over(k: Any, x: int, y: int) -> bool:
    """Whether entirely other people do portion y than x before it, with a craft in common."""
    if k.X[y, 1] < k.X[x, 2] or not same_craft(k, k.X[x, 0], k.X[y, 0]):
        return False
    for c in range(k.T[k.X[x, 0], T_PEOPLE]):
        if k.X[x, 3 + c] < 0:
            return False
    for d in range(k.T[k.X[y, 0], T_PEOPLE]):
        if k.X[y, 3 + d] < 0:
            return False
        for c in range(k.T[k.X[x, 0], T_PEOPLE]):
            if k.X[x, 3 + c] == k.X[y, 3 + d]:
                return False
    return True


@inner
def same_craft(k: Any, t: int, u: int) -> bool:
    """Whether two tasks need a craft in common."""
    for i in range(k.T[t, T_NNEEDS]):
        craft = k.N[k.L[k.T[t, T_NEEDS] + 2 * i], N_CRAFT]
        for d in range(k.T[u, T_NNEEDS]):
            if k.N[k.L[k.T[u, T_NEEDS] + 2 * d], N_CRAFT] == craft:
                return True
    return False


@inlined
def waiting(k: Any, slots: int, t: int) -> float:
    """Points for a gap of so many slots before a portion of a task."""
    hours = slots * k.V[V_HOURS] - k.TH[1, t]
    return k.V[V_WAITING] * min(k.V[V_CAP], max(0.0, hours))


@inner
def loose_ends(k: Any, j: int) -> float:
    """What the job's own loose ends cost: gaps, handovers, hours away."""
    count, area, cost, over, away = k.J[J_NKEPT, j] + k.J[J_NOW, j], k.J[J_AREA, j], 0.0, 0, 0
    before, before_at, last = -1, -1, 0
    for _ in range(count):
        x, at = -1, -1
        for i in range(count):
            y = row_of(k, j, i)
            after = before < 0 or comes_before(k, before, before_at, y, i)
            if after and (x < 0 or comes_before(k, y, i, x, at)):
                x, at = y, i
        t = k.X[x, 0]
        if before >= 0:
            if k.X[x, 1] > last:
                cost += waiting(k, k.X[x, 1] - last, t)
            if handed_over(k, before, x):
                over += 1
        last = max(last, k.X[x, 2])
        before, before_at = x, at
        if area >= 0:
            for c in range(k.T[t, T_PEOPLE]):
                n = k.X[x, 3 + c]
                if n >= 0:
                    away += count_in(k.W[k.S[S_AWAY] + n * k.S[S_AREAS] + area], max(k.X[x, 1], 0), k.X[x, 2])
    return cost + k.V[V_HANDOVER] * over + k.V[V_AWAY] * (away * k.V[V_HOURS])


@inner
def worth(k: Any, j: int) -> float:
    """Points of the job as it stands on the board, less what its own loose ends cost, which it notes."""
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
        placed = min(k.TH[0, t], slots * k.V[V_HOURS])
        whole = whole and placed >= k.TH[0, t] - 1e-9
        hours += placed * k.T[t, T_PEOPLE]
    points = k.F[F_RATE, j] * hours
    if whole and k.J[J_MUST, j]:
        points += k.V[V_MUST_JOB]
    days = 0
    if last > k.J[J_DUE, j]:
        days = math.ceil((last - k.J[J_DUE, j]) / k.V[V_PER_DAY])
    points -= k.V[V_LATE] * points * days
    loose = loose_ends(k, j) if k.S[S_TIDY] else 0.0
    k.F[F_LOOSE, j] = loose
    return points - k.V[V_OVERTIME] * (over * k.V[V_HOURS]) - k.F[F_FIXED, j] - loose
