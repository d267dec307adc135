"""Finding a place for a job in the compiled search, as `fit.py` does: its tasks one after another."""

from __future__ import annotations

from typing import Any

import numpy as np

from nundine.core.week.compiling import inlined, inner
from nundine.core.week.search.kernel.board import know_starts, occupy, vacate
from nundine.core.week.search.kernel.seats import portion
from nundine.core.week.search.kernel.words import I0, I1, I2, U0, U1, part, run_length, words_of
from nundine.core.week.search.tables import (
    C_BUDGET,
    J_ASSET,
    J_BLOCK,
    J_EARLIEST,
    J_FIRST,
    J_FIXED,
    J_FIXED_LAST,
    J_LAST,
    J_LATEST,
    J_NOW,
    J_NTASKS,
    J_PARTLY,
    J_TASKS,
    J_TOUCHES,
    N_LIST,
    N_SIZE,
    P_CRAFT,
    Q_CHOSEN,
    S_FREE,
    S_REGULAR,
    S_ROWS,
    S_SLOTS,
    S_TOOL_FREE,
    S_WEEK_END,
    T_AFTER,
    T_ENDS,
    T_HAVE_END,
    T_HAVE_SLOTS,
    T_HAVE_START,
    T_LEAST,
    T_LENGTH,
    T_NAFTER,
    T_NEEDS,
    T_NNEEDS,
    T_NTOOLS,
    T_PEOPLE,
    T_SPLIT,
    T_STATE,
    T_TOOLS,
    T_TOUCHES,
)


@inlined
def allow(k: Any, j: int, t: int, not_before: int, first_asset: int, last_asset: int) -> tuple[Any, Any]:
    """Slots that the task may use, people aside, into row 0 of k.rows; the words lo..hi-1 in which they lie."""
    first = max(not_before, k.J[J_EARLIEST, j])
    for i in range(k.T[t, T_NAFTER]):
        before, lag = k.L[k.T[t, T_AFTER] + 2 * i], k.L[k.T[t, T_AFTER] + 2 * i + 1]
        first = max(first, k.T[before, T_ENDS] + lag)
    if k.T[t, T_ENDS] >= 0:
        first = max(first, k.T[t, T_ENDS])
    last = k.J[J_LATEST, j]
    for i in range(k.J[J_NTASKS, j]):
        other = k.J[J_TASKS, j] + i
        if k.T[other, T_HAVE_START] >= 0:
            for a in range(k.T[other, T_NAFTER]):
                if k.L[k.T[other, T_AFTER] + 2 * a] == t:
                    last = min(last, k.T[other, T_HAVE_START] - k.L[k.T[other, T_AFTER] + 2 * a + 1])
    if k.T[t, T_NNEEDS] == 0:
        last = min(last, k.S[S_WEEK_END])
    if k.T[t, T_TOUCHES]:
        first, last = max(first, first_asset), min(last, last_asset)
    first, last = max(first, 0), min(last, k.S[S_SLOTS])
    lo, hi = np.uint64(k.W.shape[1]), U0
    if last <= first:
        return U0, U0
    row, state = k.W[k.S[S_ROWS]], k.T[t, T_STATE]
    for w in words_of(first, last):
        row[w] = part(w, first, last)
    if state >= 0:
        opened = k.W[state]
        for w in words_of(first, last):
            row[w] &= opened[w]
    for i in range(k.T[t, T_NTOOLS]):
        tool = k.W[k.S[S_TOOL_FREE] + k.L[k.T[t, T_TOOLS] + i]]
        for w in words_of(first, last):
            row[w] &= tool[w]
    for w in words_of(first, last):
        if row[w] != U0:
            lo, hi = min(lo, w), w + U1
    return (lo, hi) if lo < hi else (U0, U0)


@inlined
def push(k: Any, j: int, t: int, first: int, last: int) -> None:
    x = k.J[J_BLOCK, j] + k.J[J_NOW, j]
    k.X[x, 0], k.X[x, 1], k.X[x, 2] = t, first, last
    for c in range(k.T[t, T_PEOPLE]):
        k.X[x, 3 + c] = k.Q[c, Q_CHOSEN]
    k.J[J_NOW, j] += 1
    occupy(k, x)


@inlined
def stretch(k: Any, t: int, s: int, least: int, left: int, overtime: bool, lo: Any, hi: Any) -> int:
    """The longest portion of the same people from s on that leaves nothing or at least `least`."""
    people, row, allowed = k.T[t, T_PEOPLE], k.W[k.S[S_ROWS] + 2], k.W[k.S[S_ROWS]]
    for w in range(np.uint64(len(row))):
        row[w] = allowed[w] if lo <= w < hi else U0
    for c in range(people):
        n = k.Q[c, Q_CHOSEN]
        free, regular = k.W[k.S[S_FREE] + n], k.W[k.S[S_REGULAR] + n]
        spent = k.C[k.P[n, P_CRAFT], C_BUDGET] < 1
        for w in range(lo, hi):
            row[w] &= free[w]
            if not overtime:
                row[w] &= regular[w]
            if spent:
                row[w] &= ~regular[w]
    longest = min(left, run_length(row, s, k.S[S_SLOTS]))
    for c in range(people):
        main = k.P[k.Q[c, Q_CHOSEN], P_CRAFT]
        heads = 0
        for d in range(people):
            if k.P[k.Q[d, Q_CHOSEN], P_CRAFT] == main:
                heads += 1
        longest = min(longest, max(least, k.C[main, C_BUDGET] // heads))
    if 0 < left - longest < least:
        longest = left - least
    return longest


@inlined
def task_in(
    k: Any, j: int, t: int, overtime: bool, not_before: int, first_asset: int, last_asset: int
) -> bool:
    """Portions for what is left of one task."""
    left = k.T[t, T_LENGTH] - k.T[t, T_HAVE_SLOTS]
    least = k.T[t, T_LEAST] if k.T[t, T_SPLIT] else left
    if left < least:
        return False
    while left > 0:
        lo, hi = allow(k, j, t, not_before, first_asset, last_asset)
        if hi == U0:
            return False
        length, s = left, -1
        for whole in range(2):
            if whole == 1 and (s >= 0 or not k.T[t, T_SPLIT] or left < 2 * least):
                break
            s = portion(k, t, left if whole == 0 else least, overtime, lo, hi)
            if whole == 1 and s >= 0:
                length = stretch(k, t, s, least, left, overtime, lo, hi)
        if s < 0:
            return False
        push(k, j, t, s, s + length)
        k.T[t, T_ENDS] = s + length
        left -= length
    return True


@inner
def tasks_in(k: Any, j: int, overtime: bool, not_before: int, first_asset: int, last_asset: int) -> bool:
    """Portions for all tasks of the job that it has not yet; nothing stays on the board if one finds no place."""
    partly = k.J[J_PARTLY, j]
    for i in range(k.J[J_NTASKS, j]):
        t = k.J[J_TASKS, j] + i
        k.T[t, T_ENDS] = k.T[t, T_HAVE_END]
    for i in range(k.J[J_NTASKS, j]):
        t = k.J[J_TASKS, j] + i
        if k.T[t, T_LENGTH] <= k.T[t, T_HAVE_SLOTS] or (k.T[t, T_HAVE_SLOTS] > 0 and not k.T[t, T_SPLIT]):
            continue
        ready = True
        for a in range(k.T[t, T_NAFTER]):
            if k.T[k.L[k.T[t, T_AFTER] + 2 * a], T_ENDS] < 0:
                ready = False
        count = k.J[J_NOW, j]
        if not ready or not task_in(k, j, t, overtime, not_before, first_asset, last_asset):
            keep = count if partly else 0
            block = k.J[J_BLOCK, j]
            for x in range(block + keep, block + k.J[J_NOW, j]):
                vacate(k, x)
            k.J[J_NOW, j] = keep
            k.T[t, T_ENDS] = k.T[t, T_HAVE_END]
            if not partly:
                return False
    return k.J[J_NOW, j] > 0


@inlined
def overtime_may_help(k: Any, j: int) -> bool:
    """Whether anybody able has free overtime, with the hours beside it, for a portion of one of the job's tasks."""
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
def fit(k: Any, j: int, overtime: bool, not_before: int) -> bool:
    """Put the job on the board at its earliest place; its span and value are not yet counted."""
    asset = k.J[J_ASSET, j]
    if asset < 0 or not k.J[J_TOUCHES, j]:
        return tasks_in(k, j, overtime, not_before, I0, k.S[S_SLOTS])
    at = 0
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
        if inside and last > first and tasks_in(k, j, overtime, not_before, first, last):
            return True
        at = max(last, first + 1)
    return False
