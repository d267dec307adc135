"""Finding a place for a job in the compiled search, as `fit.py` does: windows, stretches, starts."""

from __future__ import annotations

from typing import Any

import numpy as np

from nundine.core.week.board.frequencies import STARTS, STARTS_OF_STRETCH
from nundine.core.week.compiling import inlined, inner, zeros_below
from nundine.core.week.search.kernel.board import know_starts, occupy, row_of, vacate, worth
from nundine.core.week.search.kernel.portions import allow, first_pending, tasks_in
from nundine.core.week.search.kernel.seats import open_starts
from nundine.core.week.search.kernel.words import (
    FULL,
    I0,
    I1,
    I2,
    NO,
    U0,
    U1,
    U64,
    YES,
    part,
    run_length,
)
from nundine.core.week.search.tables import (
    F_BASE,
    F_LOOSE,
    IS_RUNNING,
    IS_STOPPED,
    J_ASSET,
    J_BLOCK,
    J_FIRST,
    J_FIXED,
    J_FIXED_LAST,
    J_KEPT,
    J_LAST,
    J_LIFTED,
    J_NKEPT,
    J_NOW,
    J_NSTRETCHES,
    J_NTASKS,
    J_SHARED,
    J_SINCE,
    J_STRETCHES,
    J_TASKS,
    J_TOUCHES,
    J_WINDOWED,
    N_LIST,
    N_SIZE,
    S_CHANGES,
    S_FOUND,
    S_ROWS,
    S_SLOTS,
    S_TIDY,
    S_TOGETHER,
    S_TRIES,
    S_WIDTH,
    S_ZERO,
    T_AFTER,
    T_ENDS,
    T_HAVE_SLOTS,
    T_LEAST,
    T_LENGTH,
    T_NAFTER,
    T_NEEDS,
    T_NNEEDS,
    T_OFFSET,
    T_PEOPLE,
    T_SPLIT,
    T_TOUCHES,
    V_CHANGE,
    V_MOST,
)


@inlined
def overtime_may_help(k: Any, j: int) -> bool:
    """Whether anybody able has free overtime, with the hours beside it, for a portion of one of the job's
    tasks."""
    for i in range(k.J[J_NTASKS, j]):
        t = k.J[J_TASKS, j] + i
        for d in range(k.T[t, T_NNEEDS]):
            need = k.L[k.T[t, T_NEEDS] + 2 * d]
            for q in range(k.N[need, N_SIZE]):
                n = k.L[k.N[need, N_LIST] + 2 * q]
                least = min(k.T[t, T_LEAST], k.T[t, T_LENGTH] - k.T[t, T_HAVE_SLOTS])
                if know_starts(k, n, I2) > 0 and least < 1 << know_starts(k, n, I1):
                    return True
    return False


@inner
def begin_row(k: Any, j: int, t: int, overtime: bool, not_before: int, window: Any, single: bool) -> bool:
    """S_TOGETHER becomes the slots from which all tasks can follow one another without a gap, or else the
    first one can begin.

    Gives whether it is the former.
    """
    into, words = k.W[k.S[S_TOGETHER]], np.uint64(k.W.shape[1])
    if not single and k.J[J_NKEPT, j] == 0 and k.J[J_NTASKS, j] > 1:
        for w in range(words):
            into[w] = part(w, not_before, k.S[S_SLOTS])
        some = True
        for i in range(k.J[J_NTASKS, j]):
            u, at = k.J[J_TASKS, j] + i, 0
            for a in range(k.T[u, T_NAFTER]):
                b, lag = k.L[k.T[u, T_AFTER] + 2 * a], k.L[k.T[u, T_AFTER] + 2 * a + 1]
                at = max(at, k.T[b, T_OFFSET] + k.T[b, T_LENGTH] + lag)
            k.T[u, T_OFFSET] = at
            lo, hi = allow(k, j, u, k.S[S_ZERO], window, NO)
            some = hi > U0 and open_starts(k, u, k.T[u, T_LENGTH], overtime, lo, hi) >= 0
            if some:
                some = keep_shifted(into, k.W[k.S[S_ROWS] + 1], at, lo, hi)
            if not some:
                break
        if some:
            return True
    for w in range(words):
        into[w] = U0
    for a in range(k.T[t, T_NAFTER]):
        if k.T[k.L[k.T[t, T_AFTER] + 2 * a], T_ENDS] < 0:
            return False
    lo, hi = allow(k, j, t, not_before, window, YES)
    if hi > U0 and open_starts(k, t, k.T[t, T_LEAST], overtime, lo, hi) >= 0:
        open_ = k.W[k.S[S_ROWS] + 1]
        for w in range(lo, hi):
            into[w] = open_[w]
    return False


@inlined
def keep_shifted(into: Any, row: Any, by: int, lo: Any, hi: Any) -> bool:
    """Leave in a row the slots s at which another, known in its words lo..hi-1, is set at s + by; gives
    whether any is left."""
    jump, bits, some = np.uint64(by >> 6), np.uint64(by & 63), U0
    for w in range(np.uint64(len(into))):
        v, m = w + jump, U0
        if lo <= v < hi:
            m = row[v] >> bits
        if bits > U0 and lo <= v + U1 < hi:
            m |= row[v + U1] << (U64 - bits)
        into[w] &= m
        some |= into[w]
    return bool(some != U0)


@inner
def attempt(k: Any, j: int, overtime: bool, start: int, window: Any) -> int:
    """Try the job from a start on: 2 it stands without loose ends, 1 it could stand, 0 it finds no place.
    The best is remembered."""
    changes, block = k.S[S_CHANGES], k.J[J_BLOCK, j]
    if not tasks_in(k, j, overtime, start, window):
        return 0
    more = k.S[S_CHANGES] - changes
    net = worth(k, j) - k.V[V_CHANGE] * more
    if more <= 0 and k.F[F_LOOSE, j] <= 0 and net > k.F[F_BASE, j]:
        return 2
    if k.S[S_FOUND] == 0 or net > k.V[V_MOST] + 1e-9:
        k.S[S_FOUND], k.V[V_MOST] = k.J[J_NOW, j], net
        copy_portions(k, j, I0, 3 * k.S[S_WIDTH], k.J[J_NOW, j])
    for x in range(block + k.J[J_NOW, j] - 1, block - 1, -1):
        vacate(k, x)
    k.J[J_NOW, j] = 0
    return 1


@inlined
def copy_portions(k: Any, j: int, source: int, target: int, count: int) -> None:
    """Portions of the job from one set of columns to another (now, saved, best, best of some tries)."""
    b = k.J[J_BLOCK, j]
    for x in range(b, b + count):
        for c in range(3 + k.T[k.X[x, source], T_PEOPLE]):
            k.X[x, target + c] = k.X[x, source + c]


@inner
def in_window(k: Any, j: int, overtime: bool, not_before: int, window: Any, windowed: bool) -> bool:
    """Whether the job stands at its earliest place in a window; where loose ends cost something, without
    any. Else the best is remembered."""
    if not k.S[S_TIDY]:
        return tasks_in(k, j, overtime, not_before, window)
    t = first_pending(k, j)
    if t < 0 or k.S[S_TRIES] == STARTS:
        return False
    most, its, before = (STARTS_OF_STRETCH if windowed else STARTS), 0, -1
    single = not k.T[t, T_SPLIT]
    for i in range(k.J[J_NTASKS, j]):
        u = k.J[J_TASKS, j] + i
        if (
            u != t
            and k.T[u, T_LENGTH] > k.T[u, T_HAVE_SLOTS]
            and (k.T[u, T_HAVE_SLOTS] == 0 or k.T[u, T_SPLIT])
        ):
            single = False
    if single:
        k.S[S_TRIES] += 1
        its += 1
        found = attempt(k, j, overtime, not_before, window)
        if found == 2:
            return True
        if found == 1:
            before = k.X[k.J[J_BLOCK, j], 1]
        first_pending(k, j)
    chain = begin_row(k, j, t, overtime, not_before, window, single)
    row, at, slots = k.W[k.S[S_TOGETHER]], 0, k.S[S_SLOTS]
    while True:
        first = next_bit(row, at)
        if first < 0:
            return False
        end = first + run_length(row, first, slots)
        at = end
        for side in range(2):
            start = first if side == 0 else end - 1
            if side == 1 and (not chain or start <= first):
                continue
            if k.S[S_TRIES] == STARTS or its == most:
                return False
            if start == before:
                continue
            k.S[S_TRIES] += 1
            its += 1
            found = attempt(k, j, overtime, start, window)
            if found == 2:
                return True
            if found == 1:
                before = k.X[k.J[J_BLOCK, j], 1]


@inlined
def next_bit(row: Any, at: int) -> int:
    """The first slot from `at` on that is set, -1 if there is none."""
    words = np.uint64(len(row))
    w = np.uint64(at >> 6)
    if w >= words:
        return -1
    m = row[w] & (FULL << np.uint64(at & 63))
    while m == U0:
        w += U1
        if w >= words:
            return -1
        m = row[w]
    return int(64 * np.int64(w) + np.int64(zeros_below(m)))


@inner
def in_stretches(k: Any, j: int, overtime: bool, not_before: int, first: int, last: int) -> bool:
    """As `in_window`, between two slots for tasks that touch the asset, in one stretch after another for
    those that need it stopped."""
    if not k.J[J_WINDOWED, j]:
        return in_window(k, j, overtime, not_before, (first, last, k.S[S_ZERO], k.S[S_SLOTS]), NO)
    at = k.J[J_STRETCHES, j]
    for i in range(k.J[J_NSTRETCHES, j]):
        low, high = k.L[at + 2 * i], k.L[at + 2 * i + 1]
        if k.J[J_SHARED, j] < 0:
            if max(low, first) < min(high, last) and in_window(
                k, j, overtime, not_before, (first, last, max(low, first), min(high, last)), YES
            ):
                return True
            continue
        begin = low
        while begin < high:
            begin, end = beside_running(k, j, begin, high)
            if (
                begin < end
                and holds(k, j, begin, end)
                and max(begin, first) < min(end, last)
                and in_window(
                    k, j, overtime, not_before, (first, last, max(begin, first), min(end, last)), YES
                )
            ):
                return True
            begin = end
    return False


@inner
def beside_running(k: Any, j: int, begin: int, high: int) -> tuple[int, int]:
    """The first part of a stretch from a slot on in which no other job runs the asset."""
    at, size = k.H[k.J[J_SHARED, j], 0], k.H[k.J[J_SHARED, j], 1]
    moved = True
    end = high
    while moved:
        moved, end = False, high
        for i in range(size):
            o = k.L[at + i]
            if o == j:
                continue
            for n in range(k.J[J_NKEPT, o] + (0 if k.J[J_LIFTED, o] else k.J[J_NOW, o])):
                x = row_of(k, o, n)
                if k.T[k.X[x, 0], T_TOUCHES] != IS_RUNNING or begin >= k.X[x, 2]:
                    continue
                if k.X[x, 1] <= begin:
                    begin, moved = k.X[x, 2], True
                else:
                    end = min(end, k.X[x, 1])
    return min(begin, high), max(min(begin, high), end)


@inlined
def holds(k: Any, j: int, first: int, last: int) -> bool:
    """Whether a part of a stretch holds what the job has of it already."""
    low, high = k.J[J_SINCE, j], k.J[J_SINCE, j] + 1
    for i in range(k.J[J_NKEPT, j]):
        x = k.J[J_KEPT, j] + i
        if k.T[k.X[x, 0], T_TOUCHES] == IS_STOPPED:
            low = k.X[x, 1] if low < 0 else min(low, k.X[x, 1])
            high = max(high, k.X[x, 2])
    return bool(low < 0 or (first <= low and high <= last))


@inner
def fit(k: Any, j: int, overtime: bool, not_before: int) -> bool:
    """Put the job on the board at its earliest place, where loose ends cost something at the best of some;
    its span and value are not yet counted."""
    k.S[S_TRIES], k.S[S_FOUND] = 0, 0
    if anywhere(k, j, overtime, not_before):
        return True
    if k.S[S_FOUND] == 0:
        return False
    copy_portions(k, j, 3 * k.S[S_WIDTH], I0, k.S[S_FOUND])
    k.J[J_NOW, j] = k.S[S_FOUND]
    b = k.J[J_BLOCK, j]
    for x in range(b, b + k.J[J_NOW, j]):
        occupy(k, x)
    return True


@inlined
def anywhere(k: Any, j: int, overtime: bool, not_before: int) -> bool:
    """In one window after another, until the job stands."""
    asset = k.J[J_ASSET, j]
    if asset < 0 or not k.J[J_TOUCHES, j]:
        return in_stretches(k, j, overtime, not_before, k.S[S_ZERO], k.S[S_SLOTS])
    at = k.S[S_ZERO]
    others, size = k.A[asset, 0], k.A[asset, 1]
    while at < k.S[S_SLOTS]:
        first, last = at, k.S[S_SLOTS]
        moved = True
        while moved:
            moved = False
            for i in range(size):
                o = k.L[others + i]
                if o != j and k.J[J_FIRST, o] >= 0 and k.J[J_FIRST, o] <= first < k.J[J_LAST, o]:
                    first, moved = k.J[J_LAST, o], True
        for i in range(size):
            o = k.L[others + i]
            if o != j and k.J[J_FIRST, o] >= first:
                last = min(last, k.J[J_FIRST, o])
        if first >= k.S[S_SLOTS]:
            return False
        inside = k.J[J_FIXED, j] < 0 or (first <= k.J[J_FIXED, j] and k.J[J_FIXED_LAST, j] <= last)
        if inside and last > first and in_stretches(k, j, overtime, not_before, first, last):
            return True
        at = max(last, first + 1)
    return False
