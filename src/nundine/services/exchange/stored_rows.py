"""Rows of each kind of file as they stand, and the changes of records that rows of files mean."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

from nundine.services.exchange.record_kinds import KINDS
from nundine.services.ledger.edits import Change
from nundine.services.ledger.noun import Key, Row
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.stored import changes_to

NOUN_OF = {
    "areas": "area",
    "ways": "way",
    "crafts": "craft",
    "tools": "tool",
    "assets": "asset",
    "windows": "window",
    "people": "person",
    "shifts": "shift",
    "rosters": "roster line",
    "absences": "absence",
    "overtime": "overtime",
    "work_orders": "work order",
    "tasks": "task",
}
"""The noun whose records the rows of a kind are. A row of shifts also says how long its pattern's cycle
is."""


def standing(kind: str) -> list[Row]:
    """All rows of a kind, in the order of the noun."""
    return _rows(kind, list(NOUNS[NOUN_OF[kind]].read().values()))


def _rows(kind: str, records: list[Row]) -> list[Row]:
    names = [c.name for c in KINDS[kind].columns]
    if kind == "shifts":
        cycles = {r["pattern"]: r["cycle_days"] for r in NOUNS["shift pattern"].read().values()}
        records = [{**r, "cycle_days": cycles[r["pattern"]]} for r in records]
    return [{n: r[n] for n in names} for r in records]


def standing_work(numbers: set[str]) -> tuple[dict[str, Row], dict[str, dict[str, Row]]]:
    """Rows of these WOs by number, and of their tasks by number and task."""
    keys = [(n,) for n in sorted(numbers)]
    orders = _rows("work_orders", list(NOUNS["work order"].read(keys).values()))
    tasks: dict[str, dict[str, Row]] = defaultdict(dict)
    of_these = NOUNS["task"].read_of(numbers) if numbers else {}
    for t in _rows("tasks", list(of_these.values())):
        tasks[t["number"]][t["task"]] = t
    return {r["number"]: r for r in orders}, dict(tasks)


def changes_of(changed: dict[str, list[Row]], before: dict[str, list[Row]] | None = None) -> list[Change]:
    """What parsed rows by kind change of records.

    Parameters
    ----------
    before
        Rows of kinds as they stand, where the caller has read them.
    """
    out: list[Change] = []
    for kind in KINDS:
        rows = changed.get(kind)
        if not rows:
            continue
        noun = NOUNS[NOUN_OF[kind]]
        there: dict[Key, Row] | None = None
        if before is not None and kind in before:
            there = {noun.key_of(r): r for r in before[kind]}
        if kind == "shifts":
            cycles: dict[Key, Any] = {(r["pattern"],): {"cycle_days": r["cycle_days"]} for r in rows}
            out += changes_to("shift pattern", cycles)
        out += changes_to(noun.name, {noun.key_of(r): r for r in rows}, there)
    return out
