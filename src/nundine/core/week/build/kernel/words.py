"""Random numbers and sets of slots of the compiled search: rows of 64-bit words, as `dice.py` and `bits.py` have them.

Words are uint64 and never mix with signed integers, which would make floats of them.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from nundine.core.week.build.compiling import inner

U0, U1, U63, U64, FULL = np.uint64(0), np.uint64(1), np.uint64(63), np.uint64(64), np.uint64(0xFFFFFFFFFFFFFFFF)


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
def longest_run(rows: Any, r: int, besides: int) -> tuple[int, int]:
    """The most bits of row r that are set one after another; the same of runs that are not all set in row `besides`."""
    longest, longest_out, run, out = 0, 0, 0, False
    for w in range(rows.shape[1]):
        word, outside, at = rows[r, w], rows[r, w] & ~rows[besides, w], 0
        while at < 64:
            left = word >> np.uint64(at)
            if left & U1 == U0:
                run, out = 0, False
                if left == U0:
                    break
                at += trailing(left)
            else:
                ahead = 64 - at if left == FULL >> np.uint64(at) else trailing(~left)
                out = out or outside & part(0, at, at + ahead) != U0
                run += ahead
                at += ahead
                longest = max(longest, run)
                if out:
                    longest_out = max(longest_out, run)
    return longest, longest_out


@inner
def count_in(rows: Any, r: int, first: int, last: int) -> int:
    n = 0
    for w in range(first >> 6, ((last - 1) >> 6) + 1):
        n += ones(rows[r, w] & part(w, first, last))
    return n
