"""Who can take the seats of a portion, from when, and the start that is chosen, in the compiled search."""

from __future__ import annotations

from typing import Any

import numpy as np

from nundine.core.week.board.frequencies import AROUND, FLUSH, MOST_LATER, SNUG, TRIES
from nundine.core.week.compiling import inlined, inner
from nundine.core.week.search.kernel.areas import area_of_task, change, is_shut
from nundine.core.week.search.kernel.board import know_starts, row_of, starts, waiting
from nundine.core.week.search.kernel.words import (
    U0,
    U1,
    U63,
    U64,
    count_in,
    first_bit,
    has_bit,
    part,
    run_starts,
    unit,
    words_of,
)
from nundine.core.week.search.tables import (
    C_BUDGET,
    C_SPENT,
    J_CHAIN,
    J_NKEPT,
    J_NOW,
    N_LIST,
    N_SIZE,
    P_AROUND,
    P_CRAFT,
    P_SEAT,
    P_TRIED,
    Q_AT,
    Q_CHOSEN,
    Q_HELD,
    Q_NWANT,
    Q_PICK,
    Q_STACK,
    Q_WANT,
    S_ABLE,
    S_AREAS,
    S_AWAY,
    S_CHANCE,
    S_FOLLOWS,
    S_FREE,
    S_LAST,
    S_REGULAR,
    S_ROWS,
    S_SAME_CRAFT,
    S_SHUT,
    S_SLOTS,
    S_TIDY,
    T_NEEDS,
    T_NNEEDS,
    T_PEOPLE,
    V_CHANGE,
    V_HANDOVER,
)


@inlined
def give(k: Any, seat: int, rows: int) -> bool:
    """An augmenting path from a seat (Kuhn 1955), depth first, among the people of so many rows of those
    able."""
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
def was_on(k: Any, x: int, n: int) -> bool:
    """Whether a person is on a portion."""
    for c in range(k.T[k.X[x, 0], T_PEOPLE]):
        if k.X[x, 3 + c] == n:
            return True
    return False


@inlined
def wished(k: Any, t: int, n: int, s: int, length: int, outside: int) -> Any:
    """The less, the rather the person should do a portion: who did the one before, changes no area, can do
    what comes, is not away."""
    area, more, away = area_of_task(k, t), 0, 0
    other = 1
    if k.S[S_SAME_CRAFT] and was_on(k, k.S[S_LAST], n):
        other = 0
    if area >= 0:
        if k.V[V_CHANGE] > 0:
            more = max(0, change(k, n, area, s))
        row = k.W[k.S[S_AWAY] + n * k.S[S_AREAS] + area]
        for w in words_of(s, s + length):
            if row[w] & part(w, s, s + length) != U0:
                away = 1
    later = MOST_LATER - np.int64(k.E[t, n])
    return np.int64(((((outside * 2 + other) * 4 + more) * 8 + later) * 2 + away) * 64)


@inlined
def seats(k: Any, t: int, s: int, length: int, snug: bool) -> bool:
    """A person for each seat of the task at start s, into k.chosen; main craft first, the least able
    first, at times first who has the least free around."""
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
                key = (around(k, n, s, s + length) if snug else 0) + 2 * AROUND * outside
                if k.S[S_TIDY]:
                    key = wished(k, t, n, s, length, outside) + (around(k, n, s, s + length) if snug else 0)
                want(k, base, n_want, n, key)
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
    """Leave in the row of starts the slots at which as many people as there are seats are able to take one
    or another."""
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
def able_for(
    k: Any, area: int, need: int, count: int, length: int, overtime: bool, row: int, lo: Any, hi: Any
) -> int:
    """Rows, from one on, of who can take a seat of a need and from when; counted in the rows of heads.
    Gives how many there are."""
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
        if area >= 0 and k.S[S_FOLLOWS] and is_shut(k, n, area):
            shut = W[k.S[S_SHUT] + n * k.S[S_AREAS] + area]
            for w in range(lo, hi):
                part_[w] = ~shut[w] & allowed[w]
            run_starts(part_, length, lo, hi)
            for w in range(lo, hi):
                able[w] &= part_[w]
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


@inner
def open_starts(k: Any, t: int, length: int, overtime: bool, lo: Any, hi: Any) -> int:
    """Row 1 of k.rows becomes the starts among the allowed slots (row 0) with enough people; gives how
    many rows of people able there are, -1 for no start."""
    allowed, open_ = k.W[k.S[S_ROWS]], k.W[k.S[S_ROWS] + 1]
    for w in range(lo, hi):
        open_[w] = allowed[w]
    run_starts(open_, length, lo, hi)
    row, area = 0, area_of_task(k, t)
    for i in range(k.T[t, T_NNEEDS]):
        if first_bit(open_, lo, hi) < 0:
            return -1
        need, count = k.L[k.T[t, T_NEEDS] + 2 * i], k.L[k.T[t, T_NEEDS] + 2 * i + 1]
        clear_heads(k, count, lo, hi)
        k.B[i, 1] = able_for(k, area, need, count, length, overtime, row, lo, hi)
        row += k.B[i, 1]
        if k.B[i, 1] < count:
            return -1
        keep_with_heads(k, count, lo, hi)
    if k.T[t, T_NNEEDS] > 1:
        enough_heads(k, row, k.T[t, T_PEOPLE], lo, hi)
    return row if first_bit(open_, lo, hi) >= 0 else -1


@inner
def earliest(k: Any, t: int, length: int, snug: bool, starts_: Any, lo: Any, hi: Any) -> int:
    """The first start of a row at which every seat can be filled; those that fail are taken out of it. -1
    if there is none."""
    for _ in range(TRIES):
        s = first_bit(starts_, lo, hi)
        if s < 0:
            break
        if seats(k, t, s, length, snug):
            return s
        starts_[np.uint64(s >> 6)] &= ~(U1 << np.uint64(s & 63))
    return -1


@inner
def portion(k: Any, j: int, t: int, length: int, overtime: bool, lo: Any, hi: Any) -> int:
    """The earliest start in row 0 of k.rows (allowed slots) at which every seat can be filled; -1 if there is
    none.

    Where handing over costs more than waiting for them, the earliest at which one of those before goes on.
    """
    row = open_starts(k, t, length, overtime, lo, hi)
    open_ = k.W[k.S[S_ROWS] + 1]
    if row < 0 or k.T[t, T_NNEEDS] == 0:
        return first_bit(open_, lo, hi) if row >= 0 else -1
    chance = k.S[S_CHANCE] > 0
    flush = chance and not (k.S[S_TIDY] and k.J[J_CHAIN, j]) and unit(k) < FLUSH
    snug = flush or (chance and unit(k) < SNUG)
    s = -1
    if flush:
        starts_ = k.W[k.S[S_ROWS] + 2]
        flush_starts(k, row, length, starts_, lo, hi)
        s = earliest(k, t, length, snug, starts_, lo, hi)
    if s < 0:
        s = earliest(k, t, length, snug, open_, lo, hi)
    if s < 0 or not k.S[S_TIDY] or k.S[S_LAST] < 0 or not others_go_on(k, t, s):
        return s
    return rather_the_same(k, j, t, s, length, snug, row, lo, hi)


@inlined
def others_go_on(k: Any, t: int, s: int) -> bool:
    """Whether those chosen for a portion from s on are entirely other people than those of the portion
    before, with a craft in common."""
    x = k.S[S_LAST]
    if not k.S[S_SAME_CRAFT] or s < k.X[x, 2]:
        return False
    for c in range(k.T[k.X[x, 0], T_PEOPLE]):
        if k.X[x, 3 + c] < 0:
            return False
    for c in range(k.T[t, T_PEOPLE]):
        if was_on(k, x, k.Q[c, Q_CHOSEN]):
            return False
    return True


@inner
def rather_the_same(
    k: Any, j: int, t: int, s: int, length: int, snug: bool, row: int, lo: Any, hi: Any
) -> int:
    """A later start at which one of those before goes on, if waiting for that costs no more than handing
    over; else s."""
    those = k.W[k.S[S_ROWS] + 2]
    for w in range(lo, hi):
        those[w] = U0
    for r in range(row):
        if was_on(k, k.S[S_LAST], k.B[r, 0]):
            able = k.W[k.S[S_ABLE] + r]
            for w in range(lo, hi):
                those[w] |= able[w]
    open_ = k.W[k.S[S_ROWS] + 1]
    for w in range(lo, hi):
        those[w] &= open_[w] & part(w, s + 1, k.S[S_SLOTS])
    people = k.T[t, T_PEOPLE]
    for c in range(people):
        k.Q[c, Q_HELD] = k.Q[c, Q_CHOSEN]
    same = earliest(k, t, length, snug, those, lo, hi)
    if same >= 0 and not others_go_on(k, t, same):
        last = 0
        for i in range(k.J[J_NKEPT, j] + k.J[J_NOW, j]):
            last = max(last, k.X[row_of(k, j, i), 2])
        later = waiting(k, same - last, t) if same > last else 0.0
        sooner = waiting(k, s - last, t) if s > last else 0.0
        if later <= sooner + k.V[V_HANDOVER]:
            return same
    for c in range(people):
        k.Q[c, Q_CHOSEN] = k.Q[c, Q_HELD]
    return s
