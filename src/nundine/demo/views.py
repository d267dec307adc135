"""Views of the backlog that the demo's scheduler shares."""

from __future__ import annotations

from typing import Any

from nundine.services import all_lists
from nundine.services.listing.views import Wanted, make, pin, views_of
from nundine.store.account import Account

assert all_lists.DECLARING  # the views are of lists that must be known
BACKLOG, OWNER = "backlog", "sven"
PINNED = "Overdue must-work"
BY_PRIORITY = [{"column": "priority", "down": True}]
COLUMNS = ["priority", "number", "title", "asset", "gates", "hours", "due", "placed"]


def _filter(column: str, how: str, *values: str) -> dict[str, Any]:
    return {"column": column, "how": how, "values": list(values)}


SHARED: tuple[tuple[str, list[dict[str, Any]], list[str]], ...] = (
    (PINNED, [_filter("must", "is", "yes"), _filter("due", "between", "", "today-1")], COLUMNS),
    ("Overdue by priority", [_filter("due", "between", "", "today-1")], COLUMNS),
    (
        "Placed without a crew",
        [_filter("open_seats", "between", "1", "")],
        ["priority", "number", "title", "asset", "hours", "open_seats", "placed"],
    ),
    (
        "Not reported back",
        [_filter("not_reported", "between", "1", "")],
        ["priority", "number", "title", "asset", "hours", "not_reported", "placed", "state"],
    ),
)
"""Title, filters and columns of each."""


def share() -> None:
    """Make the views; the count of one stands in its owner's rail."""
    owner = Account.get(Account.name == OWNER)
    for title, filters, columns in SHARED:
        question = {"filters": filters, "sort": BY_PRIORITY, "group": None, "find": ""}
        body = {"question": question, "columns": columns, "widths": {}, "dense": False}
        make(owner, BACKLOG, Wanted(title, True, None, body))
    for view in views_of(owner, BACKLOG):
        if view.title == PINNED:
            pin(owner, view.key, True)
