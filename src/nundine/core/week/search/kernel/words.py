"""Random numbers and sets of slots of the compiled search: rows of 64-bit words, as `dice.py` and `bits.py`
have them.

A number written where a function is called has a type of its own for numba, which then compiles that function
once more (it made six of the largest one); so such numbers have names of one type (`I0`, `YES`).

Words are uint64 and never mix with signed integers, which would make floats of them. What counts words is
uint64 as well: an index with a sign costs a look at it for each word.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from nundine.core.week.compiling import bits_set, inlined, inner, zeros_below

U0, U1, U63, U64, FULL = (
    np.uint64(0),
    np.uint64(1),
    np.uint64(63),
    np.uint64(64),
    np.uint64(0xFFFFFFFFFFFFFFFF),
)
I0, I1, I2, YES, NO = np.int64(0), np.int64(1), np.int64(2), np.bool_(True), np.bool_(False)


@inlined
def roll(k: Any) -> Any:
    k.dice[0] += np.uint64(0x9E3779B97F4A7C15)
    z = k.dice[0]
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return z ^ (z >> np.uint64(31))


@inlined
def unit(k: Any) -> float:
    return float(roll(k) >> np.uint64(11)) * (1.0 / 9007199254740992.0)


@inlined
def below(k: Any, n: int) -> Any:
    return np.int64(roll(k) % np.uint64(n))


@inlined
def part(word: Any, first: int, last: int) -> Any:
    """Bits of one word of the stretch first..last-1."""
    base = 64 * np.int64(word)
    if last <= base or first >= base + 64 or last <= first:
        return U0
    mask = FULL if last >= base + 64 else (U1 << np.uint64(last - base)) - U1
    return mask if first <= base else mask & ~((U1 << np.uint64(first - base)) - U1)


@inlined
def words_of(first: int, last: int) -> Any:
    """The words in which the stretch first..last-1 lies, from the first to behind the last."""
    return range(np.uint64(first >> 6), np.uint64(((last - 1) >> 6) + 1))


@inner
def run_starts(row: Any, length: int, lo: Any, hi: Any) -> None:
    """A row becomes the slots from which `length` bits are set, by doubling; only words lo..hi-1 may be
    set."""
    have = 1
    while have < length:
        step = min(have, length - have)
        jump, bits = np.uint64(step >> 6), np.uint64(step & 63)
        for w in range(lo, hi):
            a = row[w + jump] if w + jump < hi else U0
            if bits != U0:
                b = row[w + jump + U1] if w + jump + U1 < hi else U0
                a = (a >> bits) | (b << (U64 - bits))
            row[w] &= a
        have += step


@inner
def shifted_and(row: Any, by: int, into: Any, lo: Any, hi: Any) -> Any:
    """Words lo..hi-1 of another row become the slots s at which this one is set at s and at s + by (0 to
    63); gives whether any is (0: none)."""
    bits, some = np.uint64(by), U0
    inside = min(hi, np.uint64(len(row)) - U1)
    if bits == U0:
        for w in range(lo, hi):
            into[w] = row[w]
            some |= row[w]
        return some
    for w in range(lo, inside):
        m = row[w] & ((row[w] >> bits) | (row[w + U1] << (U64 - bits)))
        into[w] = m
        some |= m
    for w in range(inside, hi):
        into[w] = row[w] & (row[w] >> bits)
        some |= into[w]
    return some


@inlined
def first_bit(row: Any, lo: Any, hi: Any) -> int:
    for w in range(lo, hi):
        if row[w] != U0:
            return int(64 * np.int64(w) + np.int64(zeros_below(row[w])))
    return -1


@inlined
def has_bit(row: Any, s: int) -> bool:
    return (row[np.uint64(s >> 6)] >> np.uint64(s & 63)) & U1 != U0


@inner
def run_length(row: Any, start: int, slots: int) -> int:
    n = 0
    while start + n < slots and has_bit(row, start + n):
        n += 1
    return n


@inner
def count_in(row: Any, first: int, last: int) -> int:
    n: Any = 0
    for w in words_of(first, last):
        n += np.int64(bits_set(row[w] & part(w, first, last)))
    return n
