"""The steps of prices of `packing.py`, compiled with numba: jobs choose days, stretches of hours choose
seats, prices follow."""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np

from nundine.core.week.bound.knapsack import room_for, stretch
from nundine.core.week.bound.price_tables import (
    FAR,
    G_DAY,
    G_LAST,
    G_PICKS,
    J_DIVISIBLE,
    J_NPATHS,
    J_PATHS,
    P_NTASKS,
    P_PARENT,
    P_TASKS,
    T_LENGTH,
    T_LIMIT,
    T_NOPTIONS,
    T_NSEATS,
    T_NTOGETHER,
    T_OPTIONS,
    T_SEATS,
    T_SPLIT,
    T_TOGETHER,
)  # fmt: skip
from nundine.core.week.compiling import inlined, inner, making_arrays


class Choice(NamedTuple):
    """Where jobs choose: what options cost, the cheapest way on from each task and day, and the tasks
    chosen together there."""

    cost: Any  # float64 (o,)
    filled: Any  # float64 (o,): slots of a splittable task
    # float64 (t, b): the task starts in b, beginning with what starts on the same day; all that comes after
    # included
    on: Any
    best: Any  # float64 (t, b + 1): the cheapest of these from day b on
    pick: Any  # int64 (t, b): the tasks that start together; of a splittable one the day it ends
    after: Any  # float64 (p, b): what waits for the last task of the path, if that starts in b
    # int64 (p,): when the last task of the path starts, a splittable one ends (-1: the path is not all there)
    day: Any
    order: Any  # int64 (b,): days of a splittable task, the cheapest first
    count: Any  # int64 (1,): how many of them


PATIENCE, SHORTER, MOMENTUM = 40, 0.85, 0.7


@inlined
def _cost_options(k: Any, prices: Any, limit_price: Any, t: int, gain: float, cost: Any) -> None:
    """What each option of a task costs, beside what the task brings by itself; of a splittable one, a slot
    of it."""
    first, split = k.tasks[t, T_OPTIONS], k.tasks[t, T_SPLIT]
    extra = (
        limit_price[k.tasks[t, T_LIMIT]] * k.tasks[t, T_LENGTH] if k.tasks[t, T_LIMIT] >= 0 else 0.0
    ) - gain
    for o in range(k.tasks[t, T_NOPTIONS]):
        cost[first + o] = 0.0 if split else extra + k.late[first + o]
        for i in range(k.tasks[t, T_SEATS], k.tasks[t, T_SEATS] + k.tasks[t, T_NSEATS]):
            cost[first + o] += k.people[i] * prices[k.at[i] + o]


@inlined
def _by_cost(k: Any, t: int, c: Any) -> None:
    """The days on which a splittable task has slots, the cheapest first, into `c.order`, and how many into
    `c.count`."""
    first, count = k.tasks[t, T_OPTIONS], 0
    for o in range(k.tasks[t, T_NOPTIONS]):
        if k.room[first + o] <= 0:
            continue
        at = count
        while at > 0 and c.cost[first + c.order[at - 1]] > c.cost[first + o]:
            c.order[at] = c.order[at - 1]
            at -= 1
        c.order[at] = o
        count += 1
    c.count[0] = count


@inlined
def _fill(k: Any, t: int, since: int, until: int, c: Any) -> float:
    """What the slots of a splittable task cost on the cheapest of the days since..until."""
    first, left, total = k.tasks[t, T_OPTIONS], float(k.tasks[t, T_LENGTH]), 0.0
    for o in range(k.tasks[t, T_NOPTIONS]):
        c.filled[first + o] = 0.0
    for i in range(c.count[0]):
        o = c.order[i]
        if left > 0 and since <= o <= until:
            c.filled[first + o] = min(left, k.room[first + o])
            total += c.filled[first + o] * c.cost[first + o]
            left -= c.filled[first + o]
    return total if left <= 1e-9 else FAR


@inlined
def _cost_split(k: Any, limit_price: Any, p: int, t: int, gain: float, c: Any) -> None:
    """A splittable task from each day on: the best day to end by."""
    days = k.days[0]
    _by_cost(k, t, c)
    extra = (
        limit_price[k.tasks[t, T_LIMIT]] * k.tasks[t, T_LENGTH] if k.tasks[t, T_LIMIT] >= 0 else 0.0
    ) - gain
    for b in range(days):
        c.on[t, b] = FAR
        for end in range(b, days):
            beyond = extra + k.late[k.tasks[t, T_OPTIONS] + end] + c.after[p, end]
            if k.room[k.tasks[t, T_OPTIONS] + end] > 0 and beyond < c.on[t, b]:
                total = _fill(k, t, b, end, c) + beyond
                if total < c.on[t, b]:
                    c.on[t, b], c.pick[t, b] = total, end


@inlined
def _cost_path(k: Any, prices: Any, limit_price: Any, p: int, divisible: int, c: Any) -> None:
    """The cheapest way for a path of tasks and all that waits for it, for each task and day on which it
    starts."""
    days = k.days[0]
    first, count = k.paths[p, P_TASKS], k.paths[p, P_NTASKS]
    for t in range(first + count - 1, first - 1, -1):
        gain = k.gain[t] if divisible else 0.0
        _cost_options(k, prices, limit_price, t, gain, c.cost)
        for b in range(days):
            c.on[t, b] = FAR
        if k.tasks[t, T_SPLIT]:
            _cost_split(k, limit_price, p, t, gain, c)
    for t in range(first + count - 1, first - 1, -1):
        for g in range(k.tasks[t, T_TOGETHER], k.tasks[t, T_TOGETHER] + k.tasks[t, T_NTOGETHER]):
            last, b, at = k.together[g, G_LAST], k.together[g, G_DAY], k.together[g, G_PICKS]
            total = c.after[p, b] if last == first + count - 1 else c.best[last + 1, b + 1]
            for m in range(last - t + 1):
                total += c.cost[k.picks[at + m]]
            if total < c.on[t, b]:
                c.on[t, b], c.pick[t, b] = total, g
        low = 0.0 if divisible else FAR
        c.best[t, days] = low
        for b in range(days - 1, -1, -1):
            low = min(low, c.on[t, b])
            c.best[t, b] = low


@inlined
def _choose_path(k: Any, p: int, since: int, divisible: int, c: Any, demand: Any, limit_use: Any) -> None:
    """The days that a path costs least with: its demand of seats."""
    days = k.days[0]
    first, count = k.paths[p, P_TASKS], k.paths[p, P_NTASKS]
    t, b = first, since
    while t < first + count:
        if b >= days:
            return
        for d in range(b + 1, days):
            if c.on[t, d] < c.on[t, b]:
                b = d
        if c.on[t, b] >= FAR / 2 or (divisible and c.on[t, b] >= 0.0):
            return
        last, at = t, -1
        if k.tasks[t, T_SPLIT]:
            _by_cost(k, t, c)
            _fill(k, t, b, c.pick[t, b], c)
            b = c.pick[t, b]
        else:
            last, at = k.together[c.pick[t, b], G_LAST], k.together[c.pick[t, b], G_PICKS]
        for m in range(t, last + 1):
            if k.tasks[m, T_LIMIT] >= 0:
                limit_use[k.tasks[m, T_LIMIT]] += k.tasks[m, T_LENGTH]
            o = k.picks[at + m - t] - k.tasks[m, T_OPTIONS] if at >= 0 else 0
            for i in range(k.tasks[m, T_SEATS], k.tasks[m, T_SEATS] + k.tasks[m, T_NSEATS]):
                if at >= 0:
                    demand[k.at[i] + o] += k.people[i]
                    continue
                for o2 in range(k.tasks[m, T_NOPTIONS]):
                    demand[k.at[i] + o2] += k.people[i] * c.filled[k.tasks[m, T_OPTIONS] + o2]
        c.day[p] = b
        t, b = last + 1, b + 1


@inner
def _jobs(k: Any, prices: Any, limit_price: Any, c: Any, demand: Any, limit_use: Any) -> float:
    """What jobs gain beyond prices; their demand of seats by option."""
    days = k.days[0]
    total = 0.0
    for j in range(len(k.jobs)):
        first, count, divisible = k.jobs[j, J_PATHS], k.jobs[j, J_NPATHS], k.jobs[j, J_DIVISIBLE]
        gain = 0.0 if divisible else k.value[j]
        for p in range(first, first + count):
            for b in range(days):
                c.after[p, b] = 0.0
        for p in range(first + count - 1, first - 1, -1):
            _cost_path(k, prices, limit_price, p, divisible, c)
            best, parent = c.best[k.paths[p, P_TASKS]], k.paths[p, P_PARENT]
            if parent < 0:
                gain -= best[0]
                continue
            for b in range(days):
                c.after[parent, b] += best[k.then[p, b]]
        if gain <= 0 or gain > FAR / 4 or (not divisible and gain < 1e-12):
            continue
        total += gain
        for p in range(first, first + count):
            parent, since = k.paths[p, P_PARENT], 0
            c.day[p] = -1
            if parent >= 0:
                if c.day[parent] < 0:
                    continue
                since = k.then[p, c.day[parent]]
            _choose_path(k, p, since, divisible, c, demand, limit_use)
    return total


@inner
def _move(prices: Any, excess: Any, unit: Any, moves: Any, length: float) -> bool:
    """Prices of what is oversold rise, of what is undersold fall, none below nothing; False where all are
    in balance."""
    norm = 0.0
    for i in range(len(prices)):
        push = 0.0 if prices[i] <= 0 and excess[i] < 0 else unit[i] * excess[i]
        moves[i] = push + MOMENTUM * moves[i]
        norm += moves[i] * moves[i]
    if norm <= 0:
        return False
    for i in range(len(prices)):
        prices[i] = max(0.0, prices[i] + length / norm * unit[i] * moves[i])
    return True


@making_arrays
def descend(k: Any, prices: Any, moves: Any, state: Any, steps: int, known: float) -> float:
    """Move the prices some steps; gives the least sum seen.

    `prices` holds those of seats by option, of crafts and of limits, one after another, and `k.unit` by how
    much each moves; `state` is the step length, steps without a better sum, and the least sum.
    """
    tasks, options, paths, days = len(k.tasks), len(k.late), len(k.paths), k.days[0]
    crafts = len(prices) - len(k.limit)
    sold_end = crafts - len(k.budget)
    excess = np.zeros(len(prices))
    craft_price, limit_price = prices[sold_end:crafts], prices[crafts:]
    demand, craft_use, limit_use = excess[:sold_end], excess[sold_end:crafts], excess[crafts:]
    choice = Choice(
        np.zeros(options), np.zeros(options), np.zeros((tasks, days)), np.zeros((tasks, days + 1)),
        np.zeros((tasks, days), dtype=np.int64),
        np.zeros((paths, days)), np.zeros(paths, dtype=np.int64), np.zeros(days, dtype=np.int64),
        np.zeros(1, dtype=np.int64),
    )  # fmt: skip
    supply = np.zeros(sold_end)
    room = room_for(k)
    for _ in range(steps):
        excess[:] = 0.0
        supply[:] = 0.0
        total = _jobs(k, prices, limit_price, choice, demand, limit_use)
        for r in range(len(k.runs)):
            total += stretch(k, r, prices, craft_price, room, supply, craft_use)
        demand -= supply
        for c in range(len(craft_price)):
            total += craft_price[c] * k.budget[c]
            craft_use[c] -= k.budget[c]
        for a in range(len(limit_price)):
            total += limit_price[a] * k.limit[a]
            limit_use[a] -= k.limit[a]
        if total < state[2] - 1e-9 * abs(state[2]) or state[2] == math.inf:
            state[2] = total
            state[1] = 0.0
        else:
            state[1] += 1.0
            if state[1] >= PATIENCE:
                state[0] *= SHORTER
                state[1] = 0.0
        if not _move(
            prices, excess, k.unit, moves, state[0] * max(total - max(known, 0.0), 1e-3 * abs(total))
        ):
            break
    return float(state[2])
