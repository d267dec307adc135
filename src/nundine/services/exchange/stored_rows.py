"""Rows of each kind of file as they stand, and the changes of records that rows of files mean."""

from __future__ import annotations

from collections import defaultdict

from nundine.services.exchange.kinds import KINDS
from nundine.services.ledger.edits import Change
from nundine.services.ledger.noun import Row
from nundine.services.ledger.nouns import NOUNS


def standing(kind: str) -> list[Row]:
    """All rows of a kind, in the order of the noun."""
    return KINDS[kind].standing()


def standing_work(numbers: set[str]) -> tuple[dict[str, Row], dict[str, dict[str, Row]]]:
    """Rows of these WOs by number, and of their tasks by number and task."""
    keys = [(n,) for n in sorted(numbers)]
    orders = KINDS["work_orders"].rows(list(NOUNS["work order"].read(keys).values()))
    tasks: dict[str, dict[str, Row]] = defaultdict(dict)
    of_these = NOUNS["task"].read_of(numbers) if numbers else {}
    for t in KINDS["tasks"].rows(list(of_these.values())):
        tasks[t["number"]][t["task"]] = t
    return {r["number"]: r for r in orders}, dict(tasks)


def changes_of(changed: dict[str, list[Row]], before: dict[str, list[Row]] | None = None) -> list[Change]:
    """What parsed rows by kind change of records.

    Parameters
    ----------
    before
        Rows of kinds as they stand, where the caller has read them.
    """
    return [
        change
        for name, kind in KINDS.items()
        if changed.get(name)
        for change in kind.changes(changed[name], (before or {}).get(name))
    ]
