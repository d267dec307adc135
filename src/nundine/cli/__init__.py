"""The command line: `nundine COMMAND`."""

from nundine.cli import site, week_files
from nundine.cli.app import app

__all__ = ["app", "site", "week_files"]
