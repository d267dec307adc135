"""Finding a place for a job in the compiled search, as `fit.py` does."""

from __future__ import annotations

from typing import Any

import numpy as np

from nundine.core.week.build.compiling import inner
from nundine.core.week.build.fit import TRIES
from nundine.core.week.build.kernel.board import know_runs, occupy, vacate
from nundine.core.week.build.kernel.words import U0, U1, count_in, first_bit, has_bit, part, run_length, run_starts
from nundine.core.week.build.tables import (
    C_BUDGET,
    C_SPENT,
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
    P_LONGEST,
    P_LONGEST_EXTRA,
    P_SEAT,
    P_TRIED,
    Q_AT,
    Q_CHOSEN,
    Q_NWANT,
    Q_PICK,
    Q_STACK,
    Q_WANT,
    S_ABLE,
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


@inner
def give(k: Any, seat: int, wide: int) -> bool:
    """An augmenting path from a seat (Kuhn 1955), depth first."""
    for i in range(wide):
        k.P[i, P_TRIED] = 0
    depth = 0
    k.Q[0, Q_STACK] = seat
    k.Q[seat, Q_AT] = 0
    while depth >= 0:
        s = k.Q[depth, Q_STACK]
        if k.Q[s, Q_AT] < k.Q[s, Q_NWANT]:
            n = k.Q[s, Q_WANT + k.Q[s, Q_AT]]
            k.Q[s, Q_AT] += 1
            if k.P[n, P_TRIED]:
                continue
            k.P[n, P_TRIED] = 1
            k.Q[s, Q_PICK] = n
            if k.P[n, P_SEAT] < 0:
                for d in range(depth, -1, -1):
                    k.P[k.Q[k.Q[d, Q_STACK], Q_PICK], P_SEAT] = k.Q[d, Q_STACK]
                return True
            depth += 1
            k.Q[depth, Q_STACK] = k.P[n, P_SEAT]
            k.Q[k.P[n, P_SEAT], Q_AT] = 0
        else:
            depth -= 1
    return False


@inner
def seats(k: Any, t: int, s: int, length: int) -> bool:
    """A person for each seat of the task at start s, into k.chosen; main craft first, the least able first."""
    seat, row = 0, 0
    people = len(k.P)
    for i in range(k.T[t, T_NNEEDS]):
        count = k.L[k.T[t, T_NEEDS] + 2 * i + 1]
        base = seat
        n_want = 0
        for outside in range(2):
            for r in range(row, row + k.B[i, 1]):
                if not has_bit(k.W, k.S[S_ABLE] + r, s):
                    continue
                n = k.B[r, 0]
                regular = count_in(k.W, k.S[S_REGULAR] + n, s, s + length)
                if (regular < length) != (outside == 1) or k.C[k.P[n, P_CRAFT], C_BUDGET] < regular:
                    continue
                k.Q[base, Q_WANT + n_want] = n
                n_want += 1
        for c in range(count):
            k.Q[seat, Q_NWANT] = n_want
            if c > 0:
                for i2 in range(n_want):
                    k.Q[seat, Q_WANT + i2] = k.Q[base, Q_WANT + i2]
            seat += 1
        row += k.B[i, 1]
    for n in range(people):
        k.P[n, P_SEAT] = -1
    done = 0
    for c in range(seat):
        k.Q[c, Q_CHOSEN] = -1
    while done < seat:
        least, best = -1, 0
        for c in range(seat):
            if k.Q[c, Q_CHOSEN] < 0 and (least < 0 or k.Q[c, Q_NWANT] < best):
                least, best = c, k.Q[c, Q_NWANT]
        k.Q[least, Q_CHOSEN] = 0
        if not give(k, least, people):
            return False
        done += 1
    for n in range(people):
        if k.P[n, P_SEAT] >= 0:
            k.Q[k.P[n, P_SEAT], Q_CHOSEN] = n
    for c in range(len(k.C)):
        k.C[c, C_SPENT] = 0
    for c in range(seat):
        n = k.Q[c, Q_CHOSEN]
        k.C[k.P[n, P_CRAFT], C_SPENT] += count_in(k.W, k.S[S_REGULAR] + n, s, s + length)
    for c in range(len(k.C)):
        if k.C[c, C_SPENT] > 0 and k.C[c, C_SPENT] > k.C[c, C_BUDGET]:
            return False
    return True


@inner
def enough_heads(k: Any, rows: int, seats: int, lo: int, hi: int) -> None:
    """Leave in row 1 the slots at which as many people as there are seats are able to take one or another."""
    for level in range(seats):
        for w in range(lo, hi):
            k.W[k.S[S_ROWS] + 4 + level, w] = U0
    for r in range(rows):
        k.P[k.B[r, 0], P_SEAT] = -1
    for r in range(rows):
        k.B[r, 2], k.P[k.B[r, 0], P_SEAT] = k.P[k.B[r, 0], P_SEAT], r
    for r in range(rows):
        if k.P[k.B[r, 0], P_SEAT] != r:
            continue
        for w in range(lo, hi):
            m = U0
            one = r
            while one >= 0:
                m |= k.W[k.S[S_ABLE] + one, w]
                one = k.B[one, 2]
            for level in range(seats - 1, 0, -1):
                k.W[k.S[S_ROWS] + 4 + level, w] |= k.W[k.S[S_ROWS] + 3 + level, w] & m
            k.W[k.S[S_ROWS] + 4, w] |= m
    for w in range(lo, hi):
        k.W[k.S[S_ROWS] + 1, w] &= k.W[k.S[S_ROWS] + 3 + seats, w]


@inner
def portion(k: Any, t: int, length: int, overtime: bool, lo: int, hi: int) -> int:
    """The earliest start in row 0 of k.rows (allowed slots) at which every seat can be filled; -1 if there is none."""
    for w in range(lo, hi):
        k.W[k.S[S_ROWS] + 1, w] = k.W[k.S[S_ROWS] + 0, w]
    run_starts(k.W, k.S[S_ROWS] + 1, length, lo, hi)
    if k.T[t, T_NNEEDS] == 0:
        return first_bit(k.W, k.S[S_ROWS] + 1, lo, hi)
    row = 0
    for i in range(k.T[t, T_NNEEDS]):
        need, count = k.L[k.T[t, T_NEEDS] + 2 * i], k.L[k.T[t, T_NEEDS] + 2 * i + 1]
        if first_bit(k.W, k.S[S_ROWS] + 1, lo, hi) < 0:
            return -1
        for level in range(count):
            for w in range(lo, hi):
                k.W[k.S[S_ROWS] + 4 + level, w] = U0
        k.B[i, 1] = 0
        for q in range(k.N[need, N_SIZE]):
            n, mask = k.L[k.N[need, N_LIST] + 2 * q], k.L[k.N[need, N_LIST] + 2 * q + 1]
            know_runs(k, n)
            if k.P[n, P_LONGEST] < length:
                continue
            no_regular = k.C[k.P[n, P_CRAFT], C_BUDGET] < length
            if no_regular and not overtime:
                continue
            for w in range(lo, hi):
                m = k.W[k.S[S_FREE] + n, w] & k.W[k.S[S_ROWS] + 0, w]
                if not overtime:
                    m &= k.W[k.S[S_REGULAR] + n, w]
                if no_regular:
                    m &= ~k.W[k.S[S_REGULAR] + n, w]
                if mask >= 0:
                    m &= k.W[mask, w]
                k.W[k.S[S_ABLE] + row, w] = m
            run_starts(k.W, k.S[S_ABLE] + row, length, lo, hi)
            hit = U0
            for w in range(lo, hi):
                m = k.W[k.S[S_ABLE] + row, w]
                hit |= m & k.W[k.S[S_ROWS] + 1, w]
                for level in range(count - 1, 0, -1):
                    k.W[k.S[S_ROWS] + 4 + level, w] |= k.W[k.S[S_ROWS] + 3 + level, w] & m
                k.W[k.S[S_ROWS] + 4, w] |= m
            if hit != U0:
                k.B[row, 0] = n
                k.B[i, 1] += 1
                row += 1
        for w in range(lo, hi):
            k.W[k.S[S_ROWS] + 1, w] &= k.W[k.S[S_ROWS] + 3 + count, w]
    if k.T[t, T_NNEEDS] > 1:
        enough_heads(k, row, k.T[t, T_PEOPLE], lo, hi)
    for _ in range(TRIES):
        s = first_bit(k.W, k.S[S_ROWS] + 1, lo, hi)
        if s < 0:
            return -1
        if seats(k, t, s, length):
            return s
        k.W[k.S[S_ROWS] + 1, s >> 6] &= ~(U1 << np.uint64(s & 63))
    return -1


@inner
def allow(k: Any, j: int, t: int, not_before: int, first_asset: int, last_asset: int) -> tuple[int, int]:
    """Slots that the task may use, people aside, into row 0 of k.rows; the words lo..hi-1 in which they lie."""
    first = max(not_before, k.J[j, J_EARLIEST])
    for i in range(k.T[t, T_NAFTER]):
        before, lag = k.L[k.T[t, T_AFTER] + 2 * i], k.L[k.T[t, T_AFTER] + 2 * i + 1]
        first = max(first, k.T[before, T_ENDS] + lag)
    if k.T[t, T_ENDS] >= 0:
        first = max(first, k.T[t, T_ENDS])
    last = k.J[j, J_LATEST]
    for i in range(k.J[j, J_NTASKS]):
        other = k.J[j, J_TASKS] + i
        if k.T[other, T_HAVE_START] >= 0:
            for a in range(k.T[other, T_NAFTER]):
                if k.L[k.T[other, T_AFTER] + 2 * a] == t:
                    last = min(last, k.T[other, T_HAVE_START] - k.L[k.T[other, T_AFTER] + 2 * a + 1])
    if k.T[t, T_NNEEDS] == 0:
        last = min(last, k.S[S_WEEK_END])
    if k.T[t, T_TOUCHES]:
        first, last = max(first, first_asset), min(last, last_asset)
    first, last = max(first, 0), min(last, k.S[S_SLOTS])
    words = k.W.shape[1]
    lo, hi = words, 0
    if last <= first:
        return 0, 0
    for w in range(first >> 6, ((last - 1) >> 6) + 1):
        m = part(w, first, last)
        if k.T[t, T_STATE] >= 0:
            m &= k.W[k.T[t, T_STATE], w]
        for i in range(k.T[t, T_NTOOLS]):
            m &= k.W[k.S[S_TOOL_FREE] + k.L[k.T[t, T_TOOLS] + i], w]
        k.W[k.S[S_ROWS] + 0, w] = m
        if m != U0:
            lo, hi = min(lo, w), w + 1
    return (lo, hi) if lo < hi else (0, 0)


@inner
def push(k: Any, j: int, t: int, first: int, last: int) -> None:
    x = k.J[j, J_BLOCK] + k.J[j, J_NOW]
    k.X[x, 0], k.X[x, 1], k.X[x, 2] = t, first, last
    for c in range(k.T[t, T_PEOPLE]):
        k.X[x, 3 + c] = k.Q[c, Q_CHOSEN]
    k.J[j, J_NOW] += 1
    occupy(k, x)


@inner
def stretch(k: Any, t: int, s: int, least: int, left: int, overtime: bool, lo: int, hi: int) -> int:
    """The longest portion of the same people from s on that leaves nothing or at least `least`."""
    people = k.T[t, T_PEOPLE]
    for w in range(lo, hi):
        m = k.W[k.S[S_ROWS] + 0, w]
        for c in range(people):
            n = k.Q[c, Q_CHOSEN]
            m &= k.W[k.S[S_FREE] + n, w]
            if not overtime:
                m &= k.W[k.S[S_REGULAR] + n, w]
            if k.C[k.P[n, P_CRAFT], C_BUDGET] < 1:
                m &= ~k.W[k.S[S_REGULAR] + n, w]
        k.W[k.S[S_ROWS] + 2, w] = m
    for w in range(hi, k.W.shape[1]):
        k.W[k.S[S_ROWS] + 2, w] = U0
    longest = min(left, run_length(k.W, k.S[S_ROWS] + 2, s, k.S[S_SLOTS]))
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


@inner
def task_in(k: Any, j: int, t: int, overtime: bool, not_before: int, first_asset: int, last_asset: int) -> bool:
    """Portions for what is left of one task."""
    left = k.T[t, T_LENGTH] - k.T[t, T_HAVE_SLOTS]
    least = k.T[t, T_LEAST] if k.T[t, T_SPLIT] else left
    if left < least:
        return False
    while left > 0:
        lo, hi = allow(k, j, t, not_before, first_asset, last_asset)
        if hi == 0:
            return False
        length = left
        s = portion(k, t, left, overtime, lo, hi)
        if s < 0 and k.T[t, T_SPLIT] and left >= 2 * least:
            s = portion(k, t, least, overtime, lo, hi)
            if s >= 0:
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
    partly = k.J[j, J_PARTLY]
    for i in range(k.J[j, J_NTASKS]):
        t = k.J[j, J_TASKS] + i
        k.T[t, T_ENDS] = k.T[t, T_HAVE_END]
    for i in range(k.J[j, J_NTASKS]):
        t = k.J[j, J_TASKS] + i
        if k.T[t, T_LENGTH] <= k.T[t, T_HAVE_SLOTS] or (k.T[t, T_HAVE_SLOTS] > 0 and not k.T[t, T_SPLIT]):
            continue
        ready = True
        for a in range(k.T[t, T_NAFTER]):
            if k.T[k.L[k.T[t, T_AFTER] + 2 * a], T_ENDS] < 0:
                ready = False
        count = k.J[j, J_NOW]
        if not ready or not task_in(k, j, t, overtime, not_before, first_asset, last_asset):
            keep = count if partly else 0
            block = k.J[j, J_BLOCK]
            for x in range(block + keep, block + k.J[j, J_NOW]):
                vacate(k, x)
            k.J[j, J_NOW] = keep
            k.T[t, T_ENDS] = k.T[t, T_HAVE_END]
            if not partly:
                return False
    return k.J[j, J_NOW] > 0


@inner
def overtime_may_help(k: Any, j: int) -> bool:
    """Whether anybody able has free overtime, with the hours beside it, for a portion of one of the job's tasks."""
    for i in range(k.J[j, J_NTASKS]):
        t = k.J[j, J_TASKS] + i
        for d in range(k.T[t, T_NNEEDS]):
            need = k.L[k.T[t, T_NEEDS] + 2 * d]
            for q in range(k.N[need, N_SIZE]):
                n = k.L[k.N[need, N_LIST] + 2 * q]
                know_runs(k, n)
                if k.P[n, P_LONGEST_EXTRA] > 0 and k.P[n, P_LONGEST_EXTRA] >= min(k.T[t, T_LEAST], k.T[t, T_LENGTH] - k.T[t, T_HAVE_SLOTS]):
                    return True
    return False


@inner
def fit(k: Any, j: int, overtime: bool, not_before: int) -> bool:
    """Put the job on the board at its earliest place; its span and value are not yet counted."""
    asset = k.J[j, J_ASSET]
    if asset < 0 or not k.J[j, J_TOUCHES]:
        return tasks_in(k, j, overtime, not_before, 0, k.S[S_SLOTS])
    at = 0
    others, size = k.A[asset, 0], k.A[asset, 1]
    while at < k.S[S_SLOTS]:
        first, last = at, k.S[S_SLOTS]
        moved = True
        while moved:
            moved = False
            for i in range(size):
                o = k.L[others + i]
                if o != j and k.J[o, J_FIRST] >= 0 and k.J[o, J_FIRST] <= first < k.J[o, J_LAST]:
                    first, moved = k.J[o, J_LAST], True
        for i in range(size):
            o = k.L[others + i]
            if o != j and k.J[o, J_FIRST] >= first:
                last = min(last, k.J[o, J_FIRST])
        if first >= k.S[S_SLOTS]:
            return False
        inside = k.J[j, J_FIXED] < 0 or (first <= k.J[j, J_FIXED] and k.J[j, J_FIXED_LAST] <= last)
        if inside and last > first and tasks_in(k, j, overtime, not_before, first, last):
            return True
        at = max(last, first + 1)
    return False
