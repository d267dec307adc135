"""What a stretch of hours could earn, compiled with numba: the dearest set of seats that fits in, part by
part."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np

from nundine.core.week.bound.price_tables import (
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
)  # fmt: skip
from nundine.core.week.compiling import inlined, inner, making_arrays_inside


class Room(NamedTuple):
    """Where a stretch is worked out: for each of its parts the best points by slots, which pieces were
    taken, what parts inside get."""

    table: Any  # float64 (part, slots)
    took: Any  # int16 (piece, slots): slots of the item taken
    piece: Any  # int64 (piece,): which item
    pieces: Any  # int64 (part, 2): first piece, end
    share: Any  # int64 (part, slots)
    left: Any  # int64 (part,)
    dearest: Any  # float64 (slots, pieces): of a part, the gains of the dearest items of each length, falling
    whose: Any  # int64 (slots, pieces): which items they are
    many: Any  # int64 (slots,): how many there are
    least: Any  # float64 (slots,): what a gain has to be above to be among them
    spare: Any  # float64 (slots,)
    queue: Any  # int64 (slots,)
    cut: Any  # int64 (pieces,): splittable items that are tried, the dearest first


@making_arrays_inside
def room_for(k: Any) -> Any:
    """Room for the widest stretch and for as many pieces as any has."""
    widest, most, parts = 1, 1, 1
    for r in range(len(k.runs)):
        widest, parts = max(widest, k.runs[r, R_SIZE]), max(parts, k.runs[r, R_COUNT])
        count = 0
        for n in range(k.runs[r, R_FIRST], k.runs[r, R_FIRST] + k.runs[r, R_COUNT]):
            count += k.nodes[n, N_COUNT] + k.nodes[n, N_SPLIT]
        most = max(most, count)
    return Room(
        np.zeros((parts, widest + 1)), np.zeros((most, widest + 1), dtype=np.int16),
        np.zeros(most, dtype=np.int64),
        np.zeros((parts, 2), dtype=np.int64), np.zeros((parts, widest + 1), dtype=np.int64),
        np.zeros(parts, dtype=np.int64),
        np.zeros((widest + 1, widest)), np.zeros((widest + 1, widest), dtype=np.int64),
        np.zeros(widest + 1, dtype=np.int64), np.zeros(widest + 1), np.zeros(widest + 1),
        np.zeros(widest + 1, dtype=np.int64), np.zeros(most, dtype=np.int64),
    )  # fmt: skip


@inner
def stretch(k: Any, r: int, prices: Any, craft_price: Any, room: Any, supply: Any, craft_use: Any) -> float:
    """The dearest set of seats that fits into a stretch of hours (0/1 knapsack; of a splittable task nothing,
    or from the least portion on).

    Its parts are filled from the narrowest to the whole: what a part holds is shared out between its own
    items and the parts inside.
    """
    table, took, piece, pieces, share, left = (
        room.table,
        room.took,
        room.piece,
        room.pieces,
        room.share,
        room.left,
    )
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
            slots = np.int64(took[x, c])
            if slots > 0:
                i = piece[x]
                supply[k.items[i, 0]] += times * (
                    slots if i >= k.nodes[first + n, N_FIRST] + k.nodes[first + n, N_COUNT] else 1.0
                )
                if k.runs[r, R_OVERTIME] == 0:
                    craft_use[k.runs[r, R_CRAFT]] += times * slots
                c -= slots
    return total * times


@inlined
def _own(k: Any, n: int, prices: Any, per_slot: float, cap: int, table: Any, room: Any, put: int) -> int:
    """Fill the table of a part with its own items; gives the number of pieces used so far.

    Of whole items only the dearest of each length are tried, as many as the part can hold.
    """
    took, piece, dearest, whose, many, least = (
        room.took,
        room.piece,
        room.dearest,
        room.whose,
        room.many,
        room.least,
    )
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
    count = _worth_cutting(k, end, k.nodes[n, N_SPLIT], prices, per_slot, cap, room)
    for x in range(count):
        i = room.cut[x]
        _cut(
            table,
            took[put],
            k.items[i, 2],
            k.items[i, 1],
            prices[k.items[i, 0]] - per_slot,
            cap,
            room.spare,
            room.queue,
        )
        piece[put] = i
        put += 1
    for slots in range(1, cap + 1):
        for x in range(many[slots]):
            _pack(table, took[put], slots, dearest[slots, x], cap, room.spare)
            piece[put] = whose[slots, x]
            put += 1
    return put


@inlined
def _worth_cutting(k: Any, first: int, count: int, prices: Any, per_slot: float, cap: int, room: Any) -> int:
    """Splittable items of a part that may be among the dearest, into `room.cut`; gives how many.

    A part holds no more of them than its slots by the least portion, so one that as many others beat in gain,
    length and least portion is not needed.
    """
    least: Any = cap
    for i in range(first, first + count):
        least = min(least, np.int64(k.items[i, 2]))
    holds, found = cap // max(1, least), 0
    for i in range(first, first + count):
        gain = prices[k.items[i, 0]] - per_slot
        if gain <= 0:
            continue
        beaten = 0
        for x in range(found):
            o = room.cut[x]
            if (
                prices[k.items[o, 0]] - per_slot >= gain
                and min(k.items[o, 1], cap) >= min(k.items[i, 1], cap)
                and k.items[o, 2] <= k.items[i, 2]
            ):
                beaten += 1
        if beaten >= holds:
            continue
        at = found
        while at > 0 and prices[k.items[room.cut[at - 1], 0]] - per_slot < gain:
            room.cut[at] = room.cut[at - 1]
            at -= 1
        room.cut[at] = i
        found += 1
    kept = 0
    for x in range(found):
        i, beaten = room.cut[x], 0
        for y in range(kept):
            o = room.cut[y]
            if min(k.items[o, 1], cap) >= min(k.items[i, 1], cap) and k.items[o, 2] <= k.items[i, 2]:
                beaten += 1
        if beaten < holds:
            room.cut[kept] = i
            kept += 1
    return kept


@inner
def _share(table: Any, cap: int, inner_table: Any, inner_cap: int, share: Any) -> None:
    """Slots of a part are shared with one inside it: at most so many, in the best way for each number of
    slots."""
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
        took[c] = slots if spare[c] > table[c] else 0
        table[c] = max(table[c], spare[c])


@inner
def _cut(
    table: Any, took: Any, least: int, most: int, gain: float, size: int, spare: Any, queue: Any
) -> None:
    """A splittable task more: nothing of it, or between the least and the most slots (the greatest of a
    sliding window)."""
    head, tail = 0, 0
    for c in range(size + 1):
        spare[c] = table[c] - gain * c
    for c in range(size + 1):
        took[c] = 0
        if c < least:
            continue
        while tail > head and spare[queue[tail - 1]] <= spare[c - least]:
            tail -= 1
        queue[tail] = c - least
        tail += 1
        while queue[head] < c - most:
            head += 1
        best = spare[queue[head]] + gain * c
        if best > table[c] + 1e-12:
            table[c], took[c] = best, c - queue[head]
