"""Names of people, crafts, areas and assets by their keys."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

KINDS = ("craft", "asset", "area", "person")


class Names:
    """Names by kind (craft, asset, area, person) and key. Those of a site are read in `site_names`."""

    def __init__(self, known: Mapping[str, dict[str, str]] | None = None) -> None:
        self._known: dict[str, dict[str, str]] = dict(known or {})

    def _read(self, kind: str) -> dict[str, str]:
        """Names of a kind that nobody gave: none."""
        return {}

    def of(self, kind: str) -> dict[str, str]:
        """Name by key of everything of a kind; read when it is first asked for."""
        if kind not in self._known:
            self._known[kind] = self._read(kind)
        return self._known[kind]

    def called(self, kind: str, key: Any) -> str:
        """The name of one; its key where no name is known."""
        return self.of(kind).get(key, str(key)) if key is not None else ""

    def named(self, kind: str, value: Any) -> Any:
        """A value, or a list, with the keys of a kind by name; seats by who sits on them."""
        if isinstance(value, list):
            return [self.named(kind, v) for v in value]
        if kind == "seat":
            who = value.get("id") if isinstance(value, dict) else value
            return self.called("person", who) if who else "open seat"
        return self.of(kind).get(value, value) if kind in KINDS and isinstance(value, str) else value


PLAIN = Names()
"""No names: keys stand for themselves, as in files of weeks."""
