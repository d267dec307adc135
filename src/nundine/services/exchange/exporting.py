"""Taking out by kind what can be brought in, so that it comes in again unchanged; and empty templates."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any
from zoneinfo import ZoneInfo

from nundine.formats.tables import write_csv, write_xlsx
from nundine.services.background.run_kinds import background
from nundine.services.background.runs import begin
from nundine.services.background.working import Working
from nundine.services.errors import NotFound
from nundine.services.exchange.cells import write_cell
from nundine.services.exchange.kinds import KINDS
from nundine.services.exchange.kinds.kind import Kind
from nundine.services.exchange.stored_rows import standing
from nundine.store.account import Account
from nundine.store.run import Run, RunFile
from nundine.store.site import site


def _table(kind: Kind, rows: list[dict[str, Any]], zone: ZoneInfo) -> tuple[list[str], list[list[Any]]]:
    names = [c.name for c in kind.columns]
    return names, [[write_cell(n, r[n], zone) for n in names] for r in rows]


def _known_kind(name: str) -> Kind:
    if name not in KINDS:
        raise NotFound("kind", f"There is no table {name}; there are {', '.join(KINDS)}.")
    return KINDS[name]


def export_csv(name: str, why: bool = True) -> bytes:
    """All rows of a kind as CSV; importing it again changes nothing. Without `why` absences do not say it."""
    return write_csv(*_table(_known_kind(name), _shown(name, why), ZoneInfo(site().timezone)))


def export_xlsx(why: bool = True, step: Callable[[float], None] = lambda _: None) -> bytes:
    """Everything as one workbook, a sheet for each kind. Without `why` absences do not say it. `step` is told
    how far it is, and may raise to stop it."""
    zone = ZoneInfo(site().timezone)
    tables = {}
    for n, (name, kind) in enumerate(KINDS.items(), 1):
        tables[name] = _table(kind, _shown(name, why), zone)
        step(0.7 * n / len(KINDS))
    return write_xlsx(tables)


KIND = "export"
WORKBOOK = "nundine-export.xlsx"


def ask(account: Account, why: bool) -> Run:
    """A run that makes the workbook of everything. Raises Refused while one is made for this account."""
    return begin(KIND, f"account {account.name}", "everything as one workbook", account, {"why": why})


@background(KIND, busy="Your workbook is being made already.", stops=True)
def run_asked(working: Working) -> dict[str, Any]:
    """What the worker does: the workbook is kept with the run."""
    body = export_xlsx(working.asked["why"], working.step)
    RunFile.create(run=working.id, name=WORKBOOK, out=True, content=body)
    return {"bytes": len(body)}


def _shown(name: str, why: bool) -> list[dict[str, Any]]:
    return _hidden(KINDS[name], standing(name), why)


def _hidden(kind: Kind, rows: list[dict[str, Any]], why: bool) -> list[dict[str, Any]]:
    return rows if why else [kind.hidden(r) for r in rows]


@dataclass(frozen=True)
class Preview:
    """The first rows of a table as they would be written, and how many rows it has."""

    columns: list[str]
    rows: list[list[str]]
    total: int


def preview(name: str, why: bool = True, first: int = 25) -> Preview:
    """Raises NotFound for a table that there is not."""
    kind = _known_kind(name)
    names, lines = _table(kind, _hidden(kind, kind.first(first), why), ZoneInfo(site().timezone))
    return Preview(names, [["" if c is None else str(c) for c in line] for line in lines], kind.count())


def template_csv(name: str) -> bytes:
    kind = _known_kind(name)
    return write_csv([c.name for c in kind.columns], [[c.example for c in kind.columns]])


def template_xlsx() -> bytes:
    return write_xlsx(
        {n: ([c.name for c in k.columns], [[c.example for c in k.columns]]) for n, k in KINDS.items()}
    )
