"""Tasks of work orders, with their hours, crew needs and order."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence

from nundine.core.week.problem import After
from nundine.core.week.problem import Task as CoreTask
from nundine.core.work import in_order
from nundine.services.exchange.cells import (
    checklist,
    follows,
    key,
    names,
    needs,
    number,
    one_of,
    outside,
    parts,
    text,
    yes_no,
)
from nundine.services.exchange.kinds.kind import (
    KEY,
    CheckAll,
    Column,
    Fault,
    Given,
    Kind,
    Known,
    Standing,
    as_read,
)
from nundine.services.ledger.noun import Row
from nundine.store.work_order import TASK_STATES

LISTS = ("outside", "checklist", "parts")


def check(row: Row, known: Known) -> Iterator[Fault]:
    if not row["needs"] and not row["outside"]:
        yield "needs", "is empty, and nobody from outside does it"
    for craft, *_ in row["needs"]:
        if craft not in known["crafts"]:
            yield "needs", f"craft {craft!r} is unknown"
    for tool in row["tools"]:
        if tool not in known["tools"]:
            yield "tools", f"tool {tool!r} is unknown"
    for part, _, _, store, _ in row["parts"]:
        if part is not None and part not in known["parts"]:
            yield "parts", f"part {part!r} is unknown"
        if store is not None and store not in known["storerooms"]:
            yield "parts", f"storeroom {store!r} is unknown"


def check_order(kind: str, owner: str) -> CheckAll:
    """Tasks of one owner, a WO or a job plan, may not follow each other in a circle or follow one that is not
    there.

    Parameters
    ----------
    kind
        Of the tasks.
    owner
        The column that names what they belong to.
    """

    def check_all(
        rows: Sequence[Given], _: Mapping[str, Sequence[Given]], before: Standing
    ) -> Iterator[tuple[Given, Fault]]:
        owners: dict[str, dict[str, Row]] = defaultdict(dict)
        touched = {g.values[owner]: g for g in rows}
        for (name, task), values in before[kind].items():
            if name in touched:
                owners[name][task] = values
        for g in rows:
            owners[g.values[owner]][g.values["task"]] = g.values
        for name, tasks in owners.items():
            try:
                in_order(
                    [
                        CoreTask(t, 1.0, after=tuple(After(b, lag) for b, lag in v["after"]))
                        for t, v in tasks.items()
                    ]
                )
            except ValueError as bad:
                yield touched[name], ("after", f"{name}: {bad}")

    return check_all


KIND = Kind(
    "tasks",
    ("number", "task"),
    (
        Column("number", KEY, refers="work_orders", example="WO-1042"),
        Column("task", key(20, ";+/"), example="10"),
        Column("title", text(200), example="Exchange bearing"),
        Column("text", text(4000), ""),
        Column("hours", number(0.01, 2000), example="2.5"),
        Column("asset_state", one_of("stopped", "running", "any"), "any", example="stopped"),
        Column("after", follows, ()),
        Column("splittable", yes_no, False, example="no"),
        Column("min_portion", number(0.25, 24), 1.0, example="1"),
        Column("needs", needs, (), example="mech x2 level 2"),
        Column("tools", names, ()),
        Column("outside", outside, ()),
        Column("checklist", checklist, ()),
        Column("parts", parts, ()),
        Column("state", one_of(*TASK_STATES), "to do"),
    ),
    "task",
    names=("crafts", "tools", "parts", "storerooms"),
    looks_at=("tasks",),
    check=check,
    check_all=check_order("tasks", "number"),
    complete=as_read(*LISTS),
)
