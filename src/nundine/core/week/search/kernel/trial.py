"""Trying a place for a job, remembering how jobs stood before, and bringing them back."""

from __future__ import annotations

from typing import Any

from nundine.core.week.compiling import inlined, inner
from nundine.core.week.search.kernel.areas import is_shut
from nundine.core.week.search.kernel.board import free_all, occupy, row_of, spread, worth
from nundine.core.week.search.kernel.fit import copy_portions, fit, overtime_may_help
from nundine.core.week.search.kernel.words import U0, count_in, part, words_of
from nundine.core.week.search.tables import (
    C_BUDGET,
    C_SPENT,
    F_BASE,
    F_VALUE,
    IS_RUNNING,
    J_AREA,
    J_ASSET,
    J_BLOCK,
    J_FIRST,
    J_FIXED,
    J_FIXED_LAST,
    J_LAST,
    J_LIFTED,
    J_NKEPT,
    J_NOW,
    J_OUT_FIRST,
    J_OUT_LAST,
    J_SAVED,
    J_SHARED,
    J_TOUCHED,
    P_CRAFT,
    S_AREAS,
    S_CHANGES,
    S_FOLLOWS,
    S_FREE,
    S_REGULAR,
    S_SHUT,
    S_TOOL_FREE,
    S_TOUCHED,
    S_WIDTH,
    T_NTOOLS,
    T_PEOPLE,
    T_TOOLS,
    T_TOUCHES,
    V_CHANGE,
    V_VALUE,
    Z_UNDO,
)


@inlined
def note(k: Any, j: int) -> None:
    """Remember how the job stood before this step, so that the step can be undone."""
    if k.J[J_TOUCHED, j]:
        return
    k.J[J_TOUCHED, j] = 1
    k.Z[Z_UNDO, k.S[S_TOUCHED]] = j
    k.S[S_TOUCHED] += 1
    k.J[J_SAVED, j] = k.J[J_NOW, j]
    copy_portions(k, j, 0, k.S[S_WIDTH], k.J[J_NOW, j])


@inlined
def count_value(k: Any, j: int) -> None:
    value = worth(k, j)
    k.V[V_VALUE] += value - k.F[F_VALUE, j]
    k.F[F_VALUE, j] = value
    spread(k, j)


@inner
def try_place(k: Any, j: int, not_before: int) -> bool:
    """Place the job if that is worth more than without; regular hours before overtime."""
    note(k, j)
    changes = k.S[S_CHANGES]
    for overtime in (False, True):
        if overtime and not overtime_may_help(k, j):
            return False
        if not fit(k, j, overtime, not_before):
            continue
        if worth(k, j) - k.V[V_CHANGE] * (k.S[S_CHANGES] - changes) > k.F[F_BASE, j]:
            count_value(k, j)
            return True
        free_all(k, j)
        k.J[J_NOW, j] = 0
    return False


@inner
def bring(k: Any, j: int, source: int, count: int) -> None:
    """Put the job back as it was copied."""
    copy_portions(k, j, source, 0, count)
    k.J[J_NOW, j] = count
    b = k.J[J_BLOCK, j]
    for x in range(b, b + k.J[J_NOW, j]):
        occupy(k, x)
    if k.J[J_NOW, j] > 0:
        count_value(k, j)


@inlined
def all_set(row: Any, first: int, last: int) -> bool:
    """Whether a row is set throughout the stretch first..last-1."""
    for w in words_of(first, last):
        if part(w, first, last) & ~row[w] != U0:
            return False
    return True


@inner
def lift(k: Any, j: int) -> None:
    """The job stands aside for a moment: what it takes is free, but where it stood and what it is worth
    stays known."""
    free_all(k, j)
    k.J[J_FIRST, j], k.J[J_LAST, j] = k.J[J_FIXED, j], k.J[J_FIXED_LAST, j]
    if k.J[J_SHARED, j] >= 0:
        k.J[J_LIFTED, j] = 1


@inner
def lower(k: Any, j: int) -> None:
    """A job that was lifted stands again where it stood."""
    b = k.J[J_BLOCK, j]
    for x in range(b, b + k.J[J_NOW, j]):
        occupy(k, x)
    k.J[J_LIFTED, j] = 0
    if k.J[J_ASSET, j] >= 0:
        spread(k, j)


@inner
def in_service(k: Any, j: int) -> bool:
    """Whether a job that was lifted and others now neither run an asset that is out of service nor keep
    out one that runs."""
    at, size, b = k.H[k.J[J_SHARED, j], 0], k.H[k.J[J_SHARED, j], 1], k.J[J_BLOCK, j]
    for i in range(size):
        o = k.L[at + i]
        if o == j:
            continue
        for x in range(b, b + k.J[J_NOW, j]):
            if (
                k.T[k.X[x, 0], T_TOUCHES] == IS_RUNNING
                and k.J[J_OUT_FIRST, o] >= 0
                and k.J[J_LIFTED, o] == 0
                and k.X[x, 1] < k.J[J_OUT_LAST, o]
                and k.J[J_OUT_FIRST, o] < k.X[x, 2]
            ):
                return False
        if k.J[J_OUT_FIRST, j] < 0:
            continue
        for n in range(k.J[J_NKEPT, o] + (0 if k.J[J_LIFTED, o] else k.J[J_NOW, o])):
            x = row_of(k, o, n)
            if (
                k.T[k.X[x, 0], T_TOUCHES] == IS_RUNNING
                and k.X[x, 1] < k.J[J_OUT_LAST, j]
                and k.J[J_OUT_FIRST, j] < k.X[x, 2]
            ):
                return False
    return True


@inlined
def uses(k: Any, t: int, tool: int) -> bool:
    """Whether a task needs a tool."""
    for i in range(k.T[t, T_NTOOLS]):
        if k.L[k.T[t, T_TOOLS] + i] == tool:
            return True
    return False


@inner
def one_more(k: Any, b: int, x: int, tool: int) -> bool:
    """Whether a tool is there once more throughout portion x, beside the portions b..x-1 of its job, which
    was lifted: at one moment several of its tasks may need the same kind of tool."""
    first, last = k.X[x, 1], k.X[x, 2]
    if not all_set(k.W[k.S[S_TOOL_FREE] + tool], first, last):
        return False
    for y in range(b, x):
        if k.X[y, 1] < last and first < k.X[y, 2] and uses(k, k.X[y, 0], tool):
            for s in range(max(first, k.X[y, 1]), min(last, k.X[y, 2])):
                used = k.U[tool, 1 + s]
                for z in range(b, x):
                    if k.X[z, 1] <= s < k.X[z, 2] and uses(k, k.X[z, 0], tool):
                        used += 1
                if used >= k.U[tool, 0]:
                    return False
    return True


@inner
def still_free(k: Any, j: int) -> bool:
    """Whether a job that was lifted fits back exactly where it stood: people, hours, tools, asset."""
    b = k.J[J_BLOCK, j]
    for c in range(len(k.C)):
        k.C[c, C_SPENT] = 0
    first_touch, last_touch, area = k.J[J_FIXED, j], k.J[J_FIXED_LAST, j], k.J[J_AREA, j]
    follows = area >= 0 and k.S[S_FOLLOWS]
    for x in range(b, b + k.J[J_NOW, j]):
        t, first, last = k.X[x, 0], k.X[x, 1], k.X[x, 2]
        for c in range(k.T[t, T_PEOPLE]):
            n = k.X[x, 3 + c]
            if not all_set(k.W[k.S[S_FREE] + n], first, last):
                return False
            if (
                follows
                and is_shut(k, n, area)
                and count_in(k.W[k.S[S_SHUT] + n * k.S[S_AREAS] + area], first, last) > 0
            ):
                return False
        for i in range(k.T[t, T_NTOOLS]):
            if not one_more(k, b, x, k.L[k.T[t, T_TOOLS] + i]):
                return False
        for c in range(k.T[t, T_PEOPLE]):
            n = k.X[x, 3 + c]
            k.C[k.P[n, P_CRAFT], C_SPENT] += count_in(k.W[k.S[S_REGULAR] + n], first, last)
        if k.T[t, T_TOUCHES]:
            first_touch = first if first_touch < 0 else min(first_touch, first)
            last_touch = max(last_touch, last)
    for c in range(len(k.C)):
        if k.C[c, C_SPENT] > 0 and k.C[c, C_SPENT] > k.C[c, C_BUDGET]:
            return False
    if k.J[J_SHARED, j] >= 0 and not in_service(k, j):
        return False
    asset = k.J[J_ASSET, j]
    if asset >= 0 and first_touch >= 0:
        for i in range(k.A[asset, 1]):
            o = k.L[k.A[asset, 0] + i]
            if (
                o != j
                and k.J[J_FIRST, o] >= 0
                and k.J[J_FIRST, o] < last_touch
                and first_touch < k.J[J_LAST, o]
            ):
                return False
    return True
