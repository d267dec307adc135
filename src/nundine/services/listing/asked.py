"""Questions as documents, as views and runs keep them."""

from __future__ import annotations

from typing import Any

from nundine.services.listing.question import Filter, Question, Sort


def question_document(one: Question) -> dict[str, Any]:
    """A question as JSON."""
    return {
        "filters": [{"column": f.column, "how": f.how, "values": list(f.values)} for f in one.filters],
        "find": one.find,
        "sort": [{"column": s.column, "down": s.down} for s in one.sort],
        "group": one.group,
    }


def question_of(document: dict[str, Any]) -> Question:
    """A question from what `question_document` made."""
    return Question(
        tuple(Filter(f["column"], f["how"], tuple(f["values"])) for f in document["filters"]),
        document["find"],
        tuple(Sort(s["column"], s["down"]) for s in document["sort"]),
        document["group"],
    )
