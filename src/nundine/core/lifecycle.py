"""States, moves and guards of WOs, tasks and weeks, as data: which move each record may make, and what stands in its way."""

from __future__ import annotations

from collections.abc import Collection

FINISHED = frozenset({"done", "skipped"})
BEGUN = frozenset({"under way", "done"})


def state_from_tasks(now: str, tasks: Collection[str]) -> str:
    """The state of a WO as it follows from the states of its tasks.

    It is under way with its first task begun and done with its last one finished; approved again where none is begun
    any more. One that was cancelled, closed or never approved stays what it is.
    """
    if now in ("draft", "cancelled", "closed") or not tasks:
        return now
    states = set(tasks)
    if states <= FINISHED:
        return "done"
    return "under way" if states & BEGUN else "approved"
