"""Names as the site's records have them."""

from __future__ import annotations

from collections.abc import Callable

from nundine.services.wording.names import Names
from nundine.store.asset import Asset
from nundine.store.roster import Person
from nundine.store.site import Area, Craft

_READ: dict[str, Callable[[], dict[str, str]]] = {
    "craft": lambda: {key: name.lower() for key, name in Craft.select(Craft.key, Craft.name).tuples()},
    "asset": lambda: {key: f"{name} ({key})" for key, name in Asset.select(Asset.key, Asset.name).tuples()},
    "area": lambda: dict(Area.select(Area.key, Area.name).tuples()),
    "person": lambda: dict(Person.select(Person.key, Person.name).tuples()),
}


class SiteNames(Names):
    """Names of the present site; each kind is read when it is first asked for."""

    def _read(self, kind: str) -> dict[str, str]:
        return _READ[kind]()
