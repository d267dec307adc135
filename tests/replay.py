"""What all commands of a week together say is stored."""

from __future__ import annotations

from typing import Any

from nundine.store.week import Command, Week


def commands_of(week: Week) -> list[Command]:
    """In the order in which they were made."""
    return list(Command.select().where(Command.week == week).order_by(Command.seq))


def said_by_log(week: Week) -> dict[tuple[str, str, int], dict[str, Any]]:
    """Placements by key, as the log leads to them from an empty week."""
    said: dict[tuple[str, str, int], dict[str, Any]] = {}
    for c in commands_of(week):
        for change in c.changes:
            if change["entity"] == "placement":
                key = (change["id"][0], change["id"][1], int(change["id"][2]))
                said.pop(key, None)
                if change["after"] is not None:
                    said[key] = change["after"]
    return said
