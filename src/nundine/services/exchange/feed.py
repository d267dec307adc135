"""Files that others put into a folder of the site, taken in one after another. What of them can be right is
kept; each line that can not is written beside its file, with the reason."""

from __future__ import annotations

import csv
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from nundine.services.exchange.forms import Cells
from nundine.services.ledger.commands import note
from nundine.settings import settings
from nundine.store.base import db
from nundine.store.site import site

TAKEN, REFUSED = "taken", "refused"
MOST = 5000
"""Lines of one file at most; a longer one is refused whole."""


@dataclass(frozen=True)
class Fed:
    """A file that was taken in: how many of its lines changed something, and how many were refused."""

    name: str
    new: int
    refused: int


@dataclass(frozen=True)
class BadLine:
    """A line that was refused, and why."""

    line: Cells
    reason: str


@dataclass(frozen=True)
class Feed:
    """A folder that is fed.

    Parameters
    ----------
    name
        Of the folder, beside those of the other sites.
    stream, kind
        Under which the ledger says what came.
    whose
        Who puts files there, in words.
    columns
        Each file has these at least.
    keep
        Writes what lines say that can be right, inside the transaction; gives how many changed something, and
        the others.
    """

    name: str
    stream: str
    kind: str
    whose: str
    columns: tuple[str, ...]
    keep: Callable[[list[Cells], str], tuple[int, list[BadLine]]]

    def folder(self) -> Path:
        """Where files are put."""
        return settings().var / self.name / site().key

    def put(self, name: str, lines: list[tuple[str, ...]]) -> Path:
        """Put a file there, in one piece."""
        self.folder().mkdir(parents=True, exist_ok=True)
        path = self.folder() / name
        part = path.with_suffix(".part")
        with part.open("w", encoding="utf-8", newline="") as file:
            out = csv.writer(file)
            out.writerow(self.columns)
            out.writerows(lines)
        part.replace(path)
        return path

    def take(self) -> list[Fed]:
        """Take in all files, the first name first; one that is being written still has no name that ends in
        .csv."""
        found = sorted(self.folder().glob("*.csv")) if self.folder().is_dir() else []
        return [self._take(path) for path in found]

    def _take(self, path: Path) -> Fed:
        """Once it is taken it lies among those taken; where that is cut off, a second time changes
        nothing."""
        try:
            lines = self._lines(path)
        except ValueError as bad:
            note(self.stream, None, self.kind, f"{path.name} of {self.whose} was refused: {bad}")
            self._away(path, REFUSED)
            return Fed(path.name, 0, 0)
        with db.atomic():
            new, bad_lines = self.keep(lines, path.name)
            if bad_lines:
                told = f"{len(bad_lines)} lines of {path.name} were refused, the first: {bad_lines[0].reason}"
                note(self.stream, None, self.kind, told)
        if bad_lines:
            self._write_refused(path, bad_lines)
        self._away(path, TAKEN)
        return Fed(path.name, new, len(bad_lines))

    def _lines(self, path: Path) -> list[Cells]:
        """Raises ValueError for what is no such file."""
        try:
            text = path.read_text(encoding="utf-8-sig")
        except UnicodeDecodeError:
            raise ValueError("it is no text in UTF-8") from None
        rows = csv.DictReader(text.splitlines())
        missing = [c for c in self.columns if c not in (rows.fieldnames or ())]
        if missing:
            raise ValueError(f"its first line names no {' and no '.join(missing)}")
        found = [{c: (row[c] or "").strip() for c in self.columns} for row in rows]
        if len(found) > MOST:
            raise ValueError(f"it has more than {MOST} lines")
        return found

    def _write_refused(self, path: Path, bad: list[BadLine]) -> None:
        into = self.folder() / REFUSED
        into.mkdir(parents=True, exist_ok=True)
        with (into / path.name).open("w", encoding="utf-8", newline="") as file:
            out = csv.DictWriter(file, (*self.columns, "reason"))
            out.writeheader()
            out.writerows({**b.line, "reason": b.reason} for b in bad)

    def _away(self, path: Path, where: str) -> None:
        into = self.folder() / where
        into.mkdir(parents=True, exist_ok=True)
        path.replace(into / path.name)
