"""Findings of the engine in the site's words: names in place of the keys that it knows."""

from __future__ import annotations

import re
from typing import Any

from nundine.store.asset import Asset
from nundine.store.roster import Person
from nundine.store.site import Area, Craft


class Speaker:
    """Knows the names of the site, read once."""

    def __init__(self) -> None:
        self.names: dict[str, dict[str, str]] = {
            "craft": {c.key: c.name.lower() for c in Craft.select(Craft.key, Craft.name)},
            "asset": {a.key: f"{a.name} ({a.key})" for a in Asset.select(Asset.key, Asset.name)},
            "area": {a.key: a.name for a in Area.select(Area.key, Area.name)},
            "person": {p.key: p.name for p in Person.select(Person.key, Person.name)},
        }

    def __call__(self, text: str, facts: dict[str, Any]) -> str:
        """The text with the craft, the asset, the area and the person of its facts by name; only those, for
        keys can be plain words."""
        for what, names in self.names.items():
            key = str(facts.get(what) or "")
            if key in names:
                text = re.sub(rf"(?<![\w-]){re.escape(key)}(?![\w-])", names[key].replace("\\", "\\\\"), text)
        return text

    def named(self, kind: str, value: Any) -> Any:
        """A value, or a list, with the keys of a kind by name; seats by who sits on them."""
        if isinstance(value, list):
            return [self.named(kind, v) for v in value]
        if kind == "seat":
            who = value.get("id") if isinstance(value, dict) else value
            return self.names["person"].get(who, who) if who else "open seat"
        return self.names.get(kind, {}).get(value, value) if isinstance(value, str) else value
