"""Who takes the seats of a portion: one person each, the best liked first."""

from __future__ import annotations

from dataclasses import dataclass

from nundine.core.week.board.bits import first_bit, run_length, span
from nundine.core.week.board.board import Board
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.board.frequencies import AROUND
from nundine.core.week.board.heads import match
from nundine.core.week.problem import Need


@dataclass(frozen=True)
class Wish:
    """People of the portion before, the area of the job, and how many tasks to come each person could work
    on."""

    before: frozenset[int]
    area: str | None
    later: dict[int, int]


class Seating:
    """Seats of portions on one board."""

    def __init__(self, board: Board) -> None:
        self.board = board

    def seats(
        self,
        needs: tuple[Need, ...],
        runs_of: list[list[tuple[int, int]]],
        s: int,
        length: int,
        freedom: Freedom,
        spent: dict[str, int],
        snug_beside: dict[int, int] | None = None,
        wish: Wish | None = None,
    ) -> tuple[int | None, ...] | None:
        """A person for each seat at start `s`: main craft first, the least able first; augmenting paths (Kuhn
        1955).

        Given the slots that the job's other portions take of people, first whoever has the least free around;
        given a wish, before that who did the portion before, changes no area, can do what comes, and is not
        away.
        """
        board, part = self.board, span(s, s + length)
        wanted = []
        for need, able in zip(needs, runs_of, strict=True):
            here = [n for n, m in able if m >> s & 1]
            if not freedom.held_back:
                left = {c: b - spent.get(c, 0) for c, b in board.budget.items()}
                here = [n for n in here if left[board.main[n]] >= board.regular_slots(n, part)]
            around = (
                {n: self._around(n, part, snug_beside) for n in here}
                if snug_beside is not None
                else dict.fromkeys(here, 0)
            )
            here.sort(
                key=lambda n: (
                    board.regular_slots(n, part) < length,
                    self._by_wish(n, s, part, wish),
                    around[n],
                    board.main[n] != need.craft,
                    board.breadth[n],
                    n,
                )
            )
            wanted += [here] * need.people
        chosen = match(wanted)
        if chosen is None:
            return None
        if not freedom.held_back:
            use: dict[str, int] = {}
            for n in chosen:
                use[board.main[n]] = use.get(board.main[n], 0) + board.regular_slots(n, part)
            if any(spent.get(c, 0) + u > board.budget[c] for c, u in use.items()):
                return None
        return tuple(chosen)

    def _by_wish(self, n: int, s: int, part: int, wish: Wish | None) -> tuple[bool, int, int, bool]:
        if wish is None:
            return (False, 0, 0, False)
        board = self.board
        change = (
            max(0, board.areas.change(n, wish.area, s)) if wish.area is not None and board.areas.priced else 0
        )
        away = bool(board.areas.away(n, wish.area, board.there[n]) & part)
        return (n not in wish.before, change, -wish.later.get(n, 0), away)

    def _around(self, n: int, part: int, busy: dict[int, int]) -> int:
        """Free slots of a person just before and just after a stretch; from `AROUND` on more is no matter."""
        free, start, end = self.board.free[n] & ~busy.get(n, 0), first_bit(part), part.bit_length()
        before = start - (~free & span(0, start)).bit_length()
        return min(AROUND, before + run_length(free, end))
