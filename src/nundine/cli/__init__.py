"""The command line: `nundine COMMAND`."""

from __future__ import annotations

import sys
from importlib import import_module

from nundine.cli.app import app

ROOMS = {
    "week_files": ("solve", "check", "mend", "explain", "asks"),
    "document": ("openapi",),
    "apart": ("migrate", "web", "worker"),
    "site": (
        "demo", "serve", "reset", "import", "export", "backup", "restore", "backup-keys", "account", "site",
        "factor-off", "feed",
    ),
}  # fmt: skip
"""Commands by the module that has them: to load all takes seconds, and a start waits for it."""


def main() -> None:
    """Run what was typed, with the module of that command alone; with all where help is asked for."""
    typed = sys.argv[1] if len(sys.argv) > 1 else ""
    rooms = [room for room, commands in ROOMS.items() if typed in commands]
    for room in rooms or ROOMS:
        import_module(f"nundine.cli.{room}")
    app()


__all__ = ["ROOMS", "app", "main"]
