"""Calendars as bitsets: one integer, a bit a slot."""

from __future__ import annotations

from collections.abc import Iterable


def span(first: int, last: int) -> int:
    """Bits first..last-1; what lies before slot 0 is dropped."""
    first = max(first, 0)
    return ((1 << (last - first)) - 1) << first if last > first else 0


def union(masks: Iterable[int]) -> int:
    out = 0
    for m in masks:
        out |= m
    return out


def run_starts(mask: int, length: int) -> int:
    """Slots from which `length` consecutive bits are set, by log2(length) shift-ANDs."""
    have = 1
    while have < length and mask:
        step = min(have, length - have)
        mask &= mask >> step
        have += step
    return mask


def cover(starts: int, length: int) -> int:
    """All slots of runs of `length` that begin at the starts."""
    mask, have = starts, 1
    while have < length:
        step = min(have, length - have)
        mask |= mask << step
        have += step
    return mask


def first_bit(mask: int) -> int:
    """The lowest set bit; -1 for none."""
    return (mask & -mask).bit_length() - 1


def run_length(mask: int, start: int) -> int:
    """How many consecutive bits are set from `start` on."""
    shifted = mask >> start
    return first_bit(~shifted)


def runs(mask: int) -> list[tuple[int, int]]:
    """Stretches (first, last + 1) of set bits."""
    out = []
    at = 0
    while mask:
        skip = first_bit(mask)
        mask >>= skip
        length = first_bit(~mask)
        out.append((at + skip, at + skip + length))
        mask >>= length
        at += skip + length
    return out
