"""Names as the site's records have them."""

from __future__ import annotations

from nundine.services.wording.names import KINDS, Names
from nundine.store.asset import Asset
from nundine.store.reading.rows import rows_of_each
from nundine.store.roster import Person
from nundine.store.site import Area, Craft


def _called(kind: str, key: str, name: str) -> str:
    """What one of a kind is called within a sentence."""
    return name.lower() if kind == "craft" else f"{name} ({key})" if kind == "asset" else name


class SiteNames(Names):
    """Names of the present site; all are read when one is first asked for."""

    def _read(self, kind: str) -> dict[str, str]:
        asked = (table.select(table.key, table.name) for table in (Craft, Asset, Area, Person))
        for each, rows in zip(KINDS, rows_of_each(*asked), strict=True):
            self._known[each] = {key: _called(each, key, name) for key, name in rows}
        return self._known[kind]
