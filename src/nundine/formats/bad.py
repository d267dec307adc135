"""What is wrong with a file of somebody's."""

from __future__ import annotations


class BadFile(ValueError):
    """A file that can not be read as tables: what, and what to do."""


class BadCell(ValueError):
    """Why a cell can not be understood, and how to write it."""
