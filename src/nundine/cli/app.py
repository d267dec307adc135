"""The command line itself, and how commands speak and end."""

from __future__ import annotations

import typer
from rich.console import Console

app = typer.Typer(
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_show_locals=False,
    help="Builds the weekly crew schedule.",
)
console = Console(stderr=True, soft_wrap=True)

FAILED, BAD_FILE, BROKEN_RULES, NOT_MENDED = 1, 2, 3, 4


@app.callback()
def nundine() -> None:
    """Builds the weekly crew schedule."""


def say(text: str, code: int) -> int:
    """Print a sentence; gives back the exit code that goes with it."""
    console.print(text, style="bold", markup=False, highlight=False)
    return code
