"""The kinds of records that can be brought in and taken out: their columns, and how each cell is read."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.priority import KINDS as WORK_KINDS
from nundine.formats.bad import BadCell
from nundine.services.exchange.cells import (
    Read,
    blank,
    certificates,
    clock,
    crafts,
    day,
    follows,
    key,
    moment,
    names,
    needs,
    number,
    one_of,
    text,
    whole,
    yes_no,
)
from nundine.store.work_order import PERMITS, STATES, TASK_STATES


@dataclass(frozen=True)
class Column:
    """`default` stands for an empty cell; REQUIRED = must be filled. `refers`: the kind that must know the
    value."""

    name: str
    read: Read
    default: Any = "REQUIRED"
    refers: str | None = None
    example: str = ""


@dataclass(frozen=True)
class Kind:
    """One table of a file. `key`: the columns that tell rows apart."""

    name: str
    key: tuple[str, ...]
    columns: tuple[Column, ...]


KEY, NAME = key(40), text(160)
PERSON, ASSET, PLAIN_KEY, TASK = key(40, ";/"), key(60), key(40, ";:/", blanks=False), key(20, ";+/")
"""Keys of crafts stand in cells like `mech:2; weld:1`, those of tasks in `10+2.5; 20`, and both in
addresses."""
KINDS: dict[str, Kind] = {
    k.name: k
    for k in (
        Kind(
            "areas",
            ("area",),
            (Column("area", KEY, example="north"), Column("name", text(120), example="North valley")),
        ),
        Kind(
            "ways",
            ("from", "to"),
            (
                Column("from", KEY, refers="areas"),
                Column("to", KEY, refers="areas"),
                Column("minutes", whole(0, 600)),
            ),
        ),
        Kind(
            "crafts",
            ("craft",),
            (
                Column("craft", PLAIN_KEY, example="mech"),
                Column("name", text(120), example="Ropeway mechanic"),
                Column("held_back", number(0, 1), 0.0, example="0.15"),
            ),
        ),
        Kind(
            "tools",
            ("tool",),
            (
                Column("tool", KEY, example="crane"),
                Column("name", text(120), example="Mobile crane"),
                Column("count", whole(0, 999), 1, example="1"),
            ),
        ),
        Kind(
            "assets",
            ("asset",),
            (
                Column("asset", ASSET, example="lift-3"),
                Column("name", NAME, example="Saddle chairlift"),
                Column("area", KEY, refers="areas", example="north"),
                Column("parent", ASSET, None, "assets"),
                Column("criticality", whole(1, 10), 5, example="8"),
                Column("limited", yes_no, False, example="yes"),
                Column("one_job_at_a_time", yes_no, False, example="no"),
            ),
        ),
        Kind(
            "windows",
            ("asset", "kind", "start"),
            (
                Column("asset", ASSET, refers="assets", example="lift-3"),
                Column("kind", one_of("work", "run"), example="work"),
                Column("start", moment, example="2026-11-30 21:00"),
                Column("end", moment, example="2026-12-01 05:00"),
            ),
        ),
        Kind(
            "people",
            ("person",),
            (
                Column("person", PERSON, example="p01"),
                Column("name", text(120), example="Ilse Brandner"),
                Column("area", KEY, None, "areas", "north"),
                Column("crew", text(60), None, example="North 1"),
                Column("crafts", crafts, example="mech:3"),
                Column("certificates", certificates, (), example="rope:2027-01-31"),
            ),
        ),
        Kind(
            "shifts",
            ("pattern", "day", "start"),
            (
                Column("pattern", KEY, example="early"),
                Column("cycle_days", whole(1, 366), 7, example="7"),
                Column("day", whole(1, 366), example="1"),
                Column("start", clock, example="06:00"),
                Column("end", clock, example="14:00"),
                Column("standing_minutes", whole(0, 600), 0, example="15"),
            ),
        ),
        Kind(
            "rosters",
            ("person", "first"),
            (
                Column("person", KEY, refers="people", example="p01"),
                Column("pattern", KEY, refers="patterns", example="early"),
                Column("first", day, example="2026-11-02"),
                Column("last", day, None),
            ),
        ),
        Kind(
            "absences",
            ("person", "start"),
            (
                Column("person", KEY, refers="people", example="p01"),
                Column("start", moment, example="2026-12-03 00:00"),
                Column("end", moment, example="2026-12-05 00:00"),
                Column("reason", one_of("sick", "leave", "training", "other"), "other", example="leave"),
            ),
        ),
        Kind(
            "overtime",
            ("person", "start"),
            (
                Column("person", KEY, refers="people", example="p01"),
                Column("start", moment, example="2026-12-05 07:00"),
                Column("end", moment, example="2026-12-05 13:00"),
            ),
        ),
        Kind(
            "work_orders",
            ("number",),
            (
                Column("number", KEY, example="WO-1042"),
                Column("title", text(200), example="Replace sheave bearing"),
                Column("asset", ASSET, refers="assets", example="lift-3"),
                Column("kind", one_of(*WORK_KINDS), example="corrective"),
                Column("state", one_of(*STATES), "approved", example="approved"),
                Column("raised", day, example="2026-10-12"),
                Column("must", yes_no, False, example="no"),
                Column("divisible", yes_no, False, example="no"),
                Column("put_back", yes_no, False, example="no"),
                Column("earliest", moment, None),
                Column("due", moment, None, example="2026-12-04 18:00"),
                Column("latest", moment, None),
                Column("parts_ready", day, None),
                Column("parts_unknown", yes_no, False, example="no"),
                Column("permit", one_of(*PERMITS), "not needed", example="not needed"),
                Column("description", text(4000), ""),
            ),
        ),
        Kind(
            "tasks",
            ("number", "task"),
            (
                Column("number", KEY, refers="work_orders", example="WO-1042"),
                Column("task", TASK, example="10"),
                Column("title", text(200), example="Exchange bearing"),
                Column("hours", number(0.01, 2000), example="2.5"),
                Column("asset_state", one_of("stopped", "running", "any"), "any", example="stopped"),
                Column("after", follows, ()),
                Column("splittable", yes_no, False, example="no"),
                Column("min_portion", number(0.25, 24), 1.0, example="1"),
                Column("needs", needs, example="mech x2 level 2"),
                Column("tools", names, ()),
                Column("state", one_of(*TASK_STATES), "to do"),
            ),
        ),
    )
}


def read_cell(column: Column, cell: Any, zone: ZoneInfo) -> Any:
    """The value of a cell. Raises BadCell."""
    if blank(cell):
        if column.default == "REQUIRED":
            raise BadCell("is empty")
        return column.default
    return column.read(cell, zone)
