"""The steps of prices of `packing.py`, compiled with numba: jobs choose days, stretches of hours choose seats, prices follow."""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np

from nundine.core.week.build.compiling import inlined, inner, making_arrays
from nundine.core.week.build.packing import (
    FAR,
    N_COUNT,
    N_FIRST,
    N_PARENT,
    N_SIZE,
    N_SPLIT,
    R_COUNT,
    R_CRAFT,
    R_FIRST,
    R_OVERTIME,
    R_SIZE,
    R_TIMES,
    T_COUNT,
    T_FIRST,
    T_LENGTH,
    T_LIMIT,
    T_PARENT,
    T_SPLIT,
)  # fmt: skip


class Room(NamedTuple):
    """Where a stretch is worked out: for each of its parts the best points by slots, which pieces were taken, what parts inside get."""

    table: Any  # float64 (part, slots)
    took: Any  # int8 (piece, slots)
    piece: Any  # int64 (piece, 2): item, slots
    pieces: Any  # int64 (part, 2): first piece, end
    share: Any  # int64 (part, slots)
    left: Any  # int64 (part,)
    dearest: Any  # float64 (slots, pieces): of a part, the gains of the dearest items of each length, falling
    whose: Any  # int64 (slots, pieces): which items they are
    many: Any  # int64 (slots,): how many there are
    least: Any  # float64 (slots,): what a gain has to be above to be among them
    spare: Any  # float64 (slots,)


PATIENCE, SHORTER, MOMENTUM = 40, 0.85, 0.7


@inlined
def _task_costs(k: Any, prices: Any, limit_price: Any, t: int, cost: Any, filled: Any) -> None:
    """What the seats of a task cost for each day of its start; of a splittable one, its slots at the cheapest days."""
    days = prices.shape[1]
    first, count, length = k.tasks[t, T_FIRST], k.tasks[t, T_COUNT], k.tasks[t, T_LENGTH]
    extra = limit_price[k.tasks[t, T_LIMIT]] * length if k.tasks[t, T_LIMIT] >= 0 else 0.0
    for b in range(days):
        cost[t, b] = FAR
        if k.room[t, b] > 0:
            cost[t, b] = 0.0
            for i in range(first, first + count):
                cost[t, b] += k.people[i] * prices[i, b]
    if not k.tasks[t, T_SPLIT]:
        for b in range(days):
            cost[t, b] += extra + k.late[t, b]
        return
    left, total = float(length), extra
    for b in range(days):
        filled[t, b] = 0.0
    while left > 1e-9:
        best = -1
        for b in range(days):
            if filled[t, b] == 0.0 and cost[t, b] < FAR and (best < 0 or cost[t, b] < cost[t, best]):
                best = b
        if best < 0:
            total = FAR
            break
        filled[t, best] = min(left, k.room[t, best])
        total += filled[t, best] * cost[t, best]
        left -= filled[t, best]
    for b in range(days):
        cost[t, b] = total


@inner
def _jobs(k: Any, prices: Any, limit_price: Any, cost: Any, best: Any, filled: Any, chosen: Any, demand: Any, limit_use: Any) -> float:
    """What jobs gain beyond prices; their demand of seats by day."""
    days = prices.shape[1]
    total = 0.0
    for j in range(len(k.jobs)):
        first, count, divisible = k.jobs[j, 0], k.jobs[j, 1], k.jobs[j, 2]
        for t in range(first, first + count):
            _task_costs(k, prices, limit_price, t, cost, filled)
            if divisible:
                for b in range(days):
                    cost[t, b] -= k.gain[t]
        # best[t, b]: cheapest from day b on for the task and all below it; cost becomes "the task starts on b, with all below".
        for t in range(first + count - 1, first - 1, -1):
            low = FAR
            for b in range(days - 1, -1, -1):
                low = min(low, cost[t, b])
                best[t, b] = min(low, 0.0) if divisible else low
            parent = k.tasks[t, T_PARENT]
            if parent >= 0:
                free = k.tasks[t, T_SPLIT] == 1 or k.tasks[parent, T_SPLIT] == 1
                for b in range(days):
                    if cost[parent, b] < FAR:
                        if free:
                            cost[parent, b] += best[t, 0]
                        elif k.then[t, b] < days:
                            cost[parent, b] += best[t, k.then[t, b]]
                        elif not divisible:
                            cost[parent, b] += FAR
        gain = 0.0 if divisible else k.value[j]
        for t in range(first, first + count):
            if k.tasks[t, T_PARENT] < 0:
                gain -= best[t, 0]
        if gain <= 0 or gain > FAR / 4 or (not divisible and gain < 1e-12):
            continue
        total += gain
        for t in range(first, first + count):
            parent = k.tasks[t, T_PARENT]
            chosen[t] = -1
            since = 0
            if parent >= 0:
                if chosen[parent] < 0:
                    continue
                since = 0 if k.tasks[t, T_SPLIT] == 1 or k.tasks[parent, T_SPLIT] == 1 else k.then[t, chosen[parent]]
            if divisible and (since >= days or best[t, since] >= 0.0):
                continue
            at = since
            for b in range(since, days):
                if cost[t, b] < cost[t, at]:
                    at = b
            if cost[t, at] >= FAR / 2:
                continue
            chosen[t] = at
            if k.tasks[t, T_LIMIT] >= 0:
                limit_use[k.tasks[t, T_LIMIT]] += k.tasks[t, T_LENGTH]
            for i in range(k.tasks[t, T_FIRST], k.tasks[t, T_FIRST] + k.tasks[t, T_COUNT]):
                if k.tasks[t, T_SPLIT]:
                    for b in range(days):
                        demand[i, b] += k.people[i] * filled[t, b]
                else:
                    demand[i, at] += k.people[i]
    return total


@inner
def _stretch(k: Any, r: int, prices: Any, craft_price: Any, room: Any, supply: Any, craft_use: Any) -> float:
    """The dearest set of seats that fits into a stretch of hours (0/1 knapsack; a splittable task in pieces of any size).

    Its parts are filled from the narrowest to the whole: what a part holds is shared out between its own items and the parts inside.
    """
    table, took, piece, pieces, share, left = room.table, room.took, room.piece, room.pieces, room.share, room.left
    first, count, size, times = k.runs[r, R_FIRST], k.runs[r, R_COUNT], k.runs[r, R_SIZE], k.runs[r, R_TIMES]
    per_slot = 0.0
    if k.runs[r, R_OVERTIME] == 0:
        per_slot = craft_price[k.runs[r, R_CRAFT]]
    elif k.runs[r, R_OVERTIME] == 1:
        per_slot = k.price_over[0]
    put = 0
    for n in range(count):
        cap, own = k.nodes[first + n, N_SIZE], table[n]
        for c in range(np.uint64(cap + 1)):
            own[c] = 0.0
        pieces[n, 0] = put
        put = _own(k, first + n, prices, per_slot, cap, own, room, put)
        pieces[n, 1] = put
        for m in range(n):
            if k.nodes[first + m, N_PARENT] == first + n and table[m, k.nodes[first + m, N_SIZE]] > 0:
                _share(own, cap, table[m], k.nodes[first + m, N_SIZE], share[m])
    total = table[count - 1, size]
    for n in range(count):
        left[n] = 0
    left[count - 1] = size
    for n in range(count - 1, -1, -1):
        c = left[n]
        for m in range(n - 1, -1, -1):
            if k.nodes[first + m, N_PARENT] == first + n and table[m, k.nodes[first + m, N_SIZE]] > 0:
                left[m] = share[m, c]
                c -= share[m, c]
        for x in range(pieces[n, 1] - 1, pieces[n, 0] - 1, -1):
            if took[x, c]:
                i, slots = piece[x, 0], piece[x, 1]
                supply[k.items[i, 0]] += times * (slots if i >= k.nodes[first + n, N_FIRST] + k.nodes[first + n, N_COUNT] else 1.0)
                if k.runs[r, R_OVERTIME] == 0:
                    craft_use[k.runs[r, R_CRAFT]] += times * slots
                c -= slots
    return total * times


@inlined
def _own(k: Any, n: int, prices: Any, per_slot: float, cap: int, table: Any, room: Any, put: int) -> int:
    """Fill the table of a part with its own items; gives the number of pieces used so far.

    Of whole items only the dearest of each length are tried, as many as the part can hold.
    """
    took, piece, dearest, whose, many, least = room.took, room.piece, room.dearest, room.whose, room.many, room.least
    first, end = k.nodes[n, N_FIRST], k.nodes[n, N_FIRST] + k.nodes[n, N_COUNT]
    for slots in range(cap + 1):
        many[slots], least[slots] = 0, 0.0
    for i in range(np.uint64(first), np.uint64(end)):
        length = np.uint64(k.items[i, 1])
        gain = prices[np.uint64(k.items[i, 0])] - per_slot * k.items[i, 1]
        if gain <= least[length]:
            continue
        at = many[length]
        if (at + 1) * np.int64(length) > cap:
            at -= 1
        else:
            many[length] = at + 1
        while at > 0 and dearest[length, at - 1] < gain:
            dearest[length, at], whose[length, at] = dearest[length, at - 1], whose[length, at - 1]
            at -= 1
        dearest[length, at], whose[length, at] = gain, i
        if (many[length] + 1) * np.int64(length) > cap:
            least[length] = dearest[length, many[length] - 1]
    for i in range(end, end + k.nodes[n, N_SPLIT]):
        gain, cut = prices[k.items[i, 0]] - per_slot, 1
        left: Any = np.int64(k.items[i, 1])
        while gain > 0 and left > 0:
            part = min(cut, left)
            _pack(table, took[put], part, gain * part, cap, room.spare)
            piece[put, 0], piece[put, 1] = i, part
            put += 1
            left -= part
            cut *= 2
    for slots in range(1, cap + 1):
        for x in range(many[slots]):
            _pack(table, took[put], slots, dearest[slots, x], cap, room.spare)
            piece[put, 0], piece[put, 1] = whose[slots, x], slots
            put += 1
    return put


@inner
def _share(table: Any, cap: int, inner_table: Any, inner_cap: int, share: Any) -> None:
    """Slots of a part are shared with one inside it: at most so many, in the best way for each number of slots."""
    for c in range(cap, -1, -1):
        here: Any = np.uint64(c)
        taken: Any = np.uint64(0)
        best = table[here]
        for d in range(np.uint64(1), np.uint64(min(inner_cap, c)) + np.uint64(1)):
            if table[here - d] + inner_table[d] > best:
                best, taken = table[here - d] + inner_table[d], d
        share[here] = taken
        table[here] = best


@inner
def _pack(table: Any, took: Any, slots: int, gain: float, size: int, spare: Any) -> None:
    """One piece more: for each number of slots, whether it is better to take it."""
    length: Any = np.uint64(slots)
    end = np.uint64(size + 1)
    for c in range(length):
        took[c] = 0
    for c in range(length, end):
        spare[c] = table[c - length] + gain
    for c in range(length, end):
        took[c] = spare[c] > table[c]
        table[c] = max(table[c], spare[c])


@inner
def _move(prices: Any, excess: Any, unit: Any, moves: Any, length: float) -> bool:
    """Prices of what is oversold rise, of what is undersold fall, none below nothing; False where all are in balance."""
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

    `prices` holds those of seats by day, of crafts and of limits, one after another, and `k.unit` by how much each moves;
    `state` is the step length, steps without a better sum, and the least sum.
    """
    tasks, seats, days = len(k.tasks), len(k.people), k.room.shape[1]
    crafts = seats * days + len(k.budget)
    excess = np.zeros(len(prices))
    seat_price, craft_price, limit_price = prices[: seats * days].reshape(seats, days), prices[seats * days : crafts], prices[crafts:]
    demand, craft_use, limit_use = excess[: seats * days].reshape(seats, days), excess[seats * days : crafts], excess[crafts:]
    cost, best, filled = np.zeros((tasks, days)), np.zeros((tasks, days)), np.zeros((tasks, days))
    chosen = np.zeros(tasks, dtype=np.int64)
    supply = np.zeros((seats, days))
    sold = supply.reshape(seats * days)
    widest, most, parts = 1, 1, 1
    for r in range(len(k.runs)):
        widest, parts = max(widest, k.runs[r, R_SIZE]), max(parts, k.runs[r, R_COUNT])
        count = 0
        for n in range(k.runs[r, R_FIRST], k.runs[r, R_FIRST] + k.runs[r, R_COUNT]):
            count += k.nodes[n, N_COUNT] + 10 * k.nodes[n, N_SPLIT]
        most = max(most, count)
    room = Room(
        np.zeros((parts, widest + 1)), np.zeros((most, widest + 1), dtype=np.int8), np.zeros((most, 2), dtype=np.int64),
        np.zeros((parts, 2), dtype=np.int64), np.zeros((parts, widest + 1), dtype=np.int64), np.zeros(parts, dtype=np.int64),
        np.zeros((widest + 1, widest)), np.zeros((widest + 1, widest), dtype=np.int64), np.zeros(widest + 1, dtype=np.int64), np.zeros(widest + 1), np.zeros(widest + 1),
    )  # fmt: skip
    for _ in range(steps):
        excess[:] = 0.0
        supply[:] = 0.0
        total = _jobs(k, seat_price, limit_price, cost, best, filled, chosen, demand, limit_use)
        for r in range(len(k.runs)):
            total += _stretch(k, r, prices, craft_price, room, sold, craft_use)
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
        if not _move(prices, excess, k.unit, moves, state[0] * max(total - max(known, 0.0), 1e-3 * abs(total))):
            break
    return float(state[2])
