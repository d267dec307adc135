"""Windows of assets that contradict each other."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import TypeVar

Name = TypeVar("Name", str, int)
"""What assets are told apart by: their keys, or their row numbers."""


@dataclass(frozen=True)
class Window:
    """A stretch in which an asset may be touched (`work`) or must run (`run`); both ends carry a zone."""

    asset: str
    kind: str
    start: datetime
    end: datetime


def line_above(asset: Name, parent: Mapping[Name, Name | None]) -> list[Name]:
    """An asset and those that it is part of, nearest first; a circle ends where it closes."""
    line: list[Name] = []
    at: Name | None = asset
    while at is not None and at not in line:
        line.append(at)
        at = parent.get(at)
    return line


def contradict(one: Window, other: Window) -> bool:
    """Whether two windows of one line of assets can not both stand.

    A window holds for all that is part of its asset: what must run can not be free for work at the same time,
    wherever in the line that is said; and of one asset the same is not said twice.
    """
    apart = one.end <= other.start or other.end <= one.start
    return not apart and (one.kind != other.kind or one.asset == other.asset)


def contradictions(
    windows: Collection[Window], parent: Mapping[str, str | None]
) -> Iterator[tuple[Window, Window]]:
    """Each pair that contradicts itself, along the line of assets; `parent` says what an asset is part of."""
    of_asset: dict[str, list[Window]] = defaultdict(list)
    for w in sorted(windows, key=lambda w: w.start.timestamp()):
        of_asset[w.asset].append(w)
    for asset, own in of_asset.items():
        for above in line_above(asset, parent):
            others = of_asset.get(above, [])
            for n, one in enumerate(own):
                for other in others[n + 1 :] if above == asset else others:
                    if other.start >= one.end:
                        break
                    if contradict(one, other):
                        yield one, other
