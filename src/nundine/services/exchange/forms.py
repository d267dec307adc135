"""Forms of a record with its tasks, filled in by hand: read and checked as rows of a file, refused with the
field that is wrong."""

from __future__ import annotations

from typing import Any
from zoneinfo import ZoneInfo

from nundine.services.errors import Refused
from nundine.services.exchange import importing
from nundine.services.exchange.cells import write_cell
from nundine.services.exchange.kinds import KINDS
from nundine.services.ledger.edits import Change

Cells = dict[str, str]


def changes_of_form(kind: str, whole: Cells, parts_kind: str, parts: list[Cells]) -> list[Change]:
    """What a form changes.

    Parameters
    ----------
    kind, whole
        The kind of file that the record is of, and its cells; an empty cell stands for the default.
    parts_kind, parts
        The same of its tasks.

    Raises
    ------
    Refused
        With the field: that of the record, or `tasks.N.COLUMN`, N from 0.
    """
    given = {kind: [filled(whole)], parts_kind: [filled(t) for t in parts]}
    report, changes = importing.checked_rows(given)
    if not report.errors:
        return changes
    first = report.errors[0]
    of_task = first.file == parts_kind
    at = f"task {parts[first.row - 1].get('task') or first.row}, " if of_task and first.row else ""
    field = f"tasks.{(first.row or 1) - 1}.{first.column}" if of_task else str(first.column)
    raise Refused("field", f"{at}{first.column}: {first.reason}", field=field)


def filled(cells: Cells) -> Cells:
    """Cells without those that are empty."""
    return {k: v for k, v in cells.items() if v.strip()}


def cells_of(kind: str, row: dict[str, Any], zone: ZoneInfo) -> Cells:
    """A row as a form shows it."""
    return {
        c.name: "" if row[c.name] is None else str(write_cell(c.name, row[c.name], zone))
        for c in KINDS[kind].columns
    }
