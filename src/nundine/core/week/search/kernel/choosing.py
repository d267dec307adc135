"""Which jobs a move of the compiled search takes out and puts in, and in which order."""

from __future__ import annotations

from typing import Any

from nundine.core.week.board.frequencies import (
    MOST_PEOPLE,
    MOST_VICTIMS,
    NOISE,
    PEOPLE_TRIES,
    SAME_TIME,
)
from nundine.core.week.compiling import inlined, inner
from nundine.core.week.search.kernel.words import below, unit
from nundine.core.week.search.tables import (
    F_KEY,
    F_ORDER,
    J_ASSET,
    J_BLOCK,
    J_CRAFTS,
    J_HOPELESS,
    J_MARKS,
    J_NCRAFTS,
    J_NOW,
    J_PEOPLE,
    J_START,
    MARKS,
    P_SEAT,
    S_MOVABLE,
    T_PEOPLE,
    Z_AGAIN,
    Z_POOL,
    Z_RANK,
    Z_WAITING,
)

MARKED = -2


@inlined
def shares(k: Any, a: int, b: int) -> bool:
    """Whether two jobs want a craft, or an asset that takes one job at a time, in common."""
    if k.J[J_ASSET, a] >= 0 and k.J[J_ASSET, a] == k.J[J_ASSET, b]:
        return True
    if k.J[J_MARKS, a] & k.J[J_MARKS, b] == 0 or len(k.C) <= MARKS:
        return bool(k.J[J_MARKS, a] & k.J[J_MARKS, b] != 0)
    for i in range(k.J[J_NCRAFTS, a]):
        for c in range(k.J[J_NCRAFTS, b]):
            if k.L[k.J[J_CRAFTS, a] + i] == k.L[k.J[J_CRAFTS, b] + c]:
                return True
    return False


@inlined
def list_waiting(k: Any) -> int:
    count = 0
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[Z_RANK, r]
        if k.J[J_NOW, j] == 0 and k.J[J_HOPELESS, j] == 0:
            k.Z[Z_WAITING, count] = j
            count += 1
    return count


@inlined
def start_of(k: Any, j: int) -> int:
    return int(k.J[J_START, j])


@inlined
def some_waiting(k: Any, waiting: int, near: int, wanted: int, count: int, most: int, share: float) -> int:
    """Add some waiting jobs that share something with one to the list of those to place, better ranked
    ones first."""
    extra = 0
    for r in range(waiting):
        j = k.Z[Z_WAITING, r]
        if j != wanted and extra < most and shares(k, near, j) and unit(k) < share:
            k.Z[Z_AGAIN, count + extra] = j
            extra += 1
    return count + extra


@inlined
def shake(k: Any, count: int) -> None:
    """Keys of the jobs to place: value an hour with noise."""
    for i in range(count):
        k.F[F_KEY, i] = k.F[F_ORDER, k.Z[Z_AGAIN, i]] * (1 - NOISE + 2 * NOISE * unit(k))


@inlined
def next_in_order(k: Any, count: int) -> int:
    """The job with the greatest key, which it then loses."""
    best = -1
    for i in range(count):
        if k.F[F_KEY, i] > -1e30 and (best < 0 or k.F[F_KEY, i] > k.F[F_KEY, best]):
            best = i
    k.F[F_KEY, best] = -1e31
    return int(k.Z[Z_AGAIN, best])


@inlined
def nearest(k: Any, pool: int, centre: int) -> int:
    """One to nine jobs of the pool that start nearest to a slot, with some noise, into the list of those
    to place; gives how many."""
    for i in range(pool):
        k.F[F_KEY, i] = abs(start_of(k, k.Z[Z_POOL, i]) - centre) + below(k, 24)
    size, count = min(1 + below(k, MOST_VICTIMS), pool), 0
    for i in range(pool):
        if count == size and k.F[F_KEY, i] >= k.F[F_KEY, k.Z[Z_AGAIN, count - 1]]:
            continue
        at = count if count < size else count - 1
        count = max(count, at + 1)
        while at > 0 and k.F[F_KEY, i] < k.F[F_KEY, k.Z[Z_AGAIN, at - 1]]:
            k.Z[Z_AGAIN, at] = k.Z[Z_AGAIN, at - 1]
            at -= 1
        k.Z[Z_AGAIN, at] = i
    for i in range(count):
        k.Z[Z_AGAIN, i] = k.Z[Z_POOL, k.Z[Z_AGAIN, i]]
    return count


@inlined
def mark_one(k: Any, j: int) -> int:
    """Mark somebody who works on the job, by dice; gives their bit of J_PEOPLE."""
    x = k.J[J_BLOCK, j] + below(k, k.J[J_NOW, j])
    people = k.T[k.X[x, 0], T_PEOPLE]
    if people == 0:
        return 0
    n = k.X[x, 3 + below(k, people)]
    k.P[n, P_SEAT] = MARKED
    return int(1 << (n % MARKS))


@inner
def mark_people(k: Any, pool: int, lead: int) -> int:
    """Mark a few people: one on the leading job, and some on jobs of the pool at about the same time;
    gives their bits of J_PEOPLE."""
    for n in range(len(k.P)):
        k.P[n, P_SEAT] = -1
    bits = mark_one(k, lead)
    more = below(k, MOST_PEOPLE)
    for _ in range(PEOPLE_TRIES):
        if more == 0:
            break
        j = k.Z[Z_POOL, below(k, pool)]
        if abs(start_of(k, j) - start_of(k, lead)) <= SAME_TIME:
            bits |= mark_one(k, j)
            more -= 1
    return bits


@inner
def of_marked(k: Any, lead: int, bits: int) -> int:
    """The pool becomes the work of those marked, whose bits of J_PEOPLE are given, and the leading job."""
    count = 0
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[Z_RANK, r]
        if j != lead and k.J[J_PEOPLE, j] & bits == 0:
            continue
        b, theirs = k.J[J_BLOCK, j], j == lead
        for x in range(b, b + k.J[J_NOW, j]):
            for c in range(k.T[k.X[x, 0], T_PEOPLE]):
                theirs = theirs or k.P[k.X[x, 3 + c], P_SEAT] == MARKED
        if theirs:
            k.Z[Z_POOL, count] = j
            count += 1
    return count
