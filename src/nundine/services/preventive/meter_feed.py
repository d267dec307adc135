"""Readings of meters that come by themselves: loggers put files into a folder of the site, each hour they are
taken in. What can be right is kept; each line that can not is written beside its file, with the reason."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from datetime import date
from pathlib import Path

from nundine.services.background.periodic import Hourly, periodic
from nundine.services.exchange import importing
from nundine.services.exchange.forms import Cells, filled
from nundine.services.ledger.commands import note, write
from nundine.services.ledger.edits import Change, Edit
from nundine.services.numbering import PREVENTIVE_PLANS, turn
from nundine.settings import settings
from nundine.store.base import db
from nundine.store.site import site

STREAM = "meter feed"
COLUMNS = ("meter", "day", "value")
TAKEN, REFUSED = "taken", "refused"
MOST = 5000
"""Lines of one file at most; a longer one is refused whole."""


@dataclass(frozen=True)
class Fed:
    """A file that was taken in: how many readings are new, and how many of its lines were refused."""

    name: str
    new: int
    refused: int


@dataclass(frozen=True)
class _Bad:
    line: Cells
    reason: str


def folder() -> Path:
    """Where loggers put their files."""
    return settings().var / "meters" / site().key


@periodic("meter feed", "readings of meters that come by themselves", Hourly(10))
def take_each_hour() -> list[Fed]:
    """The oldest name first; a file that is being written still has no name that ends in .csv."""
    found = sorted(folder().glob("*.csv")) if folder().is_dir() else []
    return [_take(path) for path in found]


def _take(path: Path) -> Fed:
    """Once it is taken it lies among those taken; where that is cut off, a second time changes nothing."""
    try:
        lines = _lines(path)
    except ValueError as bad:
        note(STREAM, None, "reading", f"{path.name} of the loggers was refused: {bad}")
        _away(path, REFUSED)
        return Fed(path.name, 0, 0)
    with db.atomic():
        turn(PREVENTIVE_PLANS)
        changes, bad_lines = _right(lines)
        new = len(changes)
        if changes:
            label = f"{new} readings came in with {path.name}"
            write(STREAM, None, Edit("reading", label, changes), checked=True)
        if bad_lines:
            told = f"{len(bad_lines)} lines of {path.name} were refused, the first: {bad_lines[0].reason}"
            note(STREAM, None, "reading", told)
    if bad_lines:
        _write_refused(path, bad_lines)
    _away(path, TAKEN)
    return Fed(path.name, new, len(bad_lines))


def _lines(path: Path) -> list[Cells]:
    """Raises ValueError for what is no such file."""
    try:
        text = path.read_text(encoding="utf-8-sig")
    except UnicodeDecodeError:
        raise ValueError("it is no text in UTF-8") from None
    rows = csv.DictReader(text.splitlines())
    missing = [c for c in COLUMNS if c not in (rows.fieldnames or ())]
    if missing:
        raise ValueError(f"its first line names no {' and no '.join(missing)}")
    found = [{c: (row[c] or "").strip() for c in COLUMNS} for row in rows]
    if len(found) > MOST:
        raise ValueError(f"it has more than {MOST} lines")
    return found


def _right(lines: list[Cells]) -> tuple[list[Change], list[_Bad]]:
    """What the lines that can be right change, and those that can not be."""
    bad = [_Bad(line, "is still to come") for line in lines if _to_come(line["day"])]
    good = [line for line in lines if not _to_come(line["day"])]
    while good:
        cells = [filled({**line, "fresh": "no", "by": "logger", "remark": ""}) for line in good]
        report, changes = importing.checked_rows({"readings": cells})
        if not report.errors:
            return changes, bad
        wrong = {(e.row or 1) - 1: e.reason for e in reversed(report.errors)}
        bad += [_Bad(good[n], reason) for n, reason in sorted(wrong.items())]
        good = [line for n, line in enumerate(good) if n not in wrong]
    return [], bad


def _to_come(day: str) -> bool:
    try:
        return date.fromisoformat(day) > settings().day(site().timezone)
    except ValueError:
        return False  # reading it says what is wrong


def _write_refused(path: Path, bad: list[_Bad]) -> None:
    into = folder() / REFUSED
    into.mkdir(parents=True, exist_ok=True)
    with (into / path.name).open("w", encoding="utf-8", newline="") as file:
        out = csv.DictWriter(file, (*COLUMNS, "reason"))
        out.writeheader()
        out.writerows({**b.line, "reason": b.reason} for b in bad)


def _away(path: Path, where: str) -> None:
    into = folder() / where
    into.mkdir(parents=True, exist_ok=True)
    path.replace(into / path.name)
