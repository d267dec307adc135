"""JSON values into typed ones, gathering every error with its path."""

from __future__ import annotations

import math
from collections.abc import Callable
from datetime import date, datetime
from typing import Any, TypeVar

T = TypeVar("T")
MISSING: Any = object()


class Reader:
    """Reads one JSON value at `path`; errors go to a list shared by the whole document."""

    def __init__(self, value: Any, path: str, errors: list[str]) -> None:
        self.value, self.path, self.errors = value, path, errors

    def _wrong(self, path: str, what: str, fallback: T) -> T:
        self.errors.append(f"{path}: {what}")
        return fallback

    def _unless_missing(self, found: Any, name: str, what: str, fallback: T) -> T:
        """Say what is wrong, but of what is missing, which is said already."""
        return fallback if found is MISSING else self._wrong(f"{self.path}.{name}", what, fallback)

    def _get(self, name: str, default: Any) -> Any:
        if not isinstance(self.value, dict):
            return MISSING
        found = self.value.get(name, default)
        if found is MISSING:
            self.errors.append(f"{self.path}.{name}: is missing")
        return found

    def text(self, name: str, default: Any = MISSING) -> Any:
        found = self._get(name, default)
        if found is MISSING or found is None and default is None:
            return "" if found is MISSING else None
        return found if isinstance(found, str) else self._wrong(f"{self.path}.{name}", "must be text", "")

    def number(self, name: str, default: Any = MISSING) -> Any:
        found = self._get(name, default)
        if found is MISSING or found is None and default is None:
            return 0.0 if found is MISSING else None
        if isinstance(found, bool) or not isinstance(found, (int, float)) or not math.isfinite(found):
            return self._wrong(f"{self.path}.{name}", "must be a number", 0.0)
        return found

    def whole(self, name: str, default: Any = MISSING) -> int:
        found = self.number(name, default)
        if found != int(found):
            return self._wrong(f"{self.path}.{name}", "must be a whole number", 0)
        return int(found)

    def flag(self, name: str, default: bool = False) -> bool:
        found = self._get(name, default)
        return (
            found
            if isinstance(found, bool)
            else self._wrong(f"{self.path}.{name}", "must be true or false", False)
        )

    def moment(self, name: str, default: Any = MISSING) -> Any:
        found = self._get(name, default)
        if found is None and default is None:
            return None
        try:
            moment = datetime.fromisoformat(found)
            if moment.tzinfo is None:
                raise ValueError
            return moment
        except (TypeError, ValueError):
            what = "must be a time with its offset, like 2026-11-30T06:00:00+01:00"
            return self._unless_missing(
                found, name, what, datetime.fromisoformat("2000-01-03T00:00:00+00:00")
            )

    def day(self, name: str, default: Any = MISSING) -> Any:
        found = self._get(name, default)
        if found is None and default is None:
            return None
        try:
            return date.fromisoformat(found)
        except (TypeError, ValueError):
            return self._unless_missing(found, name, "must be a day, like 2026-11-30", date(2000, 1, 3))

    def list_of(self, name: str, make: Callable[[Reader], T], default: Any = ()) -> Any:
        """Tuple of `make` over a list of objects; None stays None where that is the default."""
        found = self._get(name, default)
        if found is MISSING or found is None and default is None:
            return None if default is None else ()
        if not isinstance(found, (list, tuple)):
            return self._wrong(f"{self.path}.{name}", "must be a list", ())
        out = []
        for n, item in enumerate(found):
            path = f"{self.path}.{name}[{n}]"
            if isinstance(item, dict):
                out.append(make(Reader(item, path, self.errors)))
            else:
                self.errors.append(f"{path}: must be an object")
        return tuple(out)

    def texts(self, name: str) -> tuple[str, ...]:
        found = self._get(name, ())
        if isinstance(found, (list, tuple)) and all(isinstance(t, str) for t in found):
            return tuple(found)
        return self._wrong(f"{self.path}.{name}", "must be a list of texts", ())
