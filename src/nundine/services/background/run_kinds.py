"""The kinds of background work: each says once what is done and how it is spoken of; all go through the one
door of `runs`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from nundine.services.background.working import Working
from nundine.store.run import Run

Work = Callable[[Working], dict[str, Any] | None]


@dataclass(frozen=True)
class Kind:
    """One kind of background work.

    Parameters
    ----------
    name
        As it is kept, and as browsers are told of it.
    work
        What a worker does; gives the result that is kept. Raises Stopped when it heard that it is to stop.
    busy
        What somebody is told who asks for it while it is under way on the same target.
    alone
        One of its kind runs at a time, whatever the target.
    stops
        It hears of a stop while it runs; others end by themselves.
    partial
        What is stopped ends well, with what it found so far.
    anew
        What is asked for when a run is started again; None where starting it again would be no use.
    """

    name: str
    work: Work
    busy: str
    alone: bool
    stops: bool
    partial: bool
    anew: Callable[[Run], dict[str, Any]] | None


KINDS: dict[str, Kind] = {}
"""By name; filled as the modules that do the work are loaded."""


def same_again(run: Run) -> dict[str, Any]:
    """What was asked for the first time."""
    asked: dict[str, Any] = run.asked
    return asked


def background(
    name: str,
    *,
    busy: str,
    alone: bool = False,
    stops: bool = False,
    partial: bool = False,
    anew: Callable[[Run], dict[str, Any]] | None = same_again,
) -> Callable[[Work], Work]:
    """Declare a function as the work of a kind."""

    def declare(work: Work) -> Work:
        KINDS[name] = Kind(name, work, busy, alone, stops or partial, partial, anew)
        return work

    return declare
