"""Findings of a plan as documents, with their words."""

from __future__ import annotations

from typing import Any

from nundine.core.week.asks import Ask
from nundine.core.week.files import Wording
from nundine.services.wording.findings import ask, conflict, helps, reason
from nundine.services.wording.names import Names


def in_words(names: Names) -> Wording:
    """How findings are told in files and answers, with these names."""
    return Wording(lambda f: reason(f, names), lambda f: helps(f, names), lambda f: conflict(f, names))


def ask_document(one: Ask, names: Names) -> dict[str, Any]:
    """An ask as it is kept: in words, with its alternatives."""
    return {
        "code": one.found.code,
        "text": ask(one.found, names),
        "facts": one.found.facts,
        "value": one.value,
        "hours": one.hours,
        "jobs": list(one.jobs),
        "confirmed": one.confirmed,
        "total_value": one.total_value,
        "total_hours": one.total_hours,
        "alternatives": [ask_document(other, names) for other in one.alternatives],
    }
