"""Names of the site's people, crafts, areas and assets by their keys."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from nundine.store.asset import Asset
from nundine.store.roster import Person
from nundine.store.site import Area, Craft

_READ: dict[str, Callable[[], dict[str, str]]] = {
    "craft": lambda: {key: name.lower() for key, name in Craft.select(Craft.key, Craft.name).tuples()},
    "asset": lambda: {key: f"{name} ({key})" for key, name in Asset.select(Asset.key, Asset.name).tuples()},
    "area": lambda: dict(Area.select(Area.key, Area.name).tuples()),
    "person": lambda: dict(Person.select(Person.key, Person.name).tuples()),
}


class Names:
    """Names by kind (craft, asset, area, person) and key; each kind is read when it is first asked for."""

    def __init__(self, known: Mapping[str, dict[str, str]] | None = None) -> None:
        self._known: dict[str, dict[str, str]] = dict(known or {})

    def of(self, kind: str) -> dict[str, str]:
        """Name by key of everything of a kind."""
        if kind not in self._known:
            self._known[kind] = _READ[kind]()
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
        return self.of(kind).get(value, value) if kind in _READ and isinstance(value, str) else value


PLAIN = Names({kind: {} for kind in _READ})
"""No names: keys stand for themselves, as in files of weeks."""
