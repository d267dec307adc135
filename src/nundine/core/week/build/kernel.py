"""The inner loop of the search, compiled with numba: the same moves as `search.py`, some twenty times as fast.

Everything is in plain arrays (`tables.py` lays them out and names the columns). Sets of slots are rows of 64-bit words.
Words are uint64 and never mix with signed integers, which would make floats of them. Nothing here looks at a clock:
`run` makes a given number of steps at a given temperature and is repeatable for a seed.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from nundine.core.week.build.compiling import entry, inner
from nundine.core.week.build.search import DISPLACE, LATER, MOST_VICTIMS, NOISE, WANT
from nundine.core.week.build.tables import (
    C_BUDGET,
    C_SPENT,
    F_BASE,
    F_FIXED,
    F_KEY,
    F_ORDER,
    F_RATE,
    F_VALUE,
    J_ASSET,
    J_BEST,
    J_BLOCK,
    J_CRAFTS,
    J_DIRTY,
    J_DUE,
    J_EARLIEST,
    J_FIRST,
    J_FIXED,
    J_FIXED_LAST,
    J_HOPELESS,
    J_LAST,
    J_LATEST,
    J_MUST,
    J_NCRAFTS,
    J_NOW,
    J_NTASKS,
    J_PARTLY,
    J_SAVED,
    J_TASKS,
    J_TOUCHED,
    J_TOUCHES,
    N_LIST,
    N_SIZE,
    P_CRAFT,
    P_SEAT,
    P_TRIED,
    Q_AT,
    Q_CHOSEN,
    Q_NWANT,
    Q_PICK,
    Q_STACK,
    Q_WANT,
    S_ABLE,
    S_DIRTY,
    S_FREE,
    S_MOVABLE,
    S_REGULAR,
    S_ROWS,
    S_SLOTS,
    S_THERE,
    S_TOOL_FREE,
    S_TOUCHED,
    S_WEEK_END,
    S_WIDTH,
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
    V_BEST,
    V_HOURS,
    V_LATE,
    V_MUST_JOB,
    V_OVERTIME,
    V_PER_DAY,
    V_VALUE,
    Z_AGAIN,
    Z_DIRTY,
    Z_POOL,
    Z_RANK,
    Z_UNDO,
    Z_WAITING,
)  # fmt: skip

U0, U1, U63, U64, FULL = np.uint64(0), np.uint64(1), np.uint64(63), np.uint64(64), np.uint64(0xFFFFFFFFFFFFFFFF)
TRIES = 24

# ---------------------------------------------------------------- dice (splitmix64, Steele et al. 2014)


@inner
def roll(k: Any) -> Any:
    k.dice[0] += np.uint64(0x9E3779B97F4A7C15)
    z = k.dice[0]
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return z ^ (z >> np.uint64(31))


@inner
def unit(k: Any) -> float:
    return float(roll(k) >> np.uint64(11)) * (1.0 / 9007199254740992.0)


@inner
def below(k: Any, n: int) -> Any:
    return np.int64(roll(k) % np.uint64(n))


# ---------------------------------------------------------------- words


@inner
def trailing(x: Any) -> int:
    """Zeros below the lowest set bit of a word that is not 0."""
    n = 0
    low = x & (~x + U1)
    if low & np.uint64(0xFFFFFFFF00000000):
        n += 32
    if low & np.uint64(0xFFFF0000FFFF0000):
        n += 16
    if low & np.uint64(0xFF00FF00FF00FF00):
        n += 8
    if low & np.uint64(0xF0F0F0F0F0F0F0F0):
        n += 4
    if low & np.uint64(0xCCCCCCCCCCCCCCCC):
        n += 2
    if low & np.uint64(0xAAAAAAAAAAAAAAAA):
        n += 1
    return n


@inner
def ones(x: Any) -> Any:
    x = x - ((x >> U1) & np.uint64(0x5555555555555555))
    x = (x & np.uint64(0x3333333333333333)) + ((x >> np.uint64(2)) & np.uint64(0x3333333333333333))
    x = (x + (x >> np.uint64(4))) & np.uint64(0x0F0F0F0F0F0F0F0F)
    return np.int64((x * np.uint64(0x0101010101010101)) >> np.uint64(56))


@inner
def part(word: int, first: int, last: int) -> Any:
    """Bits of one word of the stretch first..last-1."""
    low, high = max(first - 64 * word, 0), min(last - 64 * word, 64)
    if high <= low:
        return U0
    mask = FULL if high == 64 else (U1 << np.uint64(high)) - U1
    return mask & ~((U1 << np.uint64(low)) - U1)


@inner
def run_starts(rows: Any, r: int, length: int, lo: int, hi: int) -> None:
    """Row r becomes the slots from which `length` bits are set, by doubling; only words lo..hi-1 may be set."""
    have = 1
    while have < length:
        step = min(have, length - have)
        jump, bits = step >> 6, np.uint64(step & 63)
        for w in range(lo, hi):
            a = rows[r, w + jump] if w + jump < hi else U0
            if bits != U0:
                b = rows[r, w + jump + 1] if w + jump + 1 < hi else U0
                a = (a >> bits) | (b << (U64 - bits))
            rows[r, w] &= a
        have += step


@inner
def first_bit(rows: Any, r: int, lo: int, hi: int) -> int:
    for w in range(lo, hi):
        if rows[r, w] != U0:
            return 64 * w + trailing(rows[r, w])
    return -1


@inner
def has_bit(rows: Any, r: int, s: int) -> bool:
    return (rows[r, s >> 6] >> np.uint64(s & 63)) & U1 != U0


@inner
def run_length(rows: Any, r: int, start: int, slots: int) -> int:
    n = 0
    while start + n < slots and has_bit(rows, r, start + n):
        n += 1
    return n


@inner
def count_in(rows: Any, r: int, first: int, last: int) -> int:
    n = 0
    for w in range(first >> 6, ((last - 1) >> 6) + 1):
        n += ones(rows[r, w] & part(w, first, last))
    return n


# ---------------------------------------------------------------- the board


@inner
def occupy(k: Any, x: int) -> None:
    """Portion x of the placed ones takes its people, hours and tools."""
    t, first, last = k.X[x, 0], k.X[x, 1], k.X[x, 2]
    for c in range(k.T[t, T_PEOPLE]):
        n = k.X[x, 3 + c]
        k.C[k.P[n, P_CRAFT], C_BUDGET] -= count_in(k.W, k.S[S_REGULAR] + n, first, last)
        for w in range(first >> 6, ((last - 1) >> 6) + 1):
            k.W[k.S[S_FREE] + n, w] &= ~part(w, first, last)
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
    for i in range(k.T[t, T_NTOOLS]):
        tool = k.L[k.T[t, T_TOOLS] + i]
        for s in range(first, last):
            k.U[tool, 1 + s] -= 1
            if k.U[tool, 1 + s] < k.U[tool, 0]:
                k.W[k.S[S_TOOL_FREE] + tool, s >> 6] |= U1 << np.uint64(s & 63)


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


# ---------------------------------------------------------------- finding a place


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


@inner
def note(k: Any, j: int) -> None:
    """Remember how the job stood before this step, so that the step can be undone."""
    if k.J[j, J_TOUCHED]:
        return
    k.J[j, J_TOUCHED] = 1
    k.Z[k.S[S_TOUCHED], Z_UNDO] = j
    k.S[S_TOUCHED] += 1
    k.J[j, J_SAVED] = k.J[j, J_NOW]
    copy(k, j, 0, k.S[S_WIDTH], k.J[j, J_NOW])


@inner
def copy(k: Any, j: int, source: int, target: int, count: int) -> None:
    """Portions of the job from one set of columns to another (now, saved, best)."""
    b = k.J[j, J_BLOCK]
    for x in range(b, b + count):
        for c in range(3 + k.T[k.X[x, source], T_PEOPLE]):
            k.X[x, target + c] = k.X[x, source + c]


@inner
def count_value(k: Any, j: int) -> None:
    value = worth(k, j)
    k.V[V_VALUE] += value - k.F[j, F_VALUE]
    k.F[j, F_VALUE] = value
    spread(k, j)


@inner
def try_place(k: Any, j: int, not_before: int) -> bool:
    """Place the job if that is worth more than without; regular hours before overtime."""
    note(k, j)
    for overtime in (False, True):
        if not fit(k, j, overtime, not_before):
            continue
        if worth(k, j) > k.F[j, F_BASE]:
            count_value(k, j)
            return True
        b = k.J[j, J_BLOCK]
        for x in range(b, b + k.J[j, J_NOW]):
            vacate(k, x)
        k.J[j, J_NOW] = 0
    return False


@inner
def bring(k: Any, j: int, source: int, count: int) -> None:
    """Put the job back as it was copied."""
    copy(k, j, source, 0, count)
    k.J[j, J_NOW] = count
    b = k.J[j, J_BLOCK]
    for x in range(b, b + k.J[j, J_NOW]):
        occupy(k, x)
    if k.J[j, J_NOW] > 0:
        count_value(k, j)


@inner
def still_free(k: Any, j: int) -> bool:
    """Whether the job would fit back exactly as it was copied: people, hours, tools, asset."""
    b, saved = k.J[j, J_BLOCK], k.S[S_WIDTH]
    for c in range(len(k.C)):
        k.C[c, C_SPENT] = 0
    first_touch, last_touch = k.J[j, J_FIXED], k.J[j, J_FIXED_LAST]
    for x in range(b, b + k.J[j, J_SAVED]):
        t, first, last = k.X[x, saved], k.X[x, saved + 1], k.X[x, saved + 2]
        for w in range(first >> 6, ((last - 1) >> 6) + 1):
            m = part(w, first, last)
            for c in range(k.T[t, T_PEOPLE]):
                if m & ~k.W[k.S[S_FREE] + k.X[x, saved + 3 + c], w] != U0:
                    return False
            for i in range(k.T[t, T_NTOOLS]):
                if m & ~k.W[k.S[S_TOOL_FREE] + k.L[k.T[t, T_TOOLS] + i], w] != U0:
                    return False
        for c in range(k.T[t, T_PEOPLE]):
            k.C[k.P[k.X[x, saved + 3 + c], P_CRAFT], C_SPENT] += count_in(k.W, k.S[S_REGULAR] + k.X[x, saved + 3 + c], first, last)
        if k.T[t, T_TOUCHES]:
            first_touch = first if first_touch < 0 else min(first_touch, first)
            last_touch = max(last_touch, last)
    for c in range(len(k.C)):
        if k.C[c, C_SPENT] > 0 and k.C[c, C_SPENT] > k.C[c, C_BUDGET]:
            return False
    asset = k.J[j, J_ASSET]
    if asset >= 0 and first_touch >= 0:
        for i in range(k.A[asset, 1]):
            o = k.L[k.A[asset, 0] + i]
            if o != j and k.J[o, J_FIRST] >= 0 and k.J[o, J_FIRST] < last_touch and first_touch < k.J[o, J_LAST]:
                return False
    return True


# ---------------------------------------------------------------- moves


@inner
def shares(k: Any, a: int, b: int) -> bool:
    """Whether two jobs want a craft, or an asset that takes one job at a time, in common."""
    if k.J[a, J_ASSET] >= 0 and k.J[a, J_ASSET] == k.J[b, J_ASSET]:
        return True
    for i in range(k.J[a, J_NCRAFTS]):
        for c in range(k.J[b, J_NCRAFTS]):
            if k.L[k.J[a, J_CRAFTS] + i] == k.L[k.J[b, J_CRAFTS] + c]:
                return True
    return False


@inner
def list_waiting(k: Any) -> int:
    count = 0
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[r, Z_RANK]
        if k.J[j, J_NOW] == 0 and k.J[j, J_HOPELESS] == 0:
            k.Z[count, Z_WAITING] = j
            count += 1
    return count


@inner
def start_of(k: Any, j: int) -> int:
    return int(k.X[k.J[j, J_BLOCK], 1])


@inner
def some_waiting(k: Any, waiting: int, near: int, wanted: int, count: int, most: int, share: float) -> int:
    """Add some waiting jobs that share something with one to the list of those to place, better ranked ones first."""
    extra = 0
    for r in range(waiting):
        j = k.Z[r, Z_WAITING]
        if j != wanted and extra < most and shares(k, near, j) and unit(k) < share:
            k.Z[count + extra, Z_AGAIN] = j
            extra += 1
    return count + extra


@inner
def shake(k: Any, count: int) -> None:
    """Keys of the jobs to place: value an hour with noise."""
    for i in range(count):
        k.F[i, F_KEY] = k.F[k.Z[i, Z_AGAIN], F_ORDER] * (1 - NOISE + 2 * NOISE * unit(k))


@inner
def next_in_order(k: Any, count: int) -> int:
    """The job with the greatest key, which it then loses."""
    best = -1
    for i in range(count):
        if k.F[i, F_KEY] > -1e30 and (best < 0 or k.F[i, F_KEY] > k.F[best, F_KEY]):
            best = i
    k.F[best, F_KEY] = -1e31
    return int(k.Z[best, Z_AGAIN])


@inner
def ruin(k: Any, wanted: int, waiting: int) -> bool:
    """Take out jobs around one craft and time, then put in a wanted job and others by value an hour with noise."""
    craft = -1
    if wanted >= 0 and k.J[wanted, J_NCRAFTS] > 0:
        craft = k.L[k.J[wanted, J_CRAFTS] + below(k, k.J[wanted, J_NCRAFTS])]
    pool = 0
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[r, Z_RANK]
        if k.J[j, J_NOW] == 0:
            continue
        if craft < 0 or (k.J[j, J_ASSET] >= 0 and k.J[j, J_ASSET] == k.J[wanted, J_ASSET]):
            k.Z[pool, Z_POOL] = j
            pool += 1
            continue
        for i in range(k.J[j, J_NCRAFTS]):
            if k.L[k.J[j, J_CRAFTS] + i] == craft:
                k.Z[pool, Z_POOL] = j
                pool += 1
                break
    if pool == 0:
        return False
    centre = start_of(k, k.Z[below(k, pool), Z_POOL])
    for i in range(pool):
        k.F[i, F_KEY] = abs(start_of(k, k.Z[i, Z_POOL]) - centre) + below(k, 24)
    size = min(1 + below(k, MOST_VICTIMS), pool)
    count = 0
    for _ in range(size):
        nearest = -1
        for i in range(pool):
            if k.F[i, F_KEY] >= 0 and (nearest < 0 or k.F[i, F_KEY] < k.F[nearest, F_KEY]):
                nearest = i
        k.F[nearest, F_KEY] = -1.0
        k.Z[count, Z_AGAIN] = k.Z[nearest, Z_POOL]
        count += 1
    for i in range(count):
        note(k, k.Z[i, Z_AGAIN])
        take(k, k.Z[i, Z_AGAIN])
    victims = count
    if wanted >= 0:
        k.Z[count, Z_AGAIN] = wanted
        count += 1
    lead = victims - 1 if wanted < 0 else victims
    count = some_waiting(k, waiting, k.Z[lead, Z_AGAIN], wanted, count, 12, 0.25)
    shake(k, count)
    if wanted >= 0 and unit(k) < 0.5:
        k.F[victims, F_KEY] = 1e30
    for _ in range(count):
        j = next_in_order(k, count)
        late = below(k, k.S[S_WEEK_END]) if unit(k) < LATER else 0
        if not try_place(k, j, late) and late > 0:
            try_place(k, j, 0)
    return True


@inner
def displace(k: Any, wanted: int, waiting: int) -> bool:
    """Place a wanted job as if cheaper ones were not there, put back what still fits, refill."""
    late = 0 if unit(k) < 0.4 else below(k, k.S[S_WEEK_END])
    most = k.F[wanted, F_ORDER] * (0.8 + 0.5 * unit(k))
    width = 96 + below(k, 288)
    count = 0
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[r, Z_RANK]
        if k.J[j, J_NOW] == 0 or k.F[j, F_ORDER] >= most or not shares(k, wanted, j):
            continue
        if late > 0 and not late - 48 <= start_of(k, j) < late + width:
            continue
        k.Z[count, Z_AGAIN] = j
        count += 1
    if count == 0:
        return False
    for i in range(count):
        note(k, k.Z[i, Z_AGAIN])
        take(k, k.Z[i, Z_AGAIN])
    if not try_place(k, wanted, late):
        return True
    out = 0
    for i in range(count):
        j = k.Z[i, Z_AGAIN]
        if still_free(k, j):
            bring(k, j, k.S[S_WIDTH], k.J[j, J_SAVED])
        else:
            k.Z[out, Z_AGAIN] = j
            out += 1
    out = some_waiting(k, waiting, wanted, wanted, out, 8, 0.2)
    shake(k, out)
    for _ in range(out):
        try_place(k, next_in_order(k, out), 0)
    return True


@inner
def step(k: Any, temperature: float) -> None:
    """One move; undone if it is not accepted (annealing: worse by d with probability exp(-d / temperature))."""
    before = k.V[V_VALUE]
    k.S[S_TOUCHED] = 0
    waiting = list_waiting(k)
    wanted = -1
    if waiting > 0 and unit(k) < WANT:
        u = unit(k)
        wanted = k.Z[int(waiting * (u * u)), Z_WAITING]
    if wanted >= 0 and unit(k) < DISPLACE:
        displace(k, wanted, waiting)
    else:
        ruin(k, wanted, waiting)
    change = k.V[V_VALUE] - before
    accept = change >= -1e-9 or (temperature > 0 and unit(k) < math.exp(change / temperature))
    for i in range(k.S[S_TOUCHED]):
        j = k.Z[i, Z_UNDO]
        k.J[j, J_TOUCHED] = 0
        if accept:
            if not k.J[j, J_DIRTY]:
                k.J[j, J_DIRTY] = 1
                k.Z[k.S[S_DIRTY], Z_DIRTY] = j
                k.S[S_DIRTY] += 1
        else:
            take(k, j)
    if not accept:
        for i in range(k.S[S_TOUCHED]):
            bring(k, k.Z[i, Z_UNDO], k.S[S_WIDTH], k.J[k.Z[i, Z_UNDO], J_SAVED])
        k.V[V_VALUE] = before
    elif k.V[V_VALUE] > k.V[V_BEST] + 1e-6:
        keep_best(k)


@inner
def keep_best(k: Any) -> None:
    k.V[V_BEST] = k.V[V_VALUE]
    for i in range(k.S[S_DIRTY]):
        j = k.Z[i, Z_DIRTY]
        k.J[j, J_DIRTY] = 0
        k.J[j, J_BEST] = k.J[j, J_NOW]
        copy(k, j, 0, 2 * k.S[S_WIDTH], k.J[j, J_NOW])
    k.S[S_DIRTY] = 0


@inner
def restore_best(k: Any) -> None:
    """The board as it was at the best value."""
    for i in range(k.S[S_DIRTY]):
        take(k, k.Z[i, Z_DIRTY])
    for i in range(k.S[S_DIRTY]):
        j = k.Z[i, Z_DIRTY]
        k.J[j, J_DIRTY] = 0
        bring(k, j, 2 * k.S[S_WIDTH], k.J[j, J_BEST])
    k.S[S_DIRTY] = 0
    k.V[V_VALUE] = k.V[V_BEST]


@inner
def dispatch(k: Any) -> None:
    """Each job in the order of rank at its earliest place."""
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[r, Z_RANK]
        if k.J[j, J_NOW] == 0:
            k.S[S_TOUCHED] = 0
            try_place(k, j, 0)
            k.J[j, J_TOUCHED] = 0
            if k.J[j, J_NOW] > 0 and not k.J[j, J_DIRTY]:
                k.J[j, J_DIRTY] = 1
                k.Z[k.S[S_DIRTY], Z_DIRTY] = j
                k.S[S_DIRTY] += 1
    keep_best(k)


@inner
def mark_hopeless(k: Any) -> None:
    """On an empty board: jobs that fit nowhere are not tried again."""
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[r, Z_RANK]
        if fit(k, j, True, 0):
            b = k.J[j, J_BLOCK]
            for x in range(b, b + k.J[j, J_NOW]):
                vacate(k, x)
            k.J[j, J_NOW] = 0
        else:
            k.J[j, J_HOPELESS] = 1


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
