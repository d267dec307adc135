"""What an export did not say of a WO, and was taken by default, until somebody says it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

KIND, HOURS, CRAFT = "kind", "hours", "craft"
OF_TASKS = {HOURS: "hours", CRAFT: "needs"}
"""Fields of tasks by what was guessed of them."""


def still_guessed(
    imported: Mapping[str, Any] | None, kind: str, tasks: Mapping[str, Mapping[str, Any]]
) -> list[str]:
    """What stands as it was guessed: kind, hours, craft.

    Parameters
    ----------
    imported
        What the export told last, with what of it was guessed; None for a WO that came in by none.
    tasks
        Of each task as it is now its `hours` and `needs`, as the export has them.
    """
    if not imported:
        return []
    told = imported.get("tasks", {})

    def stands(what: str) -> bool:
        if what == KIND:
            return bool(imported["fields"].get("kind") == kind)
        field = OF_TASKS[what]
        return any(
            task in tasks and _same(tasks[task][field], values.get(field)) for task, values in told.items()
        )

    return [what for what in imported.get("guessed", ()) if what in (KIND, *OF_TASKS) and stands(what)]


def _same(now: Any, told: Any) -> bool:
    """Whether a field is as it was told; hours to the second."""
    if isinstance(now, (int, float)) and isinstance(told, (int, float)):
        return abs(now - told) < 1 / 3600
    return bool(now == told)
