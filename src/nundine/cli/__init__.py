"""The command line: `nundine COMMAND`."""

from __future__ import annotations

import sys
from importlib import import_module

from nundine.cli import week_files
from nundine.cli.app import app


def main() -> None:
    """Run what was typed. Commands on files answer without loading the parts of the site, which takes
    seconds."""
    on_files = {one.callback.__name__ for one in app.registered_commands if one.callback}
    if not on_files & set(sys.argv[1:2]):
        import_module("nundine.cli.site")
        import_module("nundine.cli.apart")
    app()


__all__ = ["app", "main", "week_files"]
