"""Finding a place for a job in the compiled search, as `fit.py` does."""

from __future__ import annotations

from typing import Any

import numpy as np

from nundine.core.week.build.chances import AROUND, FLUSH, SNUG, TRIES
from nundine.core.week.build.compiling import inlined, inner
from nundine.core.week.build.kernel.board import know_starts, occupy, starts, vacate
from nundine.core.week.build.kernel.words import U0, U1, U63, U64, count_in, first_bit, has_bit, part, run_length, run_starts, unit, words_of
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
    P_AROUND,
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
    S_CHANCE,
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
def give(k: Any, seat: int, rows: int) -> bool:
    """An augmenting path from a seat (Kuhn 1955), depth first, among the people of so many rows of those able."""
    for r in range(rows):
        k.P[k.B[r, 0], P_TRIED] = 0
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


@inlined
def around(k: Any, n: int, first: int, last: int) -> int:
    """Free slots of a person just before and just after a stretch; from `AROUND` on more is no matter."""
    free, count = k.W[k.S[S_FREE] + n], 0
    s = first - 1
    while s >= 0 and count < AROUND and has_bit(free, s):
        count += 1
        s -= 1
    s = last
    while s < k.S[S_SLOTS] and count < AROUND and has_bit(free, s):
        count += 1
        s += 1
    return count


@inlined
def want(k: Any, seat: int, count: int, n: int, key: int) -> None:
    """Add a person to those wanted for a seat, behind all with the same key or a lesser one."""
    k.P[n, P_AROUND] = key
    at = count
    while at > 0 and k.P[k.Q[seat, Q_WANT + at - 1], P_AROUND] > key:
        k.Q[seat, Q_WANT + at] = k.Q[seat, Q_WANT + at - 1]
        at -= 1
    k.Q[seat, Q_WANT + at] = n


@inlined
def seats(k: Any, t: int, s: int, length: int, snug: bool) -> bool:
    """A person for each seat of the task at start s, into k.chosen; main craft first, the least able first, at times first who has the least free around."""
    seat, row = 0, 0
    W, able, hours = k.W, k.S[S_ABLE], k.S[S_REGULAR]
    for i in range(k.T[t, T_NNEEDS]):
        count = k.L[k.T[t, T_NEEDS] + 2 * i + 1]
        base = seat
        n_want = 0
        for outside in range(2):
            for r in range(row, row + k.B[i, 1]):
                if not has_bit(W[able + r], s):
                    continue
                n = k.B[r, 0]
                regular = count_in(W[hours + n], s, s + length)
                if (regular < length) != (outside == 1) or k.C[k.P[n, P_CRAFT], C_BUDGET] < regular:
                    continue
                want(k, base, n_want, n, (around(k, n, s, s + length) if snug else 0) + 2 * AROUND * outside)
                n_want += 1
        for c in range(count):
            k.Q[seat, Q_NWANT] = n_want
            if c > 0:
                for i2 in range(n_want):
                    k.Q[seat, Q_WANT + i2] = k.Q[base, Q_WANT + i2]
            seat += 1
        row += k.B[i, 1]
    for r in range(row):
        k.P[k.B[r, 0], P_SEAT] = -1
    done = 0
    for c in range(seat):
        k.Q[c, Q_CHOSEN] = -1
    while done < seat:
        least, best = -1, 0
        for c in range(seat):
            if k.Q[c, Q_CHOSEN] < 0 and (least < 0 or k.Q[c, Q_NWANT] < best):
                least, best = c, k.Q[c, Q_NWANT]
        k.Q[least, Q_CHOSEN] = 0
        if not give(k, least, row):
            return False
        done += 1
    for r in range(row):
        n = k.B[r, 0]
        if k.P[n, P_SEAT] >= 0:
            k.Q[k.P[n, P_SEAT], Q_CHOSEN] = n
    for c in range(len(k.C)):
        k.C[c, C_SPENT] = 0
    for c in range(seat):
        n = k.Q[c, Q_CHOSEN]
        k.C[k.P[n, P_CRAFT], C_SPENT] += count_in(W[hours + n], s, s + length)
    for c in range(len(k.C)):
        if k.C[c, C_SPENT] > 0 and k.C[c, C_SPENT] > k.C[c, C_BUDGET]:
            return False
    return True


@inlined
def cascade(k: Any, seats: int, able: Any, lo: Any, hi: Any) -> None:
    """One person more in the rows of the slots at which one, two, three ... are able."""
    at = k.S[S_ROWS] + 4
    for level in range(seats - 1, 0, -1):
        more, fewer = k.W[at + level], k.W[at + level - 1]
        for w in range(lo, hi):
            more[w] |= fewer[w] & able[w]
    one = k.W[at]
    for w in range(lo, hi):
        one[w] |= able[w]


@inlined
def clear_heads(k: Any, seats: int, lo: Any, hi: Any) -> None:
    for level in range(seats):
        row = k.W[k.S[S_ROWS] + 4 + level]
        for w in range(lo, hi):
            row[w] = U0


@inlined
def keep_with_heads(k: Any, seats: int, lo: Any, hi: Any) -> None:
    """Leave in the row of starts the slots at which so many are able."""
    row, heads = k.W[k.S[S_ROWS] + 1], k.W[k.S[S_ROWS] + 3 + seats]
    for w in range(lo, hi):
        row[w] &= heads[w]


@inlined
def enough_heads(k: Any, rows: int, seats: int, lo: Any, hi: Any) -> None:
    """Leave in the row of starts the slots at which as many people as there are seats are able to take one or another."""
    clear_heads(k, seats, lo, hi)
    for r in range(rows):
        k.P[k.B[r, 0], P_SEAT] = -1
    for r in range(rows):
        k.B[r, 2], k.P[k.B[r, 0], P_SEAT] = k.P[k.B[r, 0], P_SEAT], r
    able, either = k.S[S_ABLE], k.W[k.S[S_ROWS] + 2]
    for r in range(rows):
        if k.P[k.B[r, 0], P_SEAT] != r:
            continue
        row, one = k.W[able + r], k.B[r, 2]
        if one < 0:
            cascade(k, seats, row, lo, hi)
            continue
        for w in range(lo, hi):
            either[w] = row[w]
        while one >= 0:
            also = k.W[able + one]
            for w in range(lo, hi):
                either[w] |= also[w]
            one = k.B[one, 2]
        cascade(k, seats, either, lo, hi)
    keep_with_heads(k, seats, lo, hi)


@inlined
def able_for(k: Any, need: int, count: int, length: int, overtime: bool, row: int, lo: Any, hi: Any) -> int:
    """Rows, from one on, of who can take a seat of a need and from when; counted in the rows of heads. Gives how many there are."""
    W, found, at = k.W, 0, k.N[need, N_LIST]
    allowed, open_, part_ = W[k.S[S_ROWS]], W[k.S[S_ROWS] + 1], W[k.S[S_ROWS] + 2]
    for q in range(k.N[need, N_SIZE]):
        n, mask = k.L[at + 2 * q], k.L[at + 2 * q + 1]
        kind = int(overtime)
        if k.C[k.P[n, P_CRAFT], C_BUDGET] < length:
            if not overtime:
                continue
            kind = 2
        if length >= 1 << know_starts(k, n, kind):
            continue
        able = W[k.S[S_ABLE] + row + found]
        starts(k, n, kind, length, able, lo, hi)
        if mask >= 0:
            valid = W[mask]
            for w in range(lo, hi):
                part_[w] = valid[w] & allowed[w]
            run_starts(part_, length, lo, hi)
            for w in range(lo, hi):
                able[w] &= part_[w]
        hit = U0
        for w in range(lo, hi):
            m = able[w] & open_[w]
            able[w] = m
            hit |= m
        if hit != U0:
            cascade(k, count, able, lo, hi)
            k.B[row + found, 0] = n
            found += 1
    return found


@inlined
def flush_starts(k: Any, rows: int, length: int, into: Any, lo: Any, hi: Any) -> None:
    """Starts at which somebody able is free neither just before nor just after."""
    open_, words = k.W[k.S[S_ROWS] + 1], np.uint64(k.W.shape[1])
    jump, bits = np.uint64(length >> 6), np.uint64(length & 63)
    for w in range(lo, hi):
        into[w] = U0
    for r in range(rows):
        able, free = k.W[k.S[S_ABLE] + r], k.W[k.S[S_FREE] + k.B[r, 0]]
        for w in range(lo, hi):
            m = able[w] & open_[w]
            if m == U0:
                continue
            before = free[w] << U1
            if w > U0:
                before |= free[w - U1] >> U63
            after, v = U0, w + jump
            if v < words:
                after = free[v] >> bits
                if bits > U0 and v + U1 < words:
                    after |= free[v + U1] << (U64 - bits)
            into[w] |= m & ~before & ~after


@inlined
def portion(k: Any, t: int, length: int, overtime: bool, lo: Any, hi: Any) -> int:
    """The earliest start in row 0 of k.rows (allowed slots) at which every seat can be filled; -1 if there is none."""
    allowed, open_ = k.W[k.S[S_ROWS]], k.W[k.S[S_ROWS] + 1]
    for w in range(lo, hi):
        open_[w] = allowed[w]
    run_starts(open_, length, lo, hi)
    row = 0
    for i in range(k.T[t, T_NNEEDS]):
        if first_bit(open_, lo, hi) < 0:
            return -1
        need, count = k.L[k.T[t, T_NEEDS] + 2 * i], k.L[k.T[t, T_NEEDS] + 2 * i + 1]
        clear_heads(k, count, lo, hi)
        k.B[i, 1] = able_for(k, need, count, length, overtime, row, lo, hi)
        row += k.B[i, 1]
        if k.B[i, 1] < count:
            return -1
        keep_with_heads(k, count, lo, hi)
    if k.T[t, T_NNEEDS] > 1:
        enough_heads(k, row, k.T[t, T_PEOPLE], lo, hi)
    if first_bit(open_, lo, hi) < 0 or k.T[t, T_NNEEDS] == 0:
        return first_bit(open_, lo, hi)
    flush = k.S[S_CHANCE] > 0 and unit(k) < FLUSH
    snug = flush or (k.S[S_CHANCE] > 0 and unit(k) < SNUG)
    starts_ = k.W[k.S[S_ROWS] + 2] if flush else open_
    if flush:
        flush_starts(k, row, length, starts_, lo, hi)
    for _ in range(2):
        for _ in range(TRIES):
            s = first_bit(starts_, lo, hi)
            if s < 0:
                break
            if seats(k, t, s, length, snug):
                return s
            starts_[np.uint64(s >> 6)] &= ~(U1 << np.uint64(s & 63))
        if not flush:
            break
        starts_, flush = open_, False
    return -1


@inlined
def allow(k: Any, j: int, t: int, not_before: int, first_asset: int, last_asset: int) -> tuple[Any, Any]:
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
    x = k.J[j, J_BLOCK] + k.J[j, J_NOW]
    k.X[x, 0], k.X[x, 1], k.X[x, 2] = t, first, last
    for c in range(k.T[t, T_PEOPLE]):
        k.X[x, 3 + c] = k.Q[c, Q_CHOSEN]
    k.J[j, J_NOW] += 1
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
def task_in(k: Any, j: int, t: int, overtime: bool, not_before: int, first_asset: int, last_asset: int) -> bool:
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


@inlined
def overtime_may_help(k: Any, j: int) -> bool:
    """Whether anybody able has free overtime, with the hours beside it, for a portion of one of the job's tasks."""
    for i in range(k.J[j, J_NTASKS]):
        t = k.J[j, J_TASKS] + i
        for d in range(k.T[t, T_NNEEDS]):
            need = k.L[k.T[t, T_NEEDS] + 2 * d]
            for q in range(k.N[need, N_SIZE]):
                n = k.L[k.N[need, N_LIST] + 2 * q]
                least = min(k.T[t, T_LEAST], k.T[t, T_LENGTH] - k.T[t, T_HAVE_SLOTS])
                if know_starts(k, n, 2) > 0 and least < 1 << know_starts(k, n, 1):
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
