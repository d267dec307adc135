"""Stretches of hours in the relaxation of `packing.py`: those of people who are alike and those in which an
asset is open, and which seats fit in."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field

from nundine.core.week.board.bits import cover, first_bit, run_starts, runs, span
from nundine.core.week.board.board import Board
from nundine.core.week.bound.possible_starts import Laid
from nundine.core.week.problem import Need

NEITHER = 2
"""A stretch whose hours are not paid for: some are overtime and some are not, or they are an asset's."""


@dataclass
class SeatSold:
    """A seat of a task: a need, or the asset of one that takes one job at a time; where its prices begin, the
    starts of each option."""

    need: Need | str
    task: Laid
    prices: int
    options: list[int]


_Item = tuple[int, int, int, int, int]
"""The price, slots, first slot and end of the part of the stretch that it must lie in, slots of the least
portion (0: it may not be cut)."""


MOST_PARTS, COARSEST = 6, 8
"""Parts of a stretch up to which its slots are told apart; where there are more, parts begin and end with
every second, fourth or eighth slot."""


def nested(items: list[_Item], size: int) -> list[tuple[tuple[int, int], list[_Item], int]]:
    """The parts of a stretch, each before the one around it: its slots, the items that must lie in just it,
    the part around it (-1: none)."""
    exact = {one[2:4] for one in items}
    grid, of = 1, {part: part for part in exact}
    while len({*of.values(), (0, size)}) > MOST_PARTS and grid < COARSEST:
        grid *= 2
        of = {(low, high): (low - low % grid, min(size, high + -high % grid)) for low, high in exact}
    inside: dict[tuple[int, int], list[_Item]] = {(0, size): []}
    for part in of.values():
        inside.setdefault(part, [])
    for one in items:
        inside[of[one[2:4]]].append(one)
    parts = sorted(inside, key=lambda p: (p[1] - p[0], p))

    def around(n: int) -> int:
        low, high = parts[n]
        return next((m for m in range(n + 1, len(parts)) if parts[m][0] <= low and high <= parts[m][1]), -1)

    return [(part, inside[part], around(n)) for n, part in enumerate(parts)]


@dataclass
class Stretches:
    """Rows of stretches, of their parts, and of what fits into each, as `Priced` has them."""

    board: Board
    seats: list[SeatSold]
    runs: list[list[int]] = field(default_factory=list)
    nodes: list[list[int]] = field(default_factory=list)
    items: list[list[int]] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.wanted: dict[Need | str, list[SeatSold]] = defaultdict(list)
        for seat in self.seats:
            self.wanted[seat.need].append(seat)
        self.fits: dict[tuple[Need | str, int, int, int], list[_Item]] = {}

    def of_people(self) -> None:
        """People's hours; those of people who are alike once."""
        board = self.board
        crafts = {c.id: n for n, c in enumerate(board.problem.crafts)}
        able: dict[int, list[tuple[Need, int]]] = defaultdict(list)
        for need in self.wanted:
            if isinstance(need, Need):
                for n, mask in board.qualified(need):
                    able[n].append((need, mask))
        kinds: dict[tuple[tuple[tuple[Need, int], ...], int, int, int, int], int] = {}
        for n in range(len(board.people)):
            for first, last in runs(board.free[n]):
                part = span(first, last)
                regular = (board.regular[n] & part).bit_count()
                over = 0 if regular == last - first else 1 if regular == 0 else NEITHER
                kind = (
                    tuple((need, mask & part) for need, mask in able[n]),
                    first,
                    last,
                    crafts[board.main[n]],
                    over,
                )
                kinds[kind] = kinds.get(kind, 0) + 1
        for (needs, first, last, craft, over), times in kinds.items():
            self._add(
                [one for need, mask in needs for one in self._in(need, mask, first, last)],
                last - first,
                times,
                craft,
                over,
            )

    def of_asset(self, asset: str, opened: int) -> None:
        """The hours in which an asset that takes one job at a time is open."""
        for first, last in runs(opened):
            self._add(self._in(asset, opened, first, last), last - first, 1, 0, NEITHER)

    def _add(self, items: list[_Item], size: int, times: int, craft: int, over: int) -> None:
        if not items:
            return
        before = len(self.nodes)
        for (low, high), inside, around in nested(items, size):
            inside.sort(key=lambda one: one[4] > 0)
            splittable = sum(one[4] > 0 for one in inside)
            self.nodes.append(
                [
                    len(self.items),
                    len(inside) - splittable,
                    splittable,
                    high - low,
                    before + around if around >= 0 else -1,
                ]
            )
            self.items += [[price, slots, least] for price, slots, _, _, least in inside]
        self.runs.append([before, len(self.nodes) - before, size, times, craft, over])

    def _in(self, need: Need | str, mask: int, first: int, last: int) -> list[_Item]:
        at = (need, mask, first, last)
        if at not in self.fits:
            self.fits[at] = [one for seat in self.wanted[need] for one in _items(seat, mask, first, last)]
        return self.fits[at]


def _items(seat: SeatSold, mask: int, first: int, last: int) -> list[_Item]:
    """Options that a seat may be taken with in a stretch, the slots it takes, and between which slots of the
    stretch it must lie.

    A splittable task is counted by the slots that it uses, not by where it starts; a portion may lie on two
    days, each with less than the least.
    """
    x = seat.task
    starts = run_starts(x.allowed & span(first, last) & mask, x.least)
    if x.split:
        starts = cover(starts, x.least)
    found = []
    least = 0 if not x.split else x.least if sum(starts & option > 0 for option in seat.options) == 1 else 1
    for o, option in enumerate(seat.options):
        here = starts & option
        if here:
            low, high = (
                first_bit(here) - first,
                here.bit_length() - 1 + (0 if x.split else x.length - 1) - first + 1,
            )
            found.append(
                (
                    seat.prices + o,
                    min(x.length, here.bit_count() if x.split else last - first),
                    low,
                    high,
                    least,
                )
            )
    return found
