"""Why scheduled work was not finished, as far as it follows from what is known of the week."""

from __future__ import annotations

from dataclasses import dataclass

PART, ASSET, PERSON, OVERRUN, PUSHED_OUT = (
    "part missing",
    "asset not free",
    "person missing",
    "more work than planned",
    "other work came in",
)
"""Reasons that can be known (common practice, no source)."""


@dataclass(frozen=True)
class Circumstances:
    """What is known of a WO that was not finished."""

    parts_missing: bool = False
    asset_not_free: bool = False
    person_missing: bool = False
    overrun: bool = False
    pushed_out: bool = False


def known_reason(known: Circumstances) -> str | None:
    """The reason that comes first in the course of a job; None where nothing is known."""
    for reason, holds in (
        (PUSHED_OUT, known.pushed_out),
        (PART, known.parts_missing),
        (ASSET, known.asset_not_free),
        (PERSON, known.person_missing),
        (OVERRUN, known.overrun),
    ):
        if holds:
            return reason
    return None
