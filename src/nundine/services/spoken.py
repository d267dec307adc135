"""Findings of the engine in the site's words: names in place of the keys that it knows."""

from __future__ import annotations

import re
from typing import Any

from nundine.store.asset import Asset
from nundine.store.roster import Person
from nundine.store.site import Craft


def spoken(text: str, facts: dict[str, Any]) -> str:
    """The text with the craft, the asset and the person of its facts by name; only those, for keys can be plain words."""
    if craft := _found(Craft, facts.get("craft")):
        text = _swap(text, str(facts["craft"]), str(craft).lower())
    if asset := _found(Asset, facts.get("asset")):
        text = _swap(text, str(facts["asset"]), f"{asset} ({facts['asset']})")
    if person := _found(Person, facts.get("person")):
        text = _swap(text, str(facts["person"]), str(person))
    return text


def _found(table: Any, key: Any) -> str | None:
    row = table.get_or_none(table.key == key) if key else None
    return str(row.name) if row else None


def _swap(text: str, key: str, name: str) -> str:
    return re.sub(rf"(?<![\w-]){re.escape(key)}(?![\w-])", lambda _: name, text)
