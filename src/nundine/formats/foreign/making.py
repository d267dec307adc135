"""What an export names and nobody here knows yet, made on the way in: assets, areas and crafts."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

from nundine.core.characters import key_fault
from nundine.formats.foreign.cells import plain

Makeable = Literal["area", "craft", "asset"]
MAKEABLE: tuple[Makeable, ...] = ("area", "craft", "asset")
LONGEST = {"area": 40, "craft": 40, "asset": 60}
NO_BLANKS = {"craft": ";:/"}
"""Kinds whose keys hold no blanks, and signs that they must not hold."""


@dataclass(frozen=True)
class Record:
    """A record that will be made: its key, its name, and of an asset its area."""

    key: str
    name: str
    area: str | None = None


@dataclass
class Made:
    """Records by kind and key, and the key by plain word."""

    records: dict[str, dict[str, Record]] = field(default_factory=lambda: {k: {} for k in MAKEABLE})
    words: dict[str, dict[str, str]] = field(default_factory=lambda: {k: {} for k in MAKEABLE})

    def known(self, kind: str, word: str) -> str | None:
        """The key under which a word was made already."""
        return self.words.get(kind, {}).get(plain(word))

    def make(
        self,
        kind: Makeable,
        word: str,
        taken: Collection[str],
        called: str | None = None,
        area: str | None = None,
    ) -> str:
        """The key of a new record for a word. Raises ValueError for what nothing can be known by."""
        key = key_for(kind, word)
        if key in taken:
            raise ValueError(f"{key!r} is known here under another name; say what {word!r} means")
        self.words[kind][plain(word)] = key
        self.records[kind].setdefault(key, Record(key, (called or word)[:120], area))
        return key

    def used(self, orders: Mapping[str, Any], tasks: Mapping[str, Mapping[str, Any]]) -> Made:
        """Only what some WOs refer to, and the areas of their assets."""
        wanted = {
            "asset": {o["asset"] for o in orders.values()},
            "craft": {n[0] for its in tasks.values() for t in its.values() for n in t["needs"]},
        }
        assets = self._of("asset", wanted["asset"])
        wanted["area"] = {r.area for r in assets.values() if r.area}
        return Made(
            {
                "area": self._of("area", wanted["area"]),
                "craft": self._of("craft", wanted["craft"]),
                "asset": assets,
            },
            self.words,
        )

    def _of(self, kind: str, keys: Collection[str]) -> dict[str, Record]:
        return {k: r for k, r in self.records[kind].items() if k in keys}

    def __bool__(self) -> bool:
        return any(self.records.values())


def key_for(kind: str, word: str) -> str:
    """A key made of a word: the word itself, for crafts without blanks. Raises ValueError where it can be
    none."""
    text = " ".join(word.split())[: LONGEST[kind]].strip()
    if kind in NO_BLANKS:
        text = plain(text).replace(" ", "-")
    fault = key_fault(text, NO_BLANKS.get(kind, ";"), blanks=kind not in NO_BLANKS)
    if fault:
        raise ValueError(fault)
    return text
