"""What goes wrong on the machine itself."""

from __future__ import annotations


class CannotStart(RuntimeError):
    """Says what is wrong and what to type."""
