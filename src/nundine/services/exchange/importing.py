"""Bringing files in: all or nothing, with a report by file, row, column and reason; and taking the same out
again."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable
from dataclasses import asdict, dataclass, field
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.lifecycle import FILE
from nundine.formats.bad import BadCell, BadFile
from nundine.formats.confined import confined
from nundine.formats.tables import Sheet, read_tables
from nundine.services.background.run_kinds import background
from nundine.services.background.runs import begin
from nundine.services.background.working import Working
from nundine.services.errors import Refused
from nundine.services.exchange.kinds import KINDS
from nundine.services.exchange.kinds.kind import REQUIRED, Given, Kind
from nundine.services.exchange.stored_rows import changes_of, standing, standing_work
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Change, Edit
from nundine.services.numbering import WORK_ORDERS, turn
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.run import Run, RunFile
from nundine.store.site import site

MOST_ERRORS = 500


@dataclass(frozen=True)
class RowError:
    """What is wrong where, and what to do."""

    file: str
    row: int | None
    column: str | None
    reason: str


@dataclass
class Report:
    """What an import did, or would do: by kind, rows new, changed and unchanged; all errors found."""

    done: bool = False
    kinds: dict[str, dict[str, int]] = field(default_factory=dict)
    errors: list[RowError] = field(default_factory=list)

    def document(self) -> dict[str, Any]:
        return asdict(self)


def run_import(
    files: list[tuple[str, bytes]],
    account: Account | None = None,
    *,
    dry_run: bool = False,
    step: Callable[[float], None] = lambda _: None,
) -> Report:
    """Read all files, check every row, then write all of it in one transaction, or nothing. `step` is told
    how far it is, and may raise to stop it."""
    report, zone = Report(), ZoneInfo(site().timezone)
    given: dict[str, list[Given]] = defaultdict(list)
    for name, data in files:
        try:
            for sheet in confined(read_tables, name, data):
                _take(name, sheet, zone, given, report)
        except BadFile as bad:
            report.errors.append(RowError(name, None, None, str(bad)))
    step(0.3)
    with db.atomic() as transaction:
        turn(WORK_ORDERS)
        changes = _compare(given, report)
        step(0.6)
        report.errors = report.errors[:MOST_ERRORS]
        if report.errors or dry_run:
            transaction.rollback()
            return report
        names = ", ".join(name for name, _ in files)
        write("files", account, Edit("import", f"Bring in {names}", changes, by=FILE), checked=True)
        step(0.95)
    report.done = True
    return report


KIND = "import"


def ask(files: list[tuple[str, bytes]], account: Account) -> Run:
    """A run that brings files in. Raises Refused while others of this account are on their way in."""
    names = ", ".join(name for name, _ in files)
    label = f"bringing in {names if len(names) < 150 else f'{len(files)} files'}"
    return begin(KIND, f"account {account.name}", label, account, {}, files)


@background(KIND, busy="Files of yours are on their way in. Wait for them.", stops=True)
def run_asked(working: Working) -> dict[str, Any]:
    """What the worker does: all of it in one transaction, or nothing; gives the report."""
    files = [(f.name, bytes(f.content)) for f in RunFile.select().where(RunFile.run == working.id)]
    if not files:
        raise Refused("files", "These files are not here any more. Choose them again.")
    return run_import(files, working.account, step=working.step).document()


def checked_rows(tables: dict[str, list[dict[str, Any]]]) -> tuple[Report, list[Change]]:
    """What rows of cells by kind would change, as a form gives them; read and checked like a file's. Row 1 is
    the first."""
    report, zone = Report(), ZoneInfo(site().timezone)
    given: dict[str, list[Given]] = defaultdict(list)
    for name, rows in tables.items():
        columns = tuple(c.name for c in KINDS[name].columns)
        _take(name, Sheet(name, columns, tuple(enumerate(rows, 1))), zone, given, report)
    numbers = {g.values["number"] for rows in given.values() for g in rows if "number" in g.values}
    return report, _compare(given, report, numbers)


def _kind_of(sheet: Sheet) -> Kind | None:
    """By the table's name, else by its columns."""
    plain = sheet.name.strip().lower().replace(" ", "_").replace("-", "_")
    if plain in KINDS:
        return KINDS[plain]
    have = set(sheet.columns)
    fits = [k for k in KINDS.values() if {c.name for c in k.columns if c.default == REQUIRED} <= have]
    return max(fits, key=lambda k: len(have & {c.name for c in k.columns}), default=None)


def _take(file: str, sheet: Sheet, zone: ZoneInfo, given: dict[str, list[Given]], report: Report) -> None:
    kind = _kind_of(sheet)
    if kind is None:
        known = ", ".join(KINDS)
        text = (
            f"its columns ({', '.join(c for c in sheet.columns if c)}) fit none of the tables: "
            f"{known}. Start from a template."
        )
        report.errors.append(RowError(file, 1, None, text))
        return
    names = {c.name for c in kind.columns}
    missing = [c.name for c in kind.columns if c.default == REQUIRED and c.name not in sheet.columns]
    for name in missing:
        report.errors.append(RowError(file, 1, name, f"column is missing; {kind.name} need it"))
    for name in sheet.columns:
        if name and name not in names:
            report.errors.append(
                RowError(
                    file,
                    1,
                    name,
                    f"unknown column; {kind.name} have {', '.join(c.name for c in kind.columns)}",
                )
            )
    if missing:
        return
    for number, cells in sheet.rows:
        values = {}
        for column in kind.columns:
            try:
                values[column.name] = column.value(cells.get(column.name), zone)
            except BadCell as bad:
                report.errors.append(RowError(file, number, column.name, str(bad)))
        whole = len(values) == len(kind.columns)
        given[kind.name].append(Given(file, number, kind.tidy(values) if whole else values, whole))


def _before(name: str, numbers: set[str] | None) -> list[dict[str, Any]]:
    """Rows as they stand; of WOs and tasks only those of `numbers`, if given."""
    if numbers is None or name not in ("work_orders", "tasks"):
        return standing(name)
    orders, tasks = standing_work(numbers)
    return (
        list(orders.values())
        if name == "work_orders"
        else [t for group in tasks.values() for t in group.values()]
    )


def _compare(given: dict[str, list[Given]], report: Report, numbers: set[str] | None = None) -> list[Change]:
    """What new and changed rows change; errors for rows that stand twice or refer to what is unknown."""
    changed: dict[str, list[dict[str, Any]]] = {}
    wanted = set(given).union(*(KINDS[name].refers_to() for name in given))
    before = {
        name: {k.key_of(r): r for r in _before(name, numbers)} for name, k in KINDS.items() if name in wanted
    }
    known = {name: {key[0] for key in rows} for name, rows in before.items()}
    for name, rows in given.items():
        known[name].update(g.values.get(KINDS[name].key[0]) for g in rows)
    for name, kind in KINDS.items():
        if name not in given:
            continue
        seen: dict[tuple[Any, ...], int] = {}
        counts = {"new": 0, "changed": 0, "unchanged": 0}
        changed[name] = []
        for g in given[name]:
            _check_references(kind, g, known, report)
            if not g.whole:
                continue
            key = kind.key_of(g.values)
            if key in seen:
                what = f"the same {' and '.join(kind.key)} stand in row {seen[key]} already"
                report.errors.append(RowError(g.file, g.row, kind.key[-1], what))
                continue
            seen[key] = g.row
            report.errors += [RowError(g.file, g.row, c, why) for c, why in kind.check(g.values, known)]
            old = before[name].get(key)
            counts["new" if old is None else "unchanged" if old == g.values else "changed"] += 1
            if old != g.values:
                changed[name].append(g.values)
        report.kinds[name] = counts
    for name, rows in given.items():
        whole = [g for g in rows if g.whole]
        for g, (column, why) in KINDS[name].check_all(whole, given, before):
            report.errors.append(RowError(g.file, g.row, column, why))
    return changes_of(changed, {name: list(rows.values()) for name, rows in before.items()})


def _check_references(kind: Kind, g: Given, known: dict[str, set[Any]], report: Report) -> None:
    for column in kind.columns:
        value = g.values.get(column.name)
        if column.refers and value is not None and value not in known[column.refers]:
            reason = f"{value!r} is unknown; bring it in with {column.refers} first or in the same import"
            report.errors.append(RowError(g.file, g.row, column.name, reason))
