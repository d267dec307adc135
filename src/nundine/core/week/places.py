"""Where a portion that is off the board could go, nearest to where it was promised, and how much of a change
that is."""

from __future__ import annotations

from collections.abc import Container, Sequence
from dataclasses import replace
from datetime import date

from nundine.core.week.board.bits import first_bit, run_starts, span
from nundine.core.week.board.board import Board, Portion
from nundine.core.week.board.fit import Fitter
from nundine.core.week.board.freedom import Freedom
from nundine.core.week.board.heads import at_least
from nundine.core.week.board.loose_ends import LooseEnds
from nundine.core.week.problem import Job

People = tuple[int | None, ...]
"""Positions of people in the order of the seats; None = open."""
Able = list[list[tuple[int, int]]]
"""For each seat who could take it, and from which slots."""


class Places:
    """Places beside what stands on the board; nothing starts before `freedom` says so."""

    def __init__(self, board: Board, fitter: Fitter, freedom: Freedom) -> None:
        self.board, self.fitter, self.freedom = board, fitter, freedom
        self.grid = board.problem.grid
        self.ends = LooseEnds(board)

    def cheapest(self, job: Job, was: Portion, day: date) -> tuple[int, Portion] | None:
        """The cheapest change of a portion promised for a day: people, start, start and people, day, day and
        people; and what it costs."""
        tries = []
        for people in dict.fromkeys((was.people, self.able_now(job, was), tuple(None for _ in was.people))):
            found = self.nearest(job, was, people)
            if found is not None:
                tries.append((self.cost(was, found, day), found))
        return min(
            tries, key=lambda t: (t[0], self.price(job, was, t[1]), abs(t[1].start - was.start)), default=None
        )

    def price(self, job: Job, was: Portion, now: Portion) -> float:
        """What the job's loose ends cost with a portion as it would be, changes of area that it makes
        included."""
        w = self.board.problem.weights
        if not w.has_prices:
            return 0.0
        mine = [
            p for p in self.board.placed.get(job.id, ()) if (p.task.id, p.number) != (was.task.id, was.number)
        ]
        area, areas = self.board.problem.area_of(job), self.board.areas
        changes = sum(
            areas.change(n, area, now.start) for n in now.people if n is not None and area is not None
        )
        return self.ends.of(job, [*mine, now]) + w.area_change * changes

    def starts(self, job: Job, was: Portion, people: People) -> tuple[int, Able]:
        """Slots at which the portion could start with these people (None = anybody able), and who could take
        each open seat."""
        board, length = self.board, was.end - was.start
        task = was.task
        allowed = board.asset_mask(job, task) & board.tool_free(task)
        if task.asset_state != "any":
            allowed &= ~board.others_on_asset(job)
        mine = [
            p for p in board.placed.get(job.id, ()) if not (p.task.id == task.id and p.number == was.number)
        ]
        allowed &= board.service.slots_for(job, task, mine)
        area = board.problem.area_of(job)
        ends = {p.task.id: p.end for p in sorted(mine, key=lambda p: p.end)}
        first = max(
            [self.freedom.not_before]
            + [ends[a.task] + self.grid.slots_for(a.lag) for a in task.after if a.task in ends]
        )
        first = max([first] + [p.end for p in mine if p.task.id == task.id and p.number < was.number])
        if job.earliest is not None:
            first = max(first, self.grid.ceil(job.earliest))
        begun = {p.task.id: p.start for p in sorted(mine, key=lambda p: -p.start)}
        last = self.grid.floor(job.latest) if job.latest is not None else board.slots
        last = min([last, self.fitter.before_followers(job, task, begun)])
        last = min([last] + [p.start for p in mine if p.task.id == task.id and p.number > was.number])
        starts = run_starts(allowed & span(first, last), length)
        able: Able = []
        for n, need in zip(people, task.seat_needs, strict=True):
            who = [
                (m, run_starts(board.open_for(m, area) & mask, length))
                for m, mask in board.qualified(replace(need, people=1))
                if m not in people or m == n
            ]
            if n is not None:
                who = [w for w in who if w[0] == n]
            starts &= at_least([m for _, m in who], 1)
            able.append(who)
        return starts, able

    def able_now(self, job: Job, was: Portion) -> People:
        """The same people as far as they are free at the same time, with time for the way."""
        area = self.board.problem.area_of(job)
        return tuple(
            n if n is not None and not was.mask & ~self.board.open_for(n, area) else None for n in was.people
        )

    def cost(self, was: Portion, now: Portion, day: date) -> int:
        """Moves: each person, and the start or the day."""
        people = sum(a != b for a, b in zip(was.people, now.people, strict=True))
        if self.day_of(now) != day:
            return people + 3
        return people + (now.start != was.start)

    def day_of(self, portion: Portion) -> object:
        first = next((n for n in portion.people if n is not None), None)
        day = self.board.day_at(first, portion.start) if first is not None else None
        return day or self.grid.moment(portion.start).date()

    def nearest(self, job: Job, was: Portion, people: People) -> Portion | None:
        """The start nearest to the old one, the same day before others, at which all seats can be filled."""
        starts, able = self.starts(job, was, people)
        length = was.end - was.start
        singles = tuple(replace(need, people=1) for need in was.task.seat_needs)
        for s in _by_distance(starts, was.start, 24):
            if not self.span_free(job, was, s):
                continue
            filled = self.fitter.seating.seats(
                singles, _prefer(able, was.people, s), s, length, self.freedom, {}
            )
            if filled is not None:
                can = [{n for n, m in who if m >> s & 1} for who in able]
                return Portion(was.task, was.number, s, s + length, on_their_seats(filled, was.people, can))
        return None

    def span_free(self, job: Job, was: Portion, s: int) -> bool:
        """Whether the job's span, with this portion from s on, meets no other job on an asset that takes one
        at a time."""
        if job.asset not in self.board.spans or was.task.asset_state == "any":
            return True
        mine = [
            (p.start, p.end) for p in self.board.placed.get(job.id, ()) if p.task.asset_state != "any"
        ] + [(s, s + was.end - was.start)]
        return not span(min(a for a, _ in mine), max(b for _, b in mine)) & self.board.others_on_asset(job)


def on_their_seats(people: People, was: People, can: Sequence[Container[int | None]]) -> People:
    """The same people, those who were there before on the seats that they had; `can` holds for each seat who
    may sit there."""
    out = list(people)
    for seat, n in enumerate(was):
        other = out.index(n) if n is not None and n in out else seat
        if n in can[seat] and out[seat] in can[other]:
            out[seat], out[other] = out[other], out[seat]
    return tuple(out)


def _by_distance(starts: int, wished: int, most: int) -> list[int]:
    """The set bits nearest to a slot, nearest first."""
    out: list[int] = []
    above, below = starts >> wished, starts & ((1 << max(wished, 0)) - 1)
    up, down = wished + first_bit(above) if above else None, below.bit_length() - 1 if below else None
    while len(out) < most and (up is not None or down is not None):
        if down is None or (up is not None and up - wished <= wished - down):
            assert up is not None
            out.append(up)
            rest = starts >> (up + 1)
            up = up + 1 + first_bit(rest) if rest else None
        else:
            out.append(down)
            rest = starts & ((1 << down) - 1)
            down = rest.bit_length() - 1 if rest else None
    return out


def _prefer(able: Able, people: People, s: int) -> Able:
    """Those who were on a seat before are alone asked for it where they can; others stay open to all."""
    return [
        [w for w in who if w[0] == n and w[1] >> s & 1] or who for who, n in zip(able, people, strict=True)
    ]
