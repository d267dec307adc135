"""What jobs got of parts, counted to what their tasks need; what does instead of a part counts too."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from nundine.core.parts.stock import DIGITS


@dataclass(frozen=True)
class Wanted:
    """How much of a part a task of a job needs."""

    job: int
    part: str
    quantity: float


def counted(
    wanted: Sequence[Wanted], got: Mapping[tuple[int, str], float], alternates: Mapping[str, Sequence[str]]
) -> list[dict[str, float]]:
    """By need how much of which part counts to it, at most its quantity in all.

    Each part is counted first to needs of itself, in their order; of what is left then, needs take what does
    instead, in the order in which `alternates` (by part) names it. `got` is by job and part.
    """
    left = dict(got)
    out: list[dict[str, float]] = [{} for _ in wanted]

    def take(n: int, part: str) -> None:
        need = wanted[n]
        lacks = round(need.quantity - sum(out[n].values()), DIGITS)
        there = left.get((need.job, part), 0.0)
        some = min(lacks, there)
        if some > 0:
            out[n][part] = some
            left[(need.job, part)] = round(there - some, DIGITS)

    for n, need in enumerate(wanted):
        take(n, need.part)
    for n, need in enumerate(wanted):
        for other in alternates.get(need.part, ()):
            take(n, other)
    return out
