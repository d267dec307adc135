"""Portions for the tasks of a job, one task after another, in the compiled search: as `fit.py` does."""

from __future__ import annotations

from typing import Any

import numpy as np

from nundine.core.week.compiling import inlined, inner
from nundine.core.week.search.kernel.areas import area_of_task, is_shut
from nundine.core.week.search.kernel.board import occupy, same_craft, vacate
from nundine.core.week.search.kernel.seats import portion
from nundine.core.week.search.kernel.words import (
    U0,
    U1,
    YES,
    part,
    run_length,
    words_of,
)
from nundine.core.week.search.tables import (
    C_BUDGET,
    IS_RUNNING,
    IS_STOPPED,
    J_BLOCK,
    J_EARLIEST,
    J_KEPT,
    J_LATEST,
    J_LIFTED,
    J_NKEPT,
    J_NOW,
    J_NTASKS,
    J_OUT_FIRST,
    J_OUT_LAST,
    J_PARTLY,
    J_SHARED,
    J_TASKS,
    P_CRAFT,
    Q_CHOSEN,
    S_AREAS,
    S_FOLLOWS,
    S_FREE,
    S_LAST,
    S_REGULAR,
    S_ROWS,
    S_SAME_CRAFT,
    S_SHUT,
    S_SLOTS,
    S_TIDY,
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
    T_NNEEDS,
    T_NTOOLS,
    T_PEOPLE,
    T_SPLIT,
    T_STATE,
    T_TOOLS,
    T_TOUCHES,
)


@inner
def close_for_others(k: Any, j: int, row: Any, first: int, last: int) -> None:
    """Leave out slots at which other jobs keep the asset out of service: nobody runs it then."""
    at, size = k.H[k.J[J_SHARED, j], 0], k.H[k.J[J_SHARED, j], 1]
    for i in range(size):
        o = k.L[at + i]
        if o != j and k.J[J_OUT_FIRST, o] >= 0 and k.J[J_LIFTED, o] == 0:
            for w in words_of(first, last):
                row[w] &= ~part(w, k.J[J_OUT_FIRST, o], k.J[J_OUT_LAST, o])


@inner
def allow(k: Any, j: int, t: int, not_before: int, window: Any, chained: bool) -> tuple[Any, Any]:
    """Slots that the task may use, people aside, into row 0 of k.rows; the words lo..hi-1 in which they lie.

    `window`: first and last slot for tasks that touch the asset, and for those that need it stopped. Unless
    `chained`, what the task follows does not matter.
    """
    first = max(not_before, k.J[J_EARLIEST, j])
    for i in range(k.T[t, T_NAFTER] if chained else 0):
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
        first, last = max(first, window[0]), min(last, window[1])
    if k.T[t, T_TOUCHES] == IS_STOPPED:
        first, last = max(first, window[2]), min(last, window[3])
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
    if k.T[t, T_TOUCHES] == IS_RUNNING and k.J[J_SHARED, j] >= 0:
        close_for_others(k, j, row, first, last)
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
    k.S[S_LAST] = x
    occupy(k, x)


@inlined
def stretch(k: Any, t: int, s: int, least: int, left: int, overtime: bool, lo: Any, hi: Any) -> int:
    """The longest portion of the same people from s on that leaves nothing or at least `least`."""
    people, row, allowed = k.T[t, T_PEOPLE], k.W[k.S[S_ROWS] + 2], k.W[k.S[S_ROWS]]
    area = area_of_task(k, t)
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
        if area >= 0 and k.S[S_FOLLOWS] and is_shut(k, n, area):
            shut = k.W[k.S[S_SHUT] + n * k.S[S_AREAS] + area]
            for w in range(lo, hi):
                row[w] &= ~shut[w]
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
def task_in(k: Any, j: int, t: int, overtime: bool, not_before: int, window: Any) -> bool:
    """Portions for what is left of one task."""
    left = k.T[t, T_LENGTH] - k.T[t, T_HAVE_SLOTS]
    least = k.T[t, T_LEAST] if k.T[t, T_SPLIT] else left
    if left < least:
        return False
    while left > 0:
        lo, hi = allow(k, j, t, not_before, window, YES)
        follow(k, j, t)
        if hi == U0:
            return False
        length, s = left, -1
        for whole in range(2):
            if whole == 1 and (s >= 0 or not k.T[t, T_SPLIT] or left < 2 * least):
                break
            s = portion(k, j, t, left if whole == 0 else least, overtime, lo, hi)
            if whole == 1 and s >= 0:
                length = stretch(k, t, s, least, left, overtime, lo, hi)
        if s < 0:
            return False
        push(k, j, t, s, s + length)
        k.T[t, T_ENDS] = s + length
        left -= length
    return True


@inlined
def follow(k: Any, j: int, t: int) -> None:
    """Note which portion was put down last, and whether the task needs a craft in common with it."""
    now, kept = k.J[J_NOW, j], k.J[J_NKEPT, j]
    k.S[S_LAST] = k.J[J_BLOCK, j] + now - 1 if now > 0 else k.J[J_KEPT, j] + kept - 1 if kept > 0 else -1
    k.S[S_SAME_CRAFT] = 0
    if k.S[S_TIDY] and k.S[S_LAST] >= 0 and same_craft(k, k.X[k.S[S_LAST], 0], t):
        k.S[S_SAME_CRAFT] = 1


@inner
def tasks_in(k: Any, j: int, overtime: bool, not_before: int, window: Any) -> bool:
    """Portions for all tasks of the job that it has not yet; nothing stays on the board if one finds no
    place."""
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
        if not ready or not task_in(k, j, t, overtime, not_before, window):
            keep = count if partly else 0
            block = k.J[J_BLOCK, j]
            for x in range(block + k.J[J_NOW, j] - 1, block + keep - 1, -1):
                vacate(k, x)
            k.J[J_NOW, j] = keep
            k.T[t, T_ENDS] = k.T[t, T_HAVE_END]
            if not partly:
                return False
    return k.J[J_NOW, j] > 0


@inner
def first_pending(k: Any, j: int) -> int:
    """The first task of which something is left, -1 if there is none; ends of tasks are as they are
    without what may move."""
    found = -1
    for i in range(k.J[J_NTASKS, j] - 1, -1, -1):
        t = k.J[J_TASKS, j] + i
        k.T[t, T_ENDS] = k.T[t, T_HAVE_END]
        if k.T[t, T_LENGTH] > k.T[t, T_HAVE_SLOTS] and (k.T[t, T_HAVE_SLOTS] == 0 or k.T[t, T_SPLIT]):
            found = t
    return found
