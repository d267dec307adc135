"""What is read once for a command: its transaction would be answered the same each time."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import Any

_kept: ContextVar[dict[Any, Any] | None] = ContextVar("read once", default=None)


@contextmanager
def read_once() -> Iterator[None]:
    """For the time of the block, which is one transaction, what `once` was asked for is kept. A block within
    another keeps with it."""
    if _kept.get() is not None:
        yield
        return
    before = _kept.set({})
    try:
        yield
    finally:
        _kept.reset(before)


def once(what: Any, make: Callable[[], Any]) -> Any:
    """What was made under this name in the block; made anew outside of one."""
    kept = _kept.get()
    if kept is None:
        return make()
    if what not in kept:
        kept[what] = make()
    return kept[what]


def forget(kind: str) -> None:
    """Drop what is kept under names that begin so: it was written."""
    kept = _kept.get() or {}
    for what in [w for w in kept if w[0] == kind]:
        del kept[what]
