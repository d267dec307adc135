"""Rows of a foreign table as work orders and tasks, through a mapping. What they do not say is taken as the
mapping says, and marked as guessed."""

from __future__ import annotations

import re
from collections.abc import Mapping as Words
from dataclasses import dataclass, field
from datetime import UTC, datetime, time
from hashlib import blake2b
from typing import Any, cast
from zoneinfo import ZoneInfo

from nundine.core.characters import BAD, key_fault
from nundine.formats.bad import BadCell
from nundine.formats.foreign import cells
from nundine.formats.foreign.cells import blank, plain
from nundine.formats.foreign.fields import DATES, FIELD_BY_NAME, ORDER_FIELDS
from nundine.formats.foreign.making import Made, Makeable
from nundine.formats.foreign.mapping import ForeignMapping, meaning
from nundine.formats.foreign.table import ForeignTable

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
NAMED = ("asset", "kind", "state", "permit", "must", "asset_state", "craft", "area")
SAYS_WHICH = ("asset", "title", "task_title", "kind", "raised")
"""What tells a WO from others where a list has no numbers, for it stays from one export to the next."""
NO_NUMBERS = (
    "no column holds a WO number: each row is a WO, under a number that is made of its {what}, so that the "
    "next file finds it again"
)
WITHOUT = {"number": ";", "task": ";+/"}
"""Signs that no key may hold, since they part keys in cells and addresses."""
LONGEST = {"number": 40, "title": 200, "task": 20, "task_title": 200, "description": 4000}


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

    Notes ----- Lines of totals are left out; a row without WO number belongs to the WO above it if it tells
    of a task; a row that says the very same again is taken once.
    """
    return _Reading(table, mapping, known, zone).read()


class _Reading:
    def __init__(
        self, table: ForeignTable, mapping: ForeignMapping, known: Words[str, Words[str, str]], zone: ZoneInfo
    ) -> None:
        self.t, self.m, self.known, self.zone = table, mapping, known, zone
        self.at = {f: table.columns.index(c) for f, c in mapping.columns.items() if c in table.columns}
        self.out = Understood()
        self.totals = self.again = 0
        self.differ: dict[str, list[str]] = {}
        self.numbered: dict[str, list[tuple[Any, ...]]] = {}
        """Rows under each number that was made of what they say."""

    def read(self) -> Understood:
        for name in ("asset", "hours"):
            if name not in self.at and not (name == "hours" and self._has_default_hours()):
                what = f"choose a column for {FIELD_BY_NAME[name].label}"
                else_ = ", or say which hours hold if they are missing" if name == "hours" else ""
                self.out.problems.append(RowProblem(0, "", what + else_, name))
        if "craft" not in self.at and not self.m.defaults.get("craft"):
            what = "choose a column for craft, or the craft that holds where none is given"
            self.out.problems.append(RowProblem(0, "", what, "craft"))
        if self._lacks_area():
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

    def _lacks_area(self) -> bool:
        """Whether assets will be made and nothing says where they lie."""
        if "asset" not in self.m.make or "asset" not in self.at or "area" in self.at or self._area():
            return False
        words = {str(c[self.at["asset"]]) for _, c in self.t.rows if not blank(c[self.at["asset"]])}
        return any(meaning(self.m.values, self.known, "asset", w) is None for w in words)

    def _area(self) -> str | None:
        """Where new assets lie if a row does not say: as it was said, or in the only area of the site."""
        areas = set(self.known.get("area", {}).values())
        return self.m.defaults.get("area") or (next(iter(areas)) if len(areas) == 1 else None)

    def _cell(self, content: tuple[Any, ...], name: str) -> Any:
        return content[self.at[name]] if name in self.at and not blank(content[self.at[name]]) else None

    def _number_of(self, content: tuple[Any, ...]) -> str | None:
        """A number made of what tells the row from others; the same in each file. None for a row that says
        none of it. Of rows that say the same work with other hours, each next one has a number behind it."""
        said = [self._said(content, name) for name in SAYS_WHICH if name in self.at]
        if not any(said):
            return None
        number = f"X-{blake2b(chr(31).join(said).encode(), digest_size=5).hexdigest()}"
        alike = self.numbered.setdefault(number, [])
        if content not in alike:
            alike.append(content)
        place = alike.index(content)
        return f"{number}-{place + 1}" if place else number

    def _said(self, content: tuple[Any, ...], name: str) -> str:
        """A cell as it is said in any file: a date is the same day however it is written."""
        cell = self._cell(content, name)
        if cell is not None and name in DATES:
            try:
                return cells.moment(cell, self.m.dates)[0].isoformat()
            except BadCell:
                return plain(cell)
        return plain(cell) if cell is not None else ""

    def _row(self, row: int, content: tuple[Any, ...], above: str | None) -> str | None:
        number = self._cell(content, "number")
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
            if self._cell(content, "task") is None and self._cell(content, "task_title") is None:
                self.totals += 1
                return above
            if above is None:
                self.out.problems.append(
                    RowProblem(
                        row, self.m.columns["number"], "is empty, and there is no WO above it", "number"
                    )
                )
                return None
        text = above if number is None else _text(number, LONGEST["number"])
        assert text is not None
        try:
            _key("number", text)
            self._order(row, content, text, repeated=number is None)
            self._task(row, content, text)
        except _Wrong as bad:
            self.out.problems.append(
                RowProblem(row, self.m.columns.get(bad.field, ""), str(bad), bad.field, bad.word, text)
            )
        return text

    # ---------------------------------------------------------------- WOs

    def _order(self, row: int, content: tuple[Any, ...], number: str, repeated: bool) -> None:
        values: dict[str, Any] = {}
        for name in ORDER_FIELDS:
            cell = self._cell(content, name)
            if name in self.at and cell is not None:
                values[name] = self._asset(content, cell) if name == "asset" else self._value(name, cell)
            elif name in self.at and name in (*DATES[1:], "description"):
                values[name] = "" if name == "description" else None
        if "asset" not in values and not repeated and number not in self.out.orders:
            raise _Wrong("asset", "is empty")
        if "kind" not in values:
            values["kind"] = self.m.defaults.get("kind", "corrective")
            if not repeated and number not in self.out.orders:
                self._guessed(number, "kind")
        held = self.out.orders.get(number)
        if held is None:
            if not values.get("title"):
                title = self._cell(content, "task_title")
                if title is None:
                    raise _Wrong("title", "is empty")
                values["title"] = _text(title, LONGEST["title"])
            self.out.orders[number], self.out.rows[number] = values, row
            return
        if not repeated:
            given = {n for n in ORDER_FIELDS if self._cell(content, n) is not None}
            wrong = [
                FIELD_BY_NAME[n].label
                for n in given
                if n != "description" and n in held and held[n] != values[n]
            ]
            if wrong and "task" not in self.at:
                raise _Wrong(
                    "number", f"stands in row {self.out.rows[number]} already, with other {', '.join(wrong)}"
                )
            if wrong:
                self.differ.setdefault(number, []).extend(wrong)

    def _value(self, name: str, cell: Any) -> Any:
        if name in DATES:
            return self._date(name, cell)
        if name in NAMED:
            found = self._meaning(name, cell)
            return found == "yes" if name == "must" else found
        return _text(cell, LONGEST[name])

    def _date(self, name: str, cell: Any) -> Any:
        try:
            day, clock = cells.moment(cell, self.m.dates)
        except BadCell as bad:
            raise _Wrong(name, str(bad)) from bad
        if name in ("raised", "parts_ready"):
            return day
        late = name in ("due", "latest") and clock is None
        local = datetime.combine(day, clock or (time(23, 59) if late else time(0)), self.zone)
        return local.astimezone(UTC)

    def _meaning(self, name: str, cell: Any, **more: str | None) -> str:
        found = meaning(self.m.values, self.known, name, cell)
        if found is None and name in self.m.make:
            found = self._made(cast(Makeable, name), str(cell).strip(), **more)
        if found is None:
            raise _Wrong(name, f"{str(cell).strip()!r} is unknown; say what it means", str(cell).strip())
        return found

    def _made(self, kind: Makeable, word: str, **more: str | None) -> str:
        """The key of what is made for a word that nobody here knows."""
        try:
            taken = self.known.get(kind, {}).values()
            return self.out.made.known(kind, word) or self.out.made.make(kind, word, taken, **more)
        except ValueError as bad:
            raise _Wrong(kind, str(bad), word) from bad

    def _asset(self, content: tuple[Any, ...], cell: Any) -> str:
        """The key of the row's asset; one that will be made takes its name and area from the row, or the
        area that was said."""
        if "asset" not in self.m.make or meaning(self.m.values, self.known, "asset", cell) is not None:
            return self._meaning("asset", cell)
        area = self._cell(content, "area")
        where = self._meaning("area", area) if area is not None else self._area()
        if not where:
            raise _Wrong("area", "is empty; say in which area new assets lie")
        called = self._cell(content, "asset_name")
        title = _text(called, 120) if called is not None else None
        return self._meaning("asset", cell, called=title, area=where)

    # ---------------------------------------------------------------- tasks

    def _task(self, row: int, content: tuple[Any, ...], number: str) -> None:
        tasks = self.out.tasks.setdefault(number, {})
        order = self.out.orders[number]
        cell = self._cell(content, "task")
        task = (
            _text(cell, LONGEST["task"])
            if cell is not None
            else str(10 * (len(tasks) + 1))
            if "task" in self.at or "task_title" in self.at
            else "10"
        )
        _key("task", task)
        title = self._cell(content, "task_title")
        values = {
            "title": _text(title, 200) if title is not None else order["title"],
            **self._work(content, number),
        }
        if self._cell(content, "asset_state") is not None:
            values["asset_state"] = self._meaning("asset_state", self._cell(content, "asset_state"))
        after = self._cell(content, "after")
        if "after" in self.at:
            values["after"] = (
                tuple((p, 0.0) for p in re.split(r"[\s,;/+]+", _text(after, 200)) if p)
                if after is not None
                else ()
            )
        held = tasks.get(task)
        if held is None:
            tasks[task] = values
        elif held == values:
            self.again += 1
        elif "task" in self.at:
            raise _Wrong("task", f"{task} of {number} stands twice, and differently")
        else:
            raise _Wrong(
                "number",
                f"stands in row {self.out.rows[number]} already, and differently; is there a "
                "column with the number of the task?",
            )

    def _guessed(self, number: str, what: str) -> None:
        self.out.guessed.setdefault(number, set()).add(what)

    def _has_default_hours(self) -> bool:
        """Whether somebody said which hours hold where none are given."""
        return any(value and name.split(" ")[0] == "hours" for name, value in self.m.defaults.items())

    def _default_hours(self, kind: str | None = None) -> float | None:
        """Elapsed hours where none are given: of a kind of work, else of any; None where nothing was said of
        it."""
        said = self.m.defaults.get(f"hours {kind}") or self.m.defaults.get("hours")
        if not said:
            return None
        try:
            return float(said)
        except ValueError as bad:
            raise _Wrong("hours", f"{said!r} hours if missing are no figure") from bad

    def _work(self, content: tuple[Any, ...], number: str) -> dict[str, Any]:
        """Hours from start to end, and the crew need."""
        cell = self._cell(content, "hours")
        default = self._default_hours(self.out.orders[number]["kind"]) if cell is None else None
        if cell is None and default is None:
            raise _Wrong("hours", "is empty; say which hours hold if they are missing")
        if cell is None:
            self._guessed(number, "hours")
        try:
            given = cells.hours(cell, self.m.unit, self.m.decimals) if default is None else default
            people = cells.figure(self._cell(content, "people") or 1, self.m.decimals)
            level = cells.figure(self._cell(content, "level") or 1, self.m.decimals)
        except BadCell as bad:
            raise _Wrong("hours", str(bad)) from bad
        if people != int(people) or not 1 <= people <= 99:
            raise _Wrong("people", f"{people:g} is no number of people from 1 to 99")
        if level not in (1, 2, 3):
            raise _Wrong("level", f"{level:g} is no level from 1 to 3")
        elapsed = given / people if self.m.hours_are == "work" and default is None else given
        if not 0 < elapsed <= 2000:
            raise _Wrong("hours", f"{elapsed:g} h is not between 0 and 2000")
        word = self._cell(content, "craft")
        craft = self._meaning("craft", word) if word is not None else self.m.defaults.get("craft")
        if word is None and craft:
            self._guessed(number, "craft")
        if not craft:
            raise _Wrong("craft", "is empty; choose the craft that holds where none is given")
        return {"hours": round(elapsed, 4), "needs": ((craft, int(people), int(level), None),)}

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


class _Wrong(ValueError):
    def __init__(self, name: str, text: str, word: str | None = None) -> None:
        super().__init__(text)
        self.field, self.word = name, word


def _key(name: str, text: str) -> None:
    """Raises _Wrong for what no WO, or no task, can be known by."""
    fault = key_fault(text, WITHOUT[name])
    if fault:
        raise _Wrong(name, fault)


def _text(cell: Any, longest: int) -> str:
    if isinstance(cell, float) and cell.is_integer():
        cell = int(cell)
    text = " ".join(str(cell).split()) if longest < 4000 else str(cell).strip()
    return BAD.sub("", text)[:longest]
