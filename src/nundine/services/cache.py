"""What is kept in memory: computed values under keys that say all that they depend on.

It is filled outside transactions only, so that nothing is kept of what may be taken back. Of each kind, which
is the first part of the key, a few are kept, those that were used last, and of all kinds together as many as
their size allows. What is of one site is not found at another.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Sized
from dataclasses import dataclass, fields, is_dataclass
from threading import Lock, RLock
from typing import Any

from nundine.store.base import db
from nundine.store.belonging import forget_first, here

MOST_OF_A_KIND = 12
MOST_RECORDS = 600_000
"""Records that all that is kept may hold: some 500 MB, 800 bytes each (measured on the demo)."""
_kept: dict[str, OrderedDict[tuple[Any, ...], Any]] = {}
_sizes: OrderedDict[tuple[Any, ...], int] = OrderedDict()
"""What is kept, in records; what was used last stands last."""
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
    size = size_of(value)
    with _lock:
        of_kind = _kept.setdefault(key[0], OrderedDict())
        of_kind[key] = value
        _sizes[key] = size
        _used(key)
        while len(of_kind) > MOST_OF_A_KIND:
            _drop(next(iter(of_kind)))
        while sum(_sizes.values()) > MOST_RECORDS and len(_sizes) > 1:
            _drop(next(iter(_sizes)))


def size_of(value: Any, deep: int = 3) -> int:
    """How many records a value holds: entries of its collections, attributes of its objects, and of bytes one
    a kilobyte. An estimate that costs no more than a look at the outermost: collections are counted, not
    entered."""
    if isinstance(value, _Computed):
        return size_of(value.made, deep)
    if isinstance(value, (bytes, str)):
        return 1 + len(value) // 1024
    if is_dataclass(value) and deep:
        return 1 + sum(size_of(getattr(value, one.name), deep - 1) for one in fields(value))
    return 1 + len(value) if isinstance(value, Sized) else 1


def _used(key: tuple[Any, ...]) -> None:
    _kept[key[0]].move_to_end(key)
    _sizes.move_to_end(key)


def _drop(key: tuple[Any, ...]) -> None:
    del _kept[key[0]][key], _sizes[key]


def remember_value(key: tuple[Any, ...], make: Any) -> Any:
    """Keep what was computed under a key; who asks while it is being made waits for it."""
    whole = _at_site(key)
    with _lock:
        of_kind = _kept.get(key[0])
        if of_kind is not None and whole in of_kind:
            _used(whole)
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


@dataclass(frozen=True)
class _Computed:
    """What was computed of an object."""

    owner: object
    made: Any


def remember(key: tuple[Any, ...], owner: object, make: Any) -> Any:
    """Keep what was computed of `owner` while that very object is in use."""
    found: _Computed = remember_value(key, lambda: _Computed(owner, make()))
    if found.owner is owner:
        return found.made
    made = make()
    keep(key, _Computed(owner, made))
    return made


def forget() -> None:
    """Drop all that is kept (a new database under the same process)."""
    forget_first()
    with _lock:
        _kept.clear()
        _sizes.clear()
