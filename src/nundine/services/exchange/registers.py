"""Small lists that a site keeps by hand: areas, crafts, tools, permits. Their columns are those of their
files, and so are the checks."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal
from zoneinfo import ZoneInfo

from peewee import IntegrityError

from nundine.services.errors import NotFound, Refused
from nundine.services.exchange import cells, importing
from nundine.services.exchange.forms import Cells, cells_of, filled
from nundine.services.exchange.kinds import KINDS
from nundine.services.exchange.kinds.kind import REQUIRED, Column, Kind
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.revisions import need_revision
from nundine.services.ledger.stored import removals
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.job_plan import JobPlan
from nundine.store.site import site
from nundine.store.work_order import WorkOrder

SET_UP = {
    "areas": "Areas",
    "crafts": "Crafts",
    "tools": "Tools and vehicles",
    "permit_kinds": "Permits",
}
"""Kinds of files that whoever changes the set-up keeps so, and what they are called."""
PLANNED = {"meters": "Meters", "shutdowns": "Shutdowns"}
"""Those that planners keep."""
KEPT = {"storerooms": "Storerooms", "parts": "Parts"}
"""Those that storekeepers keep."""
ASSETS = {"assets": "Assets"}
"""Kept by planners, each in the areas in which they plan."""
REGISTERS = {**SET_UP, **PLANNED, **KEPT, **ASSETS}


@dataclass(frozen=True)
class RegisterColumn:
    """`key`: it tells rows apart, and stays; `needed`: it must be filled."""

    name: str
    label: str
    how: Literal["text", "yes", "day"]
    key: bool
    needed: bool
    example: str


@dataclass(frozen=True)
class RegisterRow:
    """Text cells by column, and the revision at which they stand."""

    cells: Cells
    revision: int


@dataclass(frozen=True)
class Register:
    name: str
    label: str
    columns: list[RegisterColumn]
    rows: list[RegisterRow]


def _kind(name: str) -> Kind:
    if name not in REGISTERS:
        raise NotFound("register", f"There is no list {name[:40]} that is kept by hand.")
    return KINDS[name]


def register(name: str) -> Register:
    """Raises NotFound."""
    kind = _kind(name)
    noun, zone = NOUNS[kind.noun], ZoneInfo(site().timezone)
    model: Any = noun.model
    by_key = dict(model.select(getattr(model, noun.key[0].field), model.revision).tuples())
    rows = [RegisterRow(cells_of(name, r, zone), by_key[r[kind.key[0]]]) for r in kind.standing()]
    return Register(name, REGISTERS[name], [_column(kind, c) for c in kind.columns], rows)


def _column(kind: Kind, column: Column) -> RegisterColumn:
    noun = NOUNS[kind.noun]
    labels = {**noun.labels, **{c.name: c.label for c in noun.key}}
    how: Literal["text", "yes", "day"] = (
        "yes" if column.read is cells.yes_no else "day" if column.read is cells.day else "text"
    )
    needed = column.default == REQUIRED
    return RegisterColumn(
        column.name, labels[column.name], how, column.name in kind.key, needed, column.example
    )


def need_one_of(names: Mapping[str, str], name: str) -> None:
    """Raises NotFound for a list that is not kept where it was asked for."""
    if name not in names:
        raise NotFound("register", f"There is no list {name[:40]} that is kept here.")


def save(account: Account, name: str, row: Cells, revision: int | None) -> None:
    """Make a row (`revision` None), or change one that was seen at a revision. Raises NotFound, Stale, and
    Refused with the column that is wrong."""
    kind = _kind(name)
    key = (row.get(kind.key[0]) or "").strip()
    with db.atomic():
        if revision is None:
            if NOUNS[kind.noun].ids([(key,)]):
                raise Refused("key", f"There is a {kind.noun} {key} already.", field=kind.key[0])
        else:
            need_revision(kind.noun, [key], revision)
        report, changes = importing.checked_rows({name: [filled(row)]})
        if report.errors:
            first = report.errors[0]
            raise Refused("field", f"{first.column}: {first.reason}", field=str(first.column))
        if changes:
            label = f"{'Make' if revision is None else 'Change'} {kind.noun} {key}"
            write(f"site {site().key}", account, Edit("set-up", label, changes), checked=True)


def remove(account: Account, name: str, key: str, revision: int) -> None:
    """Take a row away. Raises NotFound, Stale, and Refused for one that something else names."""
    kind = _kind(name)
    with db.atomic():
        need_revision(kind.noun, [key], revision)
        if name == "permit_kinds" and _needed_somewhere(key):
            raise Refused("used", f"Some work needs permit {key}; nothing was taken away.")
        edit = Edit("set-up", f"Take {kind.noun} {key} away", removals(kind.noun, [(key,)]))
        try:
            write(f"site {site().key}", account, edit, checked=True)
        except IntegrityError:
            raise Refused(
                "used", f"{kind.noun.capitalize()} {key} is used; nothing was taken away."
            ) from None


def _needed_somewhere(permit: str) -> bool:
    """Whether a WO or a job plan names a kind of permit."""
    named = json.dumps(permit)
    return any(
        table.select().where(table.permits.cast("char").contains(named)).exists()
        for table in (WorkOrder, JobPlan)
    )
