"""Days as people keep them in a question: a date, or one that moves with today or with the week looked at."""

from __future__ import annotations

import re
from datetime import date, timedelta

RELATIVE = re.compile(r"(today|week)(?:([+-])(\d{1,4}))?")


def day_of(text: str, today: date, monday: date) -> date:
    """The day that a text names.

    Parameters
    ----------
    text
        `2026-12-01`; `today`, `today-7`, `today+14` (days from today); `week`, `week+7` (days from the first
        day of the week looked at).

    Raises
    ------
    ValueError
        For any other text, naming it.
    """
    found = RELATIVE.fullmatch(text.strip().lower())
    if found is None:
        try:
            return date.fromisoformat(text.strip())
        except ValueError as bad:
            raise ValueError(
                f"{text[:40]!r} is no day; write 2026-12-01, today, today+7, week or week+7."
            ) from bad
    start, sign, days = found.groups()
    count = int(days or 0) * (-1 if sign == "-" else 1)
    return (today if start == "today" else monday) + timedelta(days=count)
