"""Where people are, in the compiled search, as the board's `areas.py` has it: what the way shuts, changes
of area."""

from __future__ import annotations

from typing import Any

import numpy as np

from nundine.core.week.compiling import inlined, inner, zeros_below
from nundine.core.week.search.kernel.words import FULL, U0, U1, part, words_of
from nundine.core.week.search.tables import (
    G_SEATS,
    G_SHUT,
    J_AREA,
    P_NSHIFTS,
    P_SEATS,
    P_SHIFTS,
    S_AREAS,
    S_BEGUN,
    S_BUSY,
    S_CHANGES,
    S_EXACT,
    S_SHUT,
    S_THERE,
    T_JOB,
    V_CHANGE,
)


@inlined
def area_of_task(k: Any, t: int) -> int:
    return int(k.J[J_AREA, k.T[t, T_JOB]])


@inlined
def forget_shut(k: Any, n: int) -> None:
    areas = k.S[S_AREAS]
    for g in range(n * areas, (n + 1) * areas):
        k.G[g, G_SHUT] = -1


@inlined
def widen(busy: Any, shut: Any, way: int) -> None:
    """Add to a row the slots of another, and so many before and behind each."""
    words = np.uint64(len(busy))
    most = 64 * np.int64(words)
    for w in range(words):
        m = busy[w]
        while m != U0:
            low = zeros_below(m)
            rest = ~(m >> low)
            end = low + (zeros_below(rest) if rest != U0 else np.uint64(64))
            first = max(np.int64(0), 64 * np.int64(w) + np.int64(low) - way)
            last = min(most, 64 * np.int64(w) + np.int64(end) + way)
            for v in words_of(first, last):
                shut[v] |= part(v, first, last)
            m = m & (FULL << end) if end < np.uint64(64) else U0


@inlined
def is_shut(k: Any, n: int, a: int) -> bool:
    """Whether the way from or to other areas takes any slot of a person for work in an area; S_SHUT has
    which."""
    g = n * k.S[S_AREAS] + a
    if k.G[g, G_SHUT] < 0:
        find_shut(k, n, a)
    return bool(k.G[g, G_SHUT] > 0)


@inner
def find_shut(k: Any, n: int, a: int) -> None:
    """Fill the row of what the way shuts for a person in an area."""
    areas = k.S[S_AREAS]
    g = n * areas + a
    shut, exact, some = k.W[k.S[S_SHUT] + g], k.W[k.S[S_EXACT] + g], U0
    for w in range(np.uint64(len(shut))):
        shut[w] = exact[w]
    for o in range(areas):
        if k.D[o, a] > 0 and k.G[n * areas + o, G_SEATS] > 0:
            widen(k.W[k.S[S_BUSY] + n * areas + o], shut, k.D[o, a])
    for w in range(np.uint64(len(shut))):
        some |= shut[w]
    k.G[g, G_SHUT] = 1 if some != U0 else 0


@inlined
def last_of(row: Any, there: Any, first: int, last: int) -> int:
    """The last slot of first..last-1 that is in both rows; -1 for none."""
    if last <= first:
        return -1
    w = np.uint64((last - 1) >> 6)
    lowest = np.uint64(first >> 6)
    while True:
        m = row[w] & there[w] & part(w, first, last)
        if m != U0:
            high = np.int64(0)
            for step in (32, 16, 8, 4, 2, 1):
                if m >> np.uint64(step) != U0:
                    m >>= np.uint64(step)
                    high += step
            return int(64 * np.int64(w) + high)
        if w == lowest:
            return -1
        w -= U1


@inlined
def first_of(row: Any, there: Any, first: int, last: int) -> int:
    """The first slot of first..last-1 that is in both rows; -1 for none."""
    if last <= first:
        return -1
    for w in words_of(first, last):
        m = row[w] & there[w] & part(w, first, last)
        if m != U0:
            return int(64 * np.int64(w) + np.int64(zeros_below(m)))
    return -1


@inner
def beside(k: Any, n: int, a: int, s: int) -> tuple[int, int]:
    """The areas of the person's seats before and after a slot in its shift, -1 where there is none or all
    are in the area."""
    areas = k.S[S_AREAS]
    low, high, at = 0, 0, k.P[n, P_SHIFTS]
    there = k.W[k.S[S_THERE] + n]
    for i in range(k.P[n, P_NSHIFTS]):
        if k.L[at + 2 * i] <= s < k.L[at + 2 * i + 1]:
            low, high = k.L[at + 2 * i], k.L[at + 2 * i + 1]
            break
    before, after, at_before, at_after = -1, -1, -1, -1
    for o in range(areas):
        if k.G[n * areas + o, G_SEATS] == 0:
            continue
        row = k.W[k.S[S_BEGUN] + n * areas + o]
        earlier, later = last_of(row, there, low, s), first_of(row, there, s + 1, high)
        if earlier > at_before:
            at_before, before = earlier, o
        if later >= 0 and (at_after < 0 or later < at_after):
            at_after, after = later, o
    return before, after


@inlined
def change(k: Any, n: int, a: int, s: int) -> int:
    """How many changes of area more a seat from a slot on would make, that is not there yet."""
    if k.P[n, P_SEATS] == k.G[n * k.S[S_AREAS] + a, G_SEATS]:
        return 0
    before, after = beside(k, n, a, s)
    more = 0
    if before >= 0 and before != a:
        more += 1
    if after >= 0 and after != a:
        more += 1
    if before >= 0 and after >= 0 and before != after:
        more -= 1
    return more


@inlined
def changes_at(k: Any, n: int, a: int, s: int) -> bool:
    """Whether the person comes to a seat, or goes on from it, from or to another area within the shift."""
    if k.P[n, P_SEATS] == k.G[n * k.S[S_AREAS] + a, G_SEATS]:
        return False
    before, after = beside(k, n, a, s)
    return (before >= 0 and before != a) or (after >= 0 and after != a)


@inlined
def begin(k: Any, n: int, a: int, first: int, last: int) -> None:
    """Somebody takes a seat."""
    g = n * k.S[S_AREAS] + a
    if k.V[V_CHANGE] > 0:
        k.S[S_CHANGES] += change(k, n, a, first)
    busy = k.W[k.S[S_BUSY] + g]
    for w in words_of(first, last):
        busy[w] |= part(w, first, last)
    k.W[k.S[S_BEGUN] + g, first >> 6] |= U1 << np.uint64(first & 63)
    k.G[g, G_SEATS] += 1
    k.P[n, P_SEATS] += 1
    forget_shut(k, n)


@inlined
def end(k: Any, n: int, a: int, first: int, last: int) -> None:
    """Somebody leaves a seat."""
    g = n * k.S[S_AREAS] + a
    busy = k.W[k.S[S_BUSY] + g]
    for w in words_of(first, last):
        busy[w] &= ~part(w, first, last)
    k.W[k.S[S_BEGUN] + g, first >> 6] &= ~(U1 << np.uint64(first & 63))
    k.G[g, G_SEATS] -= 1
    k.P[n, P_SEATS] -= 1
    forget_shut(k, n)
    if k.V[V_CHANGE] > 0:
        k.S[S_CHANGES] -= change(k, n, a, first)
