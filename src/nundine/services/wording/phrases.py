"""Sentences with places for facts: how each kind of fact is written."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import date, datetime
from string import Formatter
from typing import Any

from nundine.services.wording.names import Names

MOST_NAMED = 3


def day_words(day: str | date) -> str:
    """`Tue 1 Dec`, of a day or of the day of a moment."""
    one = date.fromisoformat(day[:10]) if isinstance(day, str) else day
    return f"{one:%a} {one.day} {one:%b}"


def moment_words(moment: str | datetime) -> str:
    """`Tue 1 Dec 06:30`, in the zone that the moment is given in."""
    one = datetime.fromisoformat(moment) if isinstance(moment, str) else moment
    return f"{day_words(one)} {one:%H:%M}"


def span_words(start: str | datetime, end: str | datetime) -> str:
    """`Tue 1 Dec 06:30–10:00`; with both days where it ends on another."""
    a, b = (datetime.fromisoformat(m) if isinstance(m, str) else m for m in (start, end))
    return (
        f"{moment_words(a)}–{b:%H:%M}" if a.date() == b.date() else f"{moment_words(a)} to {moment_words(b)}"
    )


def need_words(facts: Mapping[str, Any], names: Names) -> str:
    """Craft, level and certificate of a need."""
    certificate = f" with {facts['certificate']}" if facts["certificate"] else ""
    return f"{names.called('craft', facts['craft'])} level {facts['level']}{certificate}"


def some_of(names: Iterable[str]) -> str:
    """The first few of many."""
    told = list(names)
    more = f" and {len(told) - MOST_NAMED} more" if len(told) > MOST_NAMED else ""
    return ", ".join(told[:MOST_NAMED]) + more


def all_of(names: Iterable[str]) -> str:
    """Names as a sentence lists them."""
    told = list(names)
    return " and ".join([", ".join(told[:-1]), told[-1]] if len(told) > 1 else told)


def times_words(count: int) -> str:
    """`once`, `twice`, `3 times`."""
    return {1: "once", 2: "twice"}.get(count, f"{count} times")


class Phrases(Formatter):
    """Fills sentences such as `{job} needs {asset:asset} for {hours:h}`: behind the colon stands how the fact
    is written."""

    def __init__(self, names: Names) -> None:
        self.names = names

    def format_field(self, value: Any, spec: str) -> str:
        match spec:
            case "h":
                return f"{value:g} h"
            case "n":
                return f"{value:g}"
            case "points":
                return f"{value:.0f}"
            case "who":
                return str(value) if value else "nobody"
            case "day":
                return day_words(value)
            case "moment":
                return moment_words(value)
            case "some":
                return some_of(value)
            case "all":
                return all_of(value)
            case "craft" | "asset" | "area" | "person":
                if isinstance(value, list):
                    return all_of(self.names.called(spec, v) for v in value)
                return self.names.called(spec, value)
        return super().format_field(value, spec)

    def fill(self, sentence: str, facts: Mapping[str, Any]) -> str:
        """The sentence with its facts; `{need}` and `{span}` are made of several."""
        more: dict[str, Any] = {}
        if "{need}" in sentence:
            more["need"] = need_words(facts, self.names)
        if "{span}" in sentence:
            more["span"] = span_words(facts["start"], facts["end"])
        return self.vformat(sentence, (), {**facts, **more})
