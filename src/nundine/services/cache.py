"""What is kept in memory: computed values under keys that say all that they depend on.

It is filled outside transactions only, so that nothing is kept of what may be taken back; and of each kind,
which is the first part of the key, a few are kept, those that were used last. What is of one site is not
found at another.
"""

from __future__ import annotations

from collections import OrderedDict
from threading import Lock, RLock
from typing import Any

from nundine.store.base import db
from nundine.store.belonging import forget_first, here

MOST_OF_A_KIND = 12
_kept: dict[str, OrderedDict[tuple[Any, ...], Any]] = {}
_making: dict[tuple[Any, ...], RLock] = {}
_lock = Lock()


def _at_site(key: tuple[Any, ...]) -> tuple[Any, ...]:
    """The key with the site that it is about."""
    return (key[0], here(), *key[1:])


def kept(key: tuple[Any, ...]) -> Any:
    """What is kept under a key; None if nothing is."""
    key = _at_site(key)
    with _lock:
        of_kind = _kept.get(key[0])
        return of_kind.get(key) if of_kind is not None else None


def keep(key: tuple[Any, ...], value: Any) -> None:
    """Keep a value, unless a transaction is open that may be taken back."""
    if db.in_transaction():
        return
    key = _at_site(key)
    with _lock:
        of_kind = _kept.setdefault(key[0], OrderedDict())
        of_kind[key] = value
        of_kind.move_to_end(key)
        while len(of_kind) > MOST_OF_A_KIND:
            of_kind.popitem(last=False)


def remember_value(key: tuple[Any, ...], make: Any) -> Any:
    """Keep what was computed under a key; who asks while it is being made waits for it."""
    whole = _at_site(key)
    with _lock:
        of_kind = _kept.get(key[0])
        if of_kind is not None and whole in of_kind:
            of_kind.move_to_end(whole)
            return of_kind[whole]
        turn = _making.setdefault(whole, RLock())
    with turn:
        found = kept(key)
        if found is not None:
            return found
        try:
            made = make()
            keep(key, made)
            return made
        finally:
            with _lock:
                _making.pop(whole, None)


def remember(key: tuple[Any, ...], owner: object, make: Any) -> Any:
    """Keep what was computed of `owner` while that very object is in use."""
    held, made = remember_value(key, lambda: (owner, make()))
    if held is not owner:
        made = make()
        keep(key, (owner, made))
    return made


def forget() -> None:
    """Drop all that is kept (a new database under the same process)."""
    forget_first()
    with _lock:
        _kept.clear()
