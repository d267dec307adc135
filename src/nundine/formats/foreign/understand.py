"""Rows of a foreign table as work orders and tasks, through a mapping. What they do not say is taken as the
mapping says, and marked as guessed."""

from __future__ import annotations

import re
from collections.abc import Mapping as Words
from dataclasses import dataclass, field
from hashlib import blake2b
from typing import Any
from zoneinfo import ZoneInfo

from nundine.formats.foreign.cells import blank, plain
from nundine.formats.foreign.cells_of_rows import LONGEST, CellsOfRows, Row, Wrong, need_key, text_of
from nundine.formats.foreign.fields import DATES, FIELD_BY_NAME, ORDER_FIELDS
from nundine.formats.foreign.making import Made
from nundine.formats.foreign.mapping import ForeignMapping
from nundine.formats.foreign.table import ForeignTable
from nundine.formats.foreign.work_of_rows import has_default_hours, work_of

TOTALS = {
    "total",
    "totals",
    "sum",
    "summe",
    "gesamt",
    "gesamtsumme",
    "zwischensumme",
    "subtotal",
    "somme",
    "totaux",
    "grand total",
    "total general",
}
SAYS_WHICH = ("asset", "title", "task_title", "kind", "raised")
"""What tells a WO from others where a list has no numbers, for it stays from one export to the next."""
NO_NUMBERS = (
    "no column holds a WO number: each row is a WO, under a number that is made of its {what}, so that the "
    "next file finds it again"
)


@dataclass(frozen=True)
class RowProblem:
    """A row that could not be understood: where and why; `field` may hold a word that a mapping can give a
    meaning to."""

    row: int
    column: str
    text: str
    field: str
    word: str | None = None
    number: str | None = None


@dataclass
class Understood:
    """What a table says: fields of WOs by number, their tasks by number, problems, and what was left out, in
    words. `guessed`: by number what was not said: kind, hours, craft. `made`: what nobody here knows yet and
    will be made."""

    orders: dict[str, dict[str, Any]] = field(default_factory=dict)
    tasks: dict[str, dict[str, dict[str, Any]]] = field(default_factory=dict)
    rows: dict[str, int] = field(default_factory=dict)
    problems: list[RowProblem] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    guessed: dict[str, set[str]] = field(default_factory=dict)
    made: Made = field(default_factory=Made)

    def without_problems(self) -> Understood:
        """Only WOs none of whose rows has a problem."""
        bad = {p.number for p in self.problems}
        keep = [n for n in self.orders if n not in bad]
        orders, tasks = {n: self.orders[n] for n in keep}, {n: self.tasks.get(n, {}) for n in keep}
        return Understood(
            orders,
            tasks,
            {n: self.rows[n] for n in keep},
            [],
            self.notes,
            {n: self.guessed[n] for n in keep if n in self.guessed},
            self.made.used(orders, tasks),
        )


def understand(
    table: ForeignTable, mapping: ForeignMapping, known: Words[str, Words[str, str]], zone: ZoneInfo
) -> Understood:
    """Read all rows.

    Parameters
    ----------
    known
        For craft, asset and area: our key by each plain key and name.

    Notes
    -----
    Lines of totals are left out; a row without WO number belongs to the WO above it if it tells of a task; a
    row that says the very same again is taken once.
    """
    return _Reading(table, mapping, known, zone).read()


class _Reading:
    def __init__(
        self, table: ForeignTable, mapping: ForeignMapping, known: Words[str, Words[str, str]], zone: ZoneInfo
    ) -> None:
        self.says = CellsOfRows(table, mapping, known, zone)
        self.t, self.m, self.at = table, mapping, self.says.at
        self.out = Understood(made=self.says.made)
        self.totals = self.again = 0
        self.differ: dict[str, list[str]] = {}
        self.numbered: dict[str, list[tuple[Any, ...]]] = {}
        """Rows under each number that was made of what they say."""

    def read(self) -> Understood:
        for name in ("asset", "hours"):
            if name not in self.at and not (name == "hours" and has_default_hours(self.m)):
                what = f"choose a column for {FIELD_BY_NAME[name].label}"
                else_ = ", or say which hours hold if they are missing" if name == "hours" else ""
                self.out.problems.append(RowProblem(0, "", what + else_, name))
        if "craft" not in self.at and not self.m.defaults.get("craft"):
            what = "choose a column for craft, or the craft that holds where none is given"
            self.out.problems.append(RowProblem(0, "", what, "craft"))
        if self.says.lacks_area():
            what = "choose a column for area, or say in which area new assets lie"
            self.out.problems.append(RowProblem(0, "", what, "area"))
        if self.out.problems:
            return self.out
        if "number" not in self.at:
            made_of = ", ".join(FIELD_BY_NAME[f].label for f in SAYS_WHICH if f in self.at)
            self.out.notes.append(NO_NUMBERS.format(what=made_of))
        above: str | None = None
        for row, content in self.t.rows:
            above = self._row(row, content, above)
        self._order_of_tasks()
        if self.totals:
            self.out.notes.append(
                f"{self.totals} {'line' if self.totals == 1 else 'lines'} of totals left out"
            )
        if self.again:
            self.out.notes.append(
                f"{self.again} {'row says' if self.again == 1 else 'rows say'} the very same again "
                f"and {'is' if self.again == 1 else 'are'} taken once"
            )
        for what in ("kind", "hours", "craft"):
            some = sum(what in g for g in self.out.guessed.values())
            if some:
                its = "WO does not say its" if some == 1 else "WOs do not say their"
                self.out.notes.append(
                    f"{some} {its} {what}: what was said for missing ones is taken, and marked"
                )
        for number, fields in list(self.differ.items())[:20]:
            self.out.notes.append(
                f"{number}: its rows differ in {', '.join(sorted(set(fields)))}; the first one is taken"
            )
        return self.out

    def _number_of(self, content: Row) -> str | None:
        """A number made of what tells the row from others; the same in each file. None for a row that says
        none of it. Of rows that say the same work with other hours, each next one has a number behind it."""
        said = [self.says.said(content, name) for name in SAYS_WHICH if name in self.at]
        if not any(said):
            return None
        number = f"X-{blake2b(chr(31).join(said).encode(), digest_size=5).hexdigest()}"
        alike = self.numbered.setdefault(number, [])
        if content not in alike:
            alike.append(content)
        place = alike.index(content)
        return f"{number}-{place + 1}" if place else number

    def _row(self, row: int, content: Row, above: str | None) -> str | None:
        number = self.says.cell(content, "number")
        first = next((plain(c) for c in content if not blank(c)), "")
        if (
            first in TOTALS
            or any(first.startswith(t + " ") for t in TOTALS)
            and number is None
            or (number is not None and plain(number) in TOTALS)
        ):
            self.totals += 1
            return above
        if "number" not in self.at:
            number = self._number_of(content)
        if number is None:
            if self.says.cell(content, "task") is None and self.says.cell(content, "task_title") is None:
                self.totals += 1
                return above
            if above is None:
                self.out.problems.append(
                    RowProblem(
                        row, self.m.columns["number"], "is empty, and there is no WO above it", "number"
                    )
                )
                return None
        text = above if number is None else text_of(number, LONGEST["number"])
        assert text is not None
        try:
            need_key("number", text)
            self._order(row, content, text, repeated=number is None)
            self._task(row, content, text)
        except Wrong as bad:
            self.out.problems.append(
                RowProblem(row, self.m.columns.get(bad.field, ""), str(bad), bad.field, bad.word, text)
            )
        return text

    # ---------------------------------------------------------------- WOs

    def _order(self, row: int, content: Row, number: str, repeated: bool) -> None:
        values: dict[str, Any] = {}
        for name in ORDER_FIELDS:
            cell = self.says.cell(content, name)
            if name in self.at and cell is not None:
                values[name] = (
                    self.says.asset(content, cell) if name == "asset" else self.says.value(name, cell)
                )
            elif name in self.at and name in (*DATES[1:], "description"):
                values[name] = "" if name == "description" else None
        if "asset" not in values and not repeated and number not in self.out.orders:
            raise Wrong("asset", "is empty")
        if "kind" not in values:
            values["kind"] = self.m.defaults.get("kind", "corrective")
            if not repeated and number not in self.out.orders:
                self._guessed(number, "kind")
        held = self.out.orders.get(number)
        if held is None:
            if not values.get("title"):
                title = self.says.cell(content, "task_title")
                if title is None:
                    raise Wrong("title", "is empty")
                values["title"] = text_of(title, LONGEST["title"])
            self.out.orders[number], self.out.rows[number] = values, row
            return
        if not repeated:
            given = {n for n in ORDER_FIELDS if self.says.cell(content, n) is not None}
            wrong = [
                FIELD_BY_NAME[n].label
                for n in given
                if n != "description" and n in held and held[n] != values[n]
            ]
            if wrong and "task" not in self.at:
                raise Wrong(
                    "number", f"stands in row {self.out.rows[number]} already, with other {', '.join(wrong)}"
                )
            if wrong:
                self.differ.setdefault(number, []).extend(wrong)

    # ---------------------------------------------------------------- tasks

    def _task(self, row: int, content: Row, number: str) -> None:
        tasks = self.out.tasks.setdefault(number, {})
        order = self.out.orders[number]
        cell = self.says.cell(content, "task")
        task = (
            text_of(cell, LONGEST["task"])
            if cell is not None
            else str(10 * (len(tasks) + 1))
            if "task" in self.at or "task_title" in self.at
            else "10"
        )
        need_key("task", task)
        title = self.says.cell(content, "task_title")
        values = {
            "title": text_of(title, 200) if title is not None else order["title"],
            **self._work(content, number),
        }
        if self.says.cell(content, "asset_state") is not None:
            values["asset_state"] = self.says.meaning("asset_state", self.says.cell(content, "asset_state"))
        after = self.says.cell(content, "after")
        if "after" in self.at:
            values["after"] = (
                tuple((p, 0.0) for p in re.split(r"[\s,;/+]+", text_of(after, 200)) if p)
                if after is not None
                else ()
            )
        held = tasks.get(task)
        if held is None:
            tasks[task] = values
        elif held == values:
            self.again += 1
        elif "task" in self.at:
            raise Wrong("task", f"{task} of {number} stands twice, and differently")
        else:
            raise Wrong(
                "number",
                f"stands in row {self.out.rows[number]} already, and differently; is there a "
                "column with the number of the task?",
            )

    def _guessed(self, number: str, what: str) -> None:
        self.out.guessed.setdefault(number, set()).add(what)

    def _work(self, content: Row, number: str) -> dict[str, Any]:
        """Hours from start to end, and the crew need."""
        work, guessed = work_of(self.says, content, self.out.orders[number]["kind"])
        for what in guessed:
            self._guessed(number, what)
        return work

    def _order_of_tasks(self) -> None:
        """Tasks follow each other in the order of their rows, where the mapping says so and no column
        does."""
        for number, tasks in self.out.tasks.items():
            ids = list(tasks)
            for n, task in enumerate(ids):
                if "after" not in self.at:
                    tasks[task]["after"] = ((ids[n - 1], 0.0),) if self.m.chain and n else ()
                for before, _ in tasks[task]["after"]:
                    if before not in tasks or before == task:
                        text = f"task {task} of {number} follows {before}, which is not there"
                        self.out.problems.append(
                            RowProblem(
                                self.out.rows[number],
                                self.m.columns.get("after", ""),
                                text,
                                "after",
                                None,
                                number,
                            )
                        )
