"""The compiled search behind the same door as the plain one. Until it is loaded, the plain one makes the very
same moves.

`python -m nundine.core.week.search.compiled` compiles it once (one to three minutes) and keeps the result
beside the source.
"""

from __future__ import annotations

from copy import copy
from types import ModuleType

from nundine.core.week.board.board import Board, Portion
from nundine.core.week.problem import WeekProblem
from nundine.core.week.search.plain import Search
from nundine.core.week.search.tables import (
    J_HOPELESS,
    J_NOW,
    S_CHANGES,
    S_MOVABLE,
    V_BEST,
    V_CHANGE,
    V_VALUE,
    Z_RANK,
    Layer,
)

HOPELESS, DISPATCH, STEPS, RESTORE = range(4)
_loaded: list[ModuleType] = []


def load() -> bool:
    """Load the compiled search, compiling it if that was never done; False where numba is not installed."""
    if _loaded:
        return True
    try:  # numba takes half a second to load, and most processes build nothing
        from nundine.core.week import compiling
        from nundine.core.week.bound.packing import Relaxation
        from nundine.core.week.search.kernel import steps as kernel
    except ImportError:
        return False
    if not compiling.everything_is_kept():
        from nundine.core.week.search.kernel.parts import compile_parts

        compile_parts(Compiled.smallest().k)
    kernel.run(Compiled.smallest().k, HOPELESS, 0, 0.0)
    Relaxation(Compiled.smallest().board.problem).lower(1, 0.0)
    _loaded.append(kernel)
    return True


def ready() -> bool:
    return bool(_loaded)


def dispatch(search: Search) -> None:
    """`Search.dispatch`, compiled where that is there."""
    if not ready():
        search.dispatch()
        return
    fast = Compiled(search)
    fast.dispatch()
    search.best_placed, search.best_value = fast.best(), fast.best_value
    search.restore_best()
    search.hopeless = {
        job.id
        for n, job in enumerate(fast.layer.jobs)
        if fast.k.J[J_HOPELESS, n] and not search.movable(job.id)
    }


class Compiled:
    """A search that runs compiled, taken over from a plain one as it stands."""

    def __init__(self, search: Search, seed: int | None = None) -> None:
        self.search, self.kernel = search, _loaded[0]
        board = search.board
        now = {
            j.id: found
            for j in search.rank
            if (found := board.placed.get(j.id, [])[search.kept.get(j.id, 0) :])
        }
        self.layer = Layer(board, search.rank, search.kept, search.dice.state if seed is None else seed)
        self.k = self.layer.k
        self.layer.put(now, search.best(), search.best_value)
        hopeless = [job.id in search.hopeless for job in self.layer.jobs]
        self.k.J[J_HOPELESS] = hopeless
        self._pass_over(hopeless)

    def _pass_over(self, hopeless: list[bool]) -> None:
        """Jobs that fit nowhere are not even looked at."""
        movable = [n for n in self.k.Z[Z_RANK, : self.k.S[S_MOVABLE]] if not hopeless[n]]
        self.k.Z[Z_RANK, : len(movable)] = movable
        self.k.S[S_MOVABLE] = len(movable)

    @staticmethod
    def smallest() -> Layer:
        """Tables of an empty week, to compile with."""
        from datetime import UTC, datetime

        week = WeekProblem(
            "2026-W49", "UTC", datetime(2026, 11, 30, tzinfo=UTC), datetime(2026, 12, 7, tzinfo=UTC)
        )
        return Layer(Board(week), [], {}, 1)

    def split(self, seed: int) -> Compiled:
        """Another search from where this one is, by other dice."""
        other = copy(self)
        other.layer = copy(self.layer)
        other.k = other.layer.k = self.k._replace(
            **{name: table.copy() for name, table in self.k._asdict().items()}
        )
        other.k.dice[0] = seed % 2**64
        return other

    @property
    def value(self) -> float:
        return float(self.k.V[V_VALUE] - self.k.V[V_CHANGE] * self.k.S[S_CHANGES])

    @property
    def best_value(self) -> float:
        return float(self.k.V[V_BEST])

    @property
    def placed(self) -> int:
        """Jobs of the search that stand on the board."""
        return int((self.k.J[J_NOW, self.k.Z[Z_RANK, : self.k.S[S_MOVABLE]]] > 0).sum())

    def dispatch(self) -> None:
        """As `Search.dispatch`."""
        blank = Layer(self.search.board, self.search.rank, self.search.kept, 1, blank=True)
        self.kernel.run(blank.k, HOPELESS, 0, 0.0)
        self.k.J[J_HOPELESS] = blank.k.J[J_HOPELESS]
        self.kernel.run(self.k, DISPATCH, 0, 0.0)

    def finish(self) -> None:
        """As `Search.finish`."""
        self.kernel.run(self.k, RESTORE, 0, 0.0)
        self.kernel.run(self.k, DISPATCH, 0, 0.0)

    def steps(self, count: int, temperature: float) -> None:
        self.kernel.run(self.k, STEPS, count, temperature)

    def best(self) -> dict[str, list[Portion]]:
        """As `Search.best`."""
        return self.layer.best()


if __name__ == "__main__":
    from nundine.core.week import compiling

    if not compiling.everything_is_kept():
        print("Compiling the engine (one to three minutes, once) ...", flush=True)
    load()
