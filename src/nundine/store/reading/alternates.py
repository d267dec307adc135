"""Which parts do instead of which."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection
from typing import Any

from nundine.store.part import Part


def all_alternates() -> dict[str, tuple[str, ...]]:
    """By part those that do instead of it: first those that it names, in its order, then those that name it
    as one for which they do both ways."""
    named: Any = Part.select(Part.key, Part.alternates).where(Part.alternates.cast("char") != "[]")
    out: dict[str, list[str]] = defaultdict(list)
    both: list[tuple[str, str]] = []
    for key, its in named.order_by(Part.key).tuples():
        out[key] += [other for other, _ in its]
        both += [(other, key) for other, ways in its if ways]
    for key, other in both:
        if other not in out[key]:
            out[key].append(other)
    return {key: tuple(others) for key, others in out.items()}


def with_alternates(parts: Collection[str], alternates: dict[str, tuple[str, ...]]) -> set[str]:
    """These, and all that hang together with them by doing instead of one another, however many steps away:
    who gets what of one of them is decided over all."""
    beside: dict[str, set[str]] = defaultdict(set)
    for key, others in alternates.items():
        for other in others:
            beside[key].add(other)
            beside[other].add(key)
    out, open_ends = set(parts), list(parts)
    while open_ends:
        fresh = beside[open_ends.pop()] - out
        out |= fresh
        open_ends += fresh
    return out
