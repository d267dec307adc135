"""Who sits where: whether there are enough heads for all seats of a task, and one person for each seat."""

from __future__ import annotations

from nundine.core.week.board.bits import run_starts
from nundine.core.week.board.board import Board
from nundine.core.week.problem import Task


def at_least(masks: list[int], count: int) -> int:
    """Slots at which at least `count` of the masks are set, by cascaded counters."""
    levels = [0] * count
    for m in masks:
        for k in range(count - 1, 0, -1):
            levels[k] |= levels[k - 1] & m
        levels[0] |= m
    return levels[-1]


def enough_heads(runs_of: list[list[tuple[int, int]]], people: int) -> int:
    """Slots at which as many people as there are seats are able to take one or another: Hall's condition for
    all seats together."""
    heads: dict[int, int] = {}
    for able in runs_of:
        for n, m in able:
            heads[n] = heads.get(n, 0) | m
    return at_least(list(heads.values()), people)


def starts_with_people(board: Board, task: Task, allowed: int, length: int) -> int:
    """Slots from which a task may run for `length` slots within `allowed`, enough people being free for all
    of it."""
    able = [
        [(n, run_starts(board.free[n] & mask & allowed, length)) for n, mask in board.qualified(need)]
        for need in task.needs
    ]
    starts = run_starts(allowed, length)
    for need, one in zip(task.needs, able, strict=True):
        starts &= at_least([m for _, m in one], need.people)
    return starts & enough_heads(able, task.people) if len(able) > 1 else starts


def match(wanted: list[list[int]]) -> list[int] | None:
    """One distinct person for each seat, earlier candidates preferred; None if some seat must stay empty."""
    seat_of: dict[int, int] = {}

    def give(seat: int, tried: set[int]) -> bool:
        for n in wanted[seat]:
            if n not in tried:
                tried.add(n)
                if n not in seat_of or give(seat_of[n], tried):
                    seat_of[n] = seat
                    return True
        return False

    for seat in sorted(range(len(wanted)), key=lambda k: len(wanted[k])):
        if not give(seat, set()):
            return None
    chosen = {seat: n for n, seat in seat_of.items()}
    return [chosen[k] for k in range(len(wanted))]
