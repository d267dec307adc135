"""The moves of the compiled search: ruin and recreate, displacement, hastening, tidying."""

from __future__ import annotations

from typing import Any

from nundine.core.week.board.frequencies import (
    AFTER,
    AFTER_SHARE,
    ANY,
    BESIDE,
    BESIDE_SHARE,
    DISPLACE,
    FAR,
    LATER,
    OF_PEOPLE,
    WANT,
)
from nundine.core.week.compiling import inlined, inner
from nundine.core.week.search.kernel.areas import changes_at
from nundine.core.week.search.kernel.board import let_go, take
from nundine.core.week.search.kernel.choosing import (
    list_waiting,
    mark_people,
    nearest,
    next_in_order,
    of_marked,
    shake,
    shares,
    some_waiting,
    start_of,
)
from nundine.core.week.search.kernel.trial import bring, lift, lower, note, still_free, try_place
from nundine.core.week.search.kernel.words import I0, YES, below, unit
from nundine.core.week.search.tables import (
    F_KEY,
    F_LOOSE,
    F_ORDER,
    J_AREA,
    J_ASSET,
    J_BLOCK,
    J_CRAFTS,
    J_DUE,
    J_MARKS,
    J_NCRAFTS,
    J_NOW,
    J_SAVED,
    MARKS,
    S_MOVABLE,
    S_WEEK_END,
    S_WIDTH,
    S_ZERO,
    T_PEOPLE,
    V_CHANGE,
    Z_AGAIN,
    Z_POOL,
    Z_RANK,
    Z_WAITING,
)


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
