"""What is kept in memory: computed values under keys that say all that they depend on."""

from __future__ import annotations

from collections import OrderedDict
from threading import Lock, RLock
from typing import Any

_kept: OrderedDict[tuple[Any, ...], Any] = OrderedDict()
_making: dict[tuple[Any, ...], RLock] = {}
_lock = Lock()


def kept(key: tuple[Any, ...]) -> Any:
    """What is kept under a key; None if nothing is."""
    with _lock:
        return _kept.get(key)


def remember_value(key: tuple[Any, ...], make: Any) -> Any:
    """Keep what was computed under a key that says all that it depends on; who asks while it is being made waits for it."""
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
            return _kept[key]
        turn = _making.setdefault(key, RLock())
    with turn:
        with _lock:
            if key in _kept:
                return _kept[key]
        try:
            made = make()
            with _lock:
                _kept[key] = made
                while len(_kept) > 60:
                    _kept.popitem(last=False)
            return made
        finally:
            with _lock:
                _making.pop(key, None)


def remember(key: tuple[Any, ...], owner: object, make: Any) -> Any:
    """Keep what was computed of `owner` while that very object is in use."""
    held, made = remember_value(key, lambda: (owner, make()))
    if held is not owner:
        made = make()
        with _lock:
            _kept[key] = (owner, made)
    return made


def forget() -> None:
    """Drop all that is kept (a new database under the same process)."""
    with _lock:
        _kept.clear()
