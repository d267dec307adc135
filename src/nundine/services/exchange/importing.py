"""Bringing files in: all or nothing, with a report by file, row, column and reason; and taking the same out
again."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable
from dataclasses import asdict, dataclass, field
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.lifecycle import FILE
from nundine.core.week.problem import After
from nundine.core.week.problem import Task as CoreTask
from nundine.core.windows import Window, contradictions
from nundine.core.work import in_order
from nundine.formats.bad import BadCell, BadFile
from nundine.formats.confined import confined
from nundine.formats.tables import Sheet, read_tables
from nundine.services.background.run_kinds import background
from nundine.services.background.runs import begin
from nundine.services.background.working import Working
from nundine.services.errors import Refused
from nundine.services.exchange.record_kinds import KINDS, Kind, read_cell
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


@dataclass
class _Given:
    """A parsed row with its place; not `whole` where a cell could not be read (which is reported already)."""

    file: str
    row: int
    values: dict[str, Any]
    whole: bool


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
    given: dict[str, list[_Given]] = defaultdict(list)
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
    given: dict[str, list[_Given]] = defaultdict(list)
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
    fits = [k for k in KINDS.values() if {c.name for c in k.columns if c.default == "REQUIRED"} <= have]
    return max(fits, key=lambda k: len(have & {c.name for c in k.columns}), default=None)


def _take(file: str, sheet: Sheet, zone: ZoneInfo, given: dict[str, list[_Given]], report: Report) -> None:
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
    missing = [c.name for c in kind.columns if c.default == "REQUIRED" and c.name not in sheet.columns]
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
                values[column.name] = read_cell(column, cells.get(column.name), zone)
            except BadCell as bad:
                report.errors.append(RowError(file, number, column.name, str(bad)))
        if kind.name == "ways" and len(values) == len(kind.columns):
            values["from"], values["to"] = sorted((values["from"], values["to"]))
        given[kind.name].append(_Given(file, number, values, len(values) == len(kind.columns)))


def _key(kind: Kind, values: dict[str, Any]) -> tuple[Any, ...]:
    return tuple(values[k] for k in kind.key)


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


def _compare(given: dict[str, list[_Given]], report: Report, numbers: set[str] | None = None) -> list[Change]:
    """What new and changed rows change; errors for rows that stand twice or refer to what is unknown."""
    changed: dict[str, list[dict[str, Any]]] = {}
    before = {
        name: {_key(k, r): r for r in _before(name, numbers)}
        for name, k in KINDS.items()
        if name in given or name in _referred(given)
    }
    known = {name: {key[0] for key in rows} for name, rows in before.items()}
    known["patterns"] = {r["pattern"] for r in standing("shifts")}
    for name, rows in given.items():
        known.setdefault(name, set()).update(g.values.get(KINDS[name].key[0]) for g in rows)
    known["patterns"] |= {g.values.get("pattern") for g in given.get("shifts", ())}
    for name, kind in KINDS.items():
        seen: dict[tuple[Any, ...], int] = {}
        counts = {"new": 0, "changed": 0, "unchanged": 0}
        out = []
        for g in given.get(name, ()):
            _check_references(kind, g, known, report)
            if not g.whole:
                continue
            key = _key(kind, g.values)
            if key in seen:
                report.errors.append(
                    RowError(
                        g.file,
                        g.row,
                        kind.key[-1],
                        f"the same {' and '.join(kind.key)} stand in row {seen[key]} already",
                    )
                )
                continue
            seen[key] = g.row
            _check_row(name, g, known, report)
            old = before[name].get(key)
            counts["new" if old is None else "unchanged" if old == g.values else "changed"] += 1
            if old != g.values:
                out.append(g.values)
        if name in given:
            report.kinds[name] = counts
            changed[name] = out
    _check_order([g for g in given.get("tasks", []) if g.whole], before.get("tasks", {}), report)
    if "windows" in given:
        parent = {a["asset"]: a["parent"] for a in before["assets"].values()}
        parent |= {g.values["asset"]: g.values["parent"] for g in given.get("assets", ()) if g.whole}
        _check_windows([g for g in given["windows"] if g.whole], before["windows"], parent, report)
    return changes_of(changed, {name: list(rows.values()) for name, rows in before.items()})


def _referred(given: dict[str, list[_Given]]) -> set[str]:
    found = {c.refers for name in given for c in KINDS[name].columns if c.refers and c.refers in KINDS}
    if "tasks" in given or "people" in given:
        found |= {"crafts", "tools"}
    return {f for f in found if f}


def _check_references(kind: Kind, g: _Given, known: dict[str, set[Any]], report: Report) -> None:
    for column in kind.columns:
        value = g.values.get(column.name)
        if column.refers and value is not None and value not in known.get(column.refers, set()):
            reason = (
                f"{value!r} is unknown; bring it in with {column.refers.replace('patterns', 'shifts')} "
                "first or in the same import"
            )
            report.errors.append(RowError(g.file, g.row, column.name, reason))


def _check_row(name: str, g: _Given, known: dict[str, set[Any]], report: Report) -> None:
    def wrong(column: str, reason: str) -> None:
        report.errors.append(RowError(g.file, g.row, column, reason))

    if (
        "start" in g.values
        and "end" in g.values
        and name != "shifts"
        and g.values["end"] <= g.values["start"]
    ):
        wrong("end", "must lie after start")
    if name == "people":
        if not g.values["crafts"]:
            wrong("crafts", "a person has at least one craft")
        for craft, _ in g.values["crafts"]:
            if craft not in known["crafts"]:
                wrong("crafts", f"craft {craft!r} is unknown")
    if name == "shifts" and g.values["day"] > g.values["cycle_days"]:
        wrong("day", f"lies outside the cycle of {g.values['cycle_days']} days")
    if name == "tasks":
        for craft, *_ in g.values["needs"]:
            if craft not in known["crafts"]:
                wrong("needs", f"craft {craft!r} is unknown")
        for tool in g.values["tools"]:
            if tool not in known["tools"]:
                wrong("tools", f"tool {tool!r} is unknown")
    if name == "ways" and g.values["from"] == g.values["to"]:
        wrong("to", "a way leads from one area to another")
    if name == "assets" and g.values["parent"] == g.values["asset"]:
        wrong("parent", "an asset can not be part of itself")


def _check_order(rows: list[_Given], before: dict[tuple[Any, ...], dict[str, Any]], report: Report) -> None:
    """Tasks of a WO may not follow each other in a circle or follow one that is not there."""
    orders: dict[str, dict[str, dict[str, Any]]] = defaultdict(dict)
    touched = {g.values["number"]: g for g in rows}
    for (number, task), values in before.items():
        if number in touched:
            orders[number][task] = values
    for g in rows:
        orders[g.values["number"]][g.values["task"]] = g.values
    for number, tasks in orders.items():
        try:
            in_order(
                [
                    CoreTask(t, 1.0, after=tuple(After(b, lag) for b, lag in v["after"]))
                    for t, v in tasks.items()
                ]
            )
        except ValueError as bad:
            g = touched[number]
            report.errors.append(RowError(g.file, g.row, "after", f"{number}: {bad}"))


def _check_windows(
    rows: list[_Given],
    before: dict[tuple[Any, ...], dict[str, Any]],
    parent: dict[str, str | None],
    report: Report,
) -> None:
    """What must run can not be free for work at the same time; what stands unchanged is not looked at
    again."""
    kind, zone = KINDS["windows"], ZoneInfo(site().timezone)
    fresh = {Window(**g.values): g for g in rows if before.get(_key(kind, g.values)) != g.values}
    after = before | {_key(kind, g.values): g.values for g in rows}
    for pair in contradictions([Window(**w) for w in after.values()], parent):
        for one, other in (pair, pair[::-1]):
            if one in fresh:
                g, where = fresh[one], f" in row {fresh[other].row}" if other in fresh else ""
                what = f"the {other.kind} window of {other.asset}{where}"
                first, last = other.start.astimezone(zone), other.end.astimezone(zone)
                reason = f"overlaps {what}, {first:%Y-%m-%d %H:%M} to {last:%Y-%m-%d %H:%M}"
                report.errors.append(RowError(g.file, g.row, "start", reason))
                break
