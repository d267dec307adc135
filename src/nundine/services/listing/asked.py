"""Questions as documents, as views and runs keep them."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from nundine.services.listing.question import Filter, Question, Sort


def question_document(one: Question) -> dict[str, Any]:
    """A question as JSON."""
    return asdict(one)


def question_of(document: dict[str, Any]) -> Question:
    """A question from a document of the shape that `question_document` makes."""
    return Question(
        tuple(Filter(f["column"], f["how"], tuple(f["values"])) for f in document["filters"]),
        document["find"],
        tuple(Sort(s["column"], s["down"]) for s in document["sort"]),
        document["group"],
    )
