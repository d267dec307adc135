"""How long the work of a foreign row takes and whom it needs; where it does not say, as the mapping says."""

from __future__ import annotations

from typing import Any

from nundine.formats.bad import BadCell
from nundine.formats.foreign import cells
from nundine.formats.foreign.cells_of_rows import CellsOfRows, Row, Wrong
from nundine.formats.foreign.mapping import ForeignMapping


def work_of(says: CellsOfRows, row: Row, kind: str) -> tuple[dict[str, Any], set[str]]:
    """Hours from start to end and the crew need of a row whose WO is of this kind of work, and which of hours
    and craft it did not say. Raises Wrong."""
    mapping, guessed = says.mapping, set()
    cell = says.cell(row, "hours")
    default = _default_hours(mapping, kind) if cell is None else None
    if cell is None and default is None:
        raise Wrong("hours", "is empty; say which hours hold if they are missing")
    if cell is None:
        guessed.add("hours")
    try:
        given = cells.hours(cell, mapping.unit, mapping.decimals) if default is None else default
        people = cells.figure(says.cell(row, "people") or 1, mapping.decimals)
        level = cells.figure(says.cell(row, "level") or 1, mapping.decimals)
    except BadCell as bad:
        raise Wrong("hours", str(bad)) from bad
    if people != int(people) or not 1 <= people <= 99:
        raise Wrong("people", f"{people:g} is no number of people from 1 to 99")
    if level not in (1, 2, 3):
        raise Wrong("level", f"{level:g} is no level from 1 to 3")
    elapsed = given / people if mapping.hours_are == "work" and default is None else given
    if not 0 < elapsed <= 2000:
        raise Wrong("hours", f"{elapsed:g} h is not between 0 and 2000")
    word = says.cell(row, "craft")
    craft = says.meaning("craft", word) if word is not None else mapping.defaults.get("craft")
    if word is None and craft:
        guessed.add("craft")
    if not craft:
        raise Wrong("craft", "is empty; choose the craft that holds where none is given")
    return {"hours": round(elapsed, 4), "needs": ((craft, int(people), int(level), None),)}, guessed


def has_default_hours(mapping: ForeignMapping) -> bool:
    """Whether somebody said which hours hold where none are given."""
    return any(value and name.split(" ")[0] == "hours" for name, value in mapping.defaults.items())


def _default_hours(mapping: ForeignMapping, kind: str) -> float | None:
    """Elapsed hours where none are given: of a kind of work, else of any; None where nothing was said of
    it."""
    said = mapping.defaults.get(f"hours {kind}") or mapping.defaults.get("hours")
    if not said:
        return None
    try:
        return float(said)
    except ValueError as bad:
        raise Wrong("hours", f"{said!r} hours if missing are no figure") from bad
