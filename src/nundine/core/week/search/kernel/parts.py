"""Compiling the parts of the search one after another, those that others call first.

Left to find its own order, numba compiles what is called in the middle of what calls it, once for each way in
which a number is written there, and takes five times as long.
"""

from __future__ import annotations

from typing import Any

import numba

from nundine.core.week.search.kernel import areas, board, fit, moves, portions, seats, steps, trial

NUMBER, WORD, FLAG, POINTS = numba.int64, numba.uint64, numba.boolean, numba.float64
WINDOW = numba.types.UniTuple(NUMBER, 4)


def compile_parts(k: Any) -> None:
    """Compile every larger part for tables of this kind."""
    tables = numba.typeof(k)
    for part, numbers in (
        (areas.beside, 3), (areas.find_shut, 2), (board.occupy, 1), (board.vacate, 1), (board.keep_out, 1),
        (board.same_craft, 2),
        (board.handed_over, 2), (board.loose_ends, 1), (board.worth, 1), (board.take, 1),
    ):  # fmt: skip
        part.compile((tables, *[NUMBER] * numbers))
    seats.open_starts.compile((tables, NUMBER, NUMBER, FLAG, WORD, WORD))
    seats.portion.compile((tables, NUMBER, NUMBER, NUMBER, FLAG, WORD, WORD))
    portions.allow.compile((tables, NUMBER, NUMBER, NUMBER, WINDOW, FLAG))
    portions.tasks_in.compile((tables, NUMBER, FLAG, NUMBER, WINDOW))
    fit.begin_row.compile((tables, NUMBER, NUMBER, FLAG, NUMBER, WINDOW, FLAG))
    fit.attempt.compile((tables, NUMBER, FLAG, NUMBER, WINDOW))
    fit.in_window.compile((tables, NUMBER, FLAG, NUMBER, WINDOW, FLAG))
    fit.in_stretches.compile((tables, NUMBER, FLAG, NUMBER, NUMBER, NUMBER))
    fit.fit.compile((tables, NUMBER, FLAG, NUMBER))
    for part, numbers in (
        (trial.try_place, 2), (trial.bring, 3), (trial.lift, 1), (trial.lower, 1), (trial.still_free, 1),
        (moves.in_place_of, 4), (moves.ruin, 2),
        (moves.displace, 2),
    ):  # fmt: skip
        part.compile((tables, *[NUMBER] * numbers))
    moves.as_if_gone.compile((tables, NUMBER, NUMBER, FLAG))
    for part in (moves.hasten, moves.tidy_up, moves.ruin_or_displace):
        part.compile((tables,))
    steps.step.compile((tables, POINTS))
    for part in (steps.dispatch, steps.mark_hopeless, steps.restore_best):
        part.compile((tables,))
