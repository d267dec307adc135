"""The inner loop of the search, compiled with numba: the same moves as `plain.py`, some twenty times as fast.

Everything is in plain arrays (`tables.py` lays them out and names the columns). Sets of slots are rows of
64-bit words. Words are uint64 and never mix with signed integers, which would make floats of them. Nothing
here looks at a clock: `run` makes a given number of steps at a given temperature and is repeatable for a
seed.
"""

from __future__ import annotations

import math
from typing import Any

from nundine.core.week.board.frequencies import (
    AFTER,
    AFTER_SHARE,
    ANY,
    BESIDE,
    BESIDE_SHARE,
    DISPLACE,
    FAR,
    HASTEN,
    LATER,
    MOST_PEOPLE,
    MOST_VICTIMS,
    NOISE,
    OF_PEOPLE,
    PEOPLE_TRIES,
    SAME_TIME,
    TIDY,
    WANT,
)
from nundine.core.week.compiling import entry, inlined, inner
from nundine.core.week.search.kernel.areas import changes_at
from nundine.core.week.search.kernel.board import free_all, let_go, take
from nundine.core.week.search.kernel.fit import copy_portions, fit
from nundine.core.week.search.kernel.trial import bring, lift, lower, note, still_free, try_place
from nundine.core.week.search.kernel.words import I0, YES, below, unit
from nundine.core.week.search.tables import (
    F_KEY,
    F_LOOSE,
    F_ORDER,
    J_AREA,
    J_ASSET,
    J_BEST,
    J_BLOCK,
    J_CRAFTS,
    J_DIRTY,
    J_DUE,
    J_HOPELESS,
    J_MARKS,
    J_NCRAFTS,
    J_NOW,
    J_PEOPLE,
    J_SAVED,
    J_START,
    J_TOUCHED,
    MARKS,
    P_SEAT,
    S_CHANCE,
    S_CHANGES,
    S_DIRTY,
    S_MOVABLE,
    S_TIDY,
    S_TOUCHED,
    S_WEEK_END,
    S_WIDTH,
    S_ZERO,
    T_PEOPLE,
    V_BEST,
    V_CHANGE,
    V_VALUE,
    Z_AGAIN,
    Z_DIRTY,
    Z_POOL,
    Z_RANK,
    Z_UNDO,
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


@inner
def ruin(k: Any, wanted: int, waiting: int) -> bool:
    """Take out jobs around one craft and time, then put in a wanted job and others by value an hour with
    noise."""
    craft = -1
    if wanted >= 0 and k.J[J_NCRAFTS, wanted] > 0:
        craft = k.L[k.J[J_CRAFTS, wanted] + below(k, k.J[J_NCRAFTS, wanted])]
    pool = 0
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[Z_RANK, r]
        if k.J[J_NOW, j] == 0:
            continue
        if craft < 0 or (k.J[J_ASSET, j] >= 0 and k.J[J_ASSET, j] == k.J[J_ASSET, wanted]):
            k.Z[Z_POOL, pool] = j
            pool += 1
            continue
        if k.J[J_MARKS, j] & (1 << (craft % MARKS)) == 0:
            continue
        for i in range(k.J[J_NCRAFTS, j]):
            if k.L[k.J[J_CRAFTS, j] + i] == craft:
                k.Z[Z_POOL, pool] = j
                pool += 1
                break
    if pool == 0:
        return False
    lead = k.Z[Z_POOL, below(k, pool)]
    if unit(k) < OF_PEOPLE:
        pool = of_marked(k, lead, mark_people(k, pool, lead))
    count = nearest(k, pool, start_of(k, lead))
    for i in range(count):
        note(k, k.Z[Z_AGAIN, i])
        take(k, k.Z[Z_AGAIN, i])
    victims = count
    if wanted >= 0:
        k.Z[Z_AGAIN, count] = wanted
        count += 1
    count = some_waiting(k, waiting, k.Z[Z_AGAIN, count - 1], wanted, count, BESIDE, BESIDE_SHARE)
    shake(k, count)
    if wanted >= 0 and unit(k) < 0.5:
        k.F[F_KEY, victims] = 1e30
    for _ in range(count):
        j = next_in_order(k, count)
        late = below(k, k.S[S_WEEK_END]) if unit(k) < LATER else 0
        if not try_place(k, j, late) and late > 0:
            try_place(k, j, I0)
    return True


@inner
def displace(k: Any, wanted: int, waiting: int) -> bool:
    """Place a wanted job as if cheaper ones (at times all around) were not there, put back what still
    fits, refill."""
    late = 0 if unit(k) < 0.4 else below(k, k.S[S_WEEK_END])
    most = k.F[F_ORDER, wanted] * (0.8 + 0.5 * unit(k))
    if unit(k) < ANY:
        most = FAR
    width = 96 + below(k, 288)
    count = 0
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[Z_RANK, r]
        if k.J[J_NOW, j] == 0 or k.F[F_ORDER, j] >= most or not shares(k, wanted, j):
            continue
        if late > 0 and not late - 48 <= start_of(k, j) < late + width:
            continue
        k.Z[Z_AGAIN, count] = j
        count += 1
    if count == 0:
        return False
    for i in range(count):
        lift(k, k.Z[Z_AGAIN, i])
    in_place_of(k, wanted, count, late, waiting)
    return True


@inner
def in_place_of(k: Any, wanted: int, count: int, not_before: int, waiting: int) -> None:
    """Place a job, set back those of the listed others, all lifted, that still fit where they were, then
    the rest and some that wait."""
    if not try_place(k, wanted, not_before):
        bring(k, wanted, k.S[S_WIDTH], k.J[J_SAVED, wanted])
        for i in range(count):
            lower(k, k.Z[Z_AGAIN, i])
        return
    out = 0
    for i in range(count):
        j = k.Z[Z_AGAIN, i]
        if still_free(k, j):
            lower(k, j)
        else:
            note(k, j)
            let_go(k, j)
            k.Z[Z_AGAIN, out] = j
            out += 1
    out = some_waiting(k, waiting, wanted, wanted, out, AFTER, AFTER_SHARE)
    shake(k, out)
    for _ in range(out):
        try_place(k, next_in_order(k, out), I0)


@inner
def as_if_gone(k: Any, job: int, when: int, others: bool) -> None:
    """Place a job anew from some time on, as if `others` that start about then and share something with it
    were not there."""
    count = 0
    if others:
        width = 16 + below(k, 64)
        for r in range(k.S[S_MOVABLE]):
            j = k.Z[Z_RANK, r]
            if (
                j == job
                or k.J[J_NOW, j] == 0
                or not when - 16 <= start_of(k, j) < when + width
                or not shares(k, job, j)
            ):
                continue
            k.Z[Z_AGAIN, count] = j
            count += 1
    note(k, job)
    take(k, job)
    for i in range(count):
        lift(k, k.Z[Z_AGAIN, i])
    in_place_of(k, job, count, when, I0)


@inner
def hasten(k: Any) -> bool:
    """Place a late job sooner as if those around that time were not there, put back what still fits, the
    rest where it can."""
    pool = 0
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[Z_RANK, r]
        b = k.J[J_BLOCK, j]
        for x in range(b, b + k.J[J_NOW, j]):
            if k.X[x, 2] > k.J[J_DUE, j]:
                k.Z[Z_POOL, pool] = j
                pool += 1
                break
    if pool == 0:
        return False
    job = k.Z[Z_POOL, below(k, pool)]
    sooner = below(k, start_of(k, job) + 1)
    as_if_gone(k, job, sooner, YES)
    return True


@inlined
def is_untidy(k: Any, j: int) -> bool:
    """Whether a job waits, hands over, is away, or somebody changes area on it."""
    if k.F[F_LOOSE, j] > 0:
        return True
    area, b = k.J[J_AREA, j], k.J[J_BLOCK, j]
    if area < 0 or k.V[V_CHANGE] <= 0:
        return False
    for x in range(b, b + k.J[J_NOW, j]):
        for c in range(k.T[k.X[x, 0], T_PEOPLE]):
            if changes_at(k, k.X[x, 3 + c], area, k.X[x, 1]):
                return True
    return False


@inner
def tidy_up(k: Any) -> bool:
    """Place a job with loose ends anew: where it finds a place, or at some time as if those around were
    not there."""
    pool = 0
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[Z_RANK, r]
        if k.J[J_NOW, j] > 0 and is_untidy(k, j):
            k.Z[Z_POOL, pool] = j
            pool += 1
    if pool == 0:
        return False
    job = k.Z[Z_POOL, below(k, pool)]
    others = unit(k) >= 0.5
    when = below(k, k.S[S_WEEK_END]) if others else k.S[S_ZERO]
    as_if_gone(k, job, when, others)
    return True


@inner
def ruin_or_displace(k: Any) -> None:
    waiting = list_waiting(k)
    wanted = -1
    if waiting > 0 and unit(k) < WANT:
        u = unit(k)
        wanted = k.Z[Z_WAITING, int(waiting * (u * u))]
    if wanted >= 0 and unit(k) < DISPLACE:
        displace(k, wanted, waiting)
    else:
        ruin(k, wanted, waiting)


@inlined
def value(k: Any) -> float:
    """What the plan on the board is worth: points less all prices."""
    return float(k.V[V_VALUE] - k.V[V_CHANGE] * k.S[S_CHANGES])


@inner
def step(k: Any, temperature: float) -> None:
    """One move; undone if it is not accepted (annealing: worse by d with probability exp(-d /
    temperature))."""
    before, total = value(k), k.V[V_VALUE]
    k.S[S_TOUCHED], k.S[S_CHANCE] = 0, 1
    done = False
    if k.S[S_TIDY] and unit(k) < TIDY:
        done = tidy_up(k)
    if not done and unit(k) < HASTEN:
        done = hasten(k)
    if not done:
        ruin_or_displace(k)
    k.S[S_CHANCE] = 0
    change = value(k) - before
    accept = change >= -1e-6 or (temperature > 0 and unit(k) < math.exp(change / temperature))
    for i in range(k.S[S_TOUCHED]):
        j = k.Z[Z_UNDO, i]
        k.J[J_TOUCHED, j] = 0
        if accept:
            if not k.J[J_DIRTY, j]:
                k.J[J_DIRTY, j] = 1
                k.Z[Z_DIRTY, k.S[S_DIRTY]] = j
                k.S[S_DIRTY] += 1
        else:
            take(k, j)
    if not accept:
        for i in range(k.S[S_TOUCHED]):
            bring(k, k.Z[Z_UNDO, i], k.S[S_WIDTH], k.J[J_SAVED, k.Z[Z_UNDO, i]])
        k.V[V_VALUE] = total
    elif value(k) > k.V[V_BEST] + 1e-6:
        keep_best(k)


@inlined
def keep_best(k: Any) -> None:
    k.V[V_BEST] = value(k)
    for i in range(k.S[S_DIRTY]):
        j = k.Z[Z_DIRTY, i]
        k.J[J_DIRTY, j] = 0
        k.J[J_BEST, j] = k.J[J_NOW, j]
        copy_portions(k, j, I0, 2 * k.S[S_WIDTH], k.J[J_NOW, j])
    k.S[S_DIRTY] = 0


@inner
def restore_best(k: Any) -> None:
    """The board as it was at the best value."""
    for i in range(k.S[S_DIRTY]):
        take(k, k.Z[Z_DIRTY, i])
    for i in range(k.S[S_DIRTY]):
        j = k.Z[Z_DIRTY, i]
        k.J[J_DIRTY, j] = 0
        bring(k, j, 2 * k.S[S_WIDTH], k.J[J_BEST, j])
    k.S[S_DIRTY] = 0
    k.V[V_VALUE] = k.V[V_BEST] + k.V[V_CHANGE] * k.S[S_CHANGES]


@inner
def dispatch(k: Any) -> None:
    """Each job in the order of rank at its earliest place."""
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[Z_RANK, r]
        if k.J[J_NOW, j] == 0:
            k.S[S_TOUCHED] = 0
            try_place(k, j, I0)
            k.J[J_TOUCHED, j] = 0
            if k.J[J_NOW, j] > 0 and not k.J[J_DIRTY, j]:
                k.J[J_DIRTY, j] = 1
                k.Z[Z_DIRTY, k.S[S_DIRTY]] = j
                k.S[S_DIRTY] += 1
    keep_best(k)


@inner
def mark_hopeless(k: Any) -> None:
    """On an empty board: jobs that fit nowhere are not tried again."""
    for r in range(k.S[S_MOVABLE]):
        j = k.Z[Z_RANK, r]
        if fit(k, j, YES, I0):
            free_all(k, j)
            k.J[J_NOW, j] = 0
        else:
            k.J[J_HOPELESS, j] = 1


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
