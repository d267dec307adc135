"""The command line: `nundine COMMAND`."""

from __future__ import annotations

import sys
from importlib import import_module

from nundine.cli import week_files
from nundine.cli.app import app

ON_FILES = ("solve", "check", "mend", "explain", "asks")


def main() -> None:
    """Run what was typed. Commands on files answer without loading the parts of the site, which takes seconds."""
    if sys.argv[1:2] and sys.argv[1] in ON_FILES:
        app()
    import_module("nundine.cli.site")
    app()


__all__ = ["app", "main", "week_files"]
