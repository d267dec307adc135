"""What the cells of a foreign row mean, through a mapping: in our words, days and keys."""

from __future__ import annotations

from collections.abc import Mapping as Words
from datetime import UTC, datetime, time
from typing import Any, cast
from zoneinfo import ZoneInfo

from nundine.core.characters import BAD, key_fault
from nundine.formats.bad import BadCell
from nundine.formats.foreign import cells
from nundine.formats.foreign.cells import blank, plain
from nundine.formats.foreign.fields import DATES
from nundine.formats.foreign.making import Made, Makeable
from nundine.formats.foreign.mapping import ForeignMapping, meaning
from nundine.formats.foreign.table import ForeignTable

NAMED = ("asset", "kind", "state", "permit", "must", "asset_state", "craft", "area")
WITHOUT = {"number": ";", "task": ";+/"}
"""Signs that no key may hold, since they part keys in cells and addresses."""
LONGEST = {"number": 40, "title": 200, "task": 20, "task_title": 200, "description": 4000}

Row = tuple[Any, ...]


class Wrong(ValueError):
    """A cell that can not be understood: of which field, and the word that a mapping can explain."""

    def __init__(self, name: str, text: str, word: str | None = None) -> None:
        super().__init__(text)
        self.field, self.word = name, word


class CellsOfRows:
    """`known`: for craft, asset and area our key by each plain key and name. `made`: what nobody here knows
    yet and will be made. What can not be understood raises Wrong."""

    def __init__(
        self, table: ForeignTable, mapping: ForeignMapping, known: Words[str, Words[str, str]], zone: ZoneInfo
    ) -> None:
        self.table, self.mapping, self.known, self.zone = table, mapping, known, zone
        self.at = {f: table.columns.index(c) for f, c in mapping.columns.items() if c in table.columns}
        """The place of each field's column."""
        self.made = Made()

    def cell(self, row: Row, name: str) -> Any:
        """What stands there, or None for a blank or a field without a column."""
        return row[self.at[name]] if name in self.at and not blank(row[self.at[name]]) else None

    def said(self, row: Row, name: str) -> str:
        """A cell as it is said in any file: a date is the same day however it is written."""
        cell = self.cell(row, name)
        if cell is not None and name in DATES:
            try:
                return cells.moment(cell, self.mapping.dates)[0].isoformat()
            except BadCell:
                return plain(cell)
        return plain(cell) if cell is not None else ""

    def value(self, name: str, cell: Any) -> Any:
        """What a cell of a WO's field says."""
        if name in DATES:
            return self._date(name, cell)
        if name in NAMED:
            found = self.meaning(name, cell)
            return found == "yes" if name == "must" else found
        return text_of(cell, LONGEST[name])

    def _date(self, name: str, cell: Any) -> Any:
        try:
            day, clock = cells.moment(cell, self.mapping.dates)
        except BadCell as bad:
            raise Wrong(name, str(bad)) from bad
        if name in ("raised", "parts_ready"):
            return day
        late = name in ("due", "latest") and clock is None
        local = datetime.combine(day, clock or (time(23, 59) if late else time(0)), self.zone)
        return local.astimezone(UTC)

    def meaning(self, name: str, cell: Any, **more: str | None) -> str:
        """Our word or key for what a cell says; made where the mapping says so."""
        found = meaning(self.mapping.values, self.known, name, cell)
        if found is None and name in self.mapping.make:
            found = self._made(cast(Makeable, name), str(cell).strip(), **more)
        if found is None:
            raise Wrong(name, f"{str(cell).strip()!r} is unknown; say what it means", str(cell).strip())
        return found

    def _made(self, kind: Makeable, word: str, **more: str | None) -> str:
        """The key of what is made for a word that nobody here knows."""
        try:
            taken = self.known.get(kind, {}).values()
            return self.made.known(kind, word) or self.made.make(kind, word, taken, **more)
        except ValueError as bad:
            raise Wrong(kind, str(bad), word) from bad

    def asset(self, row: Row, cell: Any) -> str:
        """The key of the row's asset; one that will be made takes its name and area from the row, or the
        area that was said."""
        known = meaning(self.mapping.values, self.known, "asset", cell) is not None
        if "asset" not in self.mapping.make or known:
            return self.meaning("asset", cell)
        area = self.cell(row, "area")
        where = self.meaning("area", area) if area is not None else self._area()
        if not where:
            raise Wrong("area", "is empty; say in which area new assets lie")
        called = self.cell(row, "asset_name")
        title = text_of(called, 120) if called is not None else None
        return self.meaning("asset", cell, called=title, area=where)

    def _area(self) -> str | None:
        """Where new assets lie if a row does not say: as it was said, or in the only area of the site."""
        areas = set(self.known.get("area", {}).values())
        return self.mapping.defaults.get("area") or (next(iter(areas)) if len(areas) == 1 else None)

    def lacks_area(self) -> bool:
        """Whether assets will be made and nothing says where they lie."""
        if "asset" not in self.mapping.make or "asset" not in self.at or "area" in self.at or self._area():
            return False
        column = self.at["asset"]
        words = {str(r[column]) for _, r in self.table.rows if not blank(r[column])}
        return any(meaning(self.mapping.values, self.known, "asset", w) is None for w in words)


def need_key(name: str, text: str) -> None:
    """Raises Wrong for what no WO, or no task, can be known by."""
    fault = key_fault(text, WITHOUT[name])
    if fault:
        raise Wrong(name, fault)


def text_of(cell: Any, longest: int) -> str:
    """A cell as text of at most so many characters, on one line unless it may be long."""
    if isinstance(cell, float) and cell.is_integer():
        cell = int(cell)
    text = " ".join(str(cell).split()) if longest < 4000 else str(cell).strip()
    return BAD.sub("", text)[:longest]
