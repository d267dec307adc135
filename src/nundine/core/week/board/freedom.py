"""What a search for a place may pass over, and where a job stands while it is put down."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from nundine.core.week.board.board import Portion
from nundine.core.week.board.dice import Dice


@dataclass(frozen=True)
class Freedom:
    """Which rules a search may pass over; explanations relax one at a time. With `dice`, places are at times
    chosen to leave little free around.

    `travel`: no time for the way; `in_pieces`: the asset goes back between tasks; `loose`: loose ends cost
    nothing.
    """

    overtime: bool = True
    held_back: bool = False
    windows: bool = False
    other_jobs: bool = False
    tools: bool = False
    busy: bool = False
    earliest: bool = False
    travel: bool = False
    in_pieces: bool = False
    loose: bool = False
    not_before: int = 0
    dice: Dice | None = None


EMPTY_WEEK = Freedom(held_back=True, other_jobs=True, tools=True, busy=True)


@dataclass(frozen=True)
class Window:
    """Slots for the tasks that touch the asset, and for those that need it stopped."""

    asset: int = -1
    stopped: int = -1


@dataclass
class JobState:
    """Where a job stands while its tasks are put down one after another."""

    ends: dict[str, int] = field(default_factory=dict)
    portions: list[Portion] = field(default_factory=list)
    busy: dict[int, int] = field(default_factory=dict)
    budget: dict[str, int] = field(default_factory=dict)
    window: Window = Window()
    starts: dict[str, int] = field(default_factory=dict)
    have: list[Portion] = field(default_factory=list)
    tidy: bool = False
    """Whether its loose ends cost something."""
    chain: bool = False
    """Whether it may come to more than one portion, so that its people and gaps matter."""

    def copy(self) -> JobState:
        return replace(
            self,
            ends=dict(self.ends),
            portions=list(self.portions),
            busy=dict(self.busy),
            budget=dict(self.budget),
        )

    @property
    def last(self) -> Portion | None:
        """The portion that was put down last."""
        return self.portions[-1] if self.portions else self.have[-1] if self.have else None
