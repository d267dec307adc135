"""What a task asks its crew to check: entries with kinds of answer, and whether an answer lies out of limits.

An entry is written as one line: `Seals tight` is ticked, `Noise {none, slight, !loud}` is chosen (a choice
with `!` before it is out of limits), `Remarks [text]` is written, `Oil level [mm 12..18]` is a number with
its unit and limits, either of which may be left out.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

Answer = Literal["tick", "choice", "text", "number"]
TICKED = "done"
LIMITED = re.compile(r"^(?P<unit>[^\d.]*?)\s*(?:(?P<low>-?\d+(?:\.\d+)?)?\.\.(?P<high>-?\d+(?:\.\d+)?)?)?$")
LONGEST_TEXT = 1000
"""Letters of an answer in words."""


@dataclass(frozen=True)
class Entry:
    """One thing to check.

    Parameters
    ----------
    what
        In words.
    choices, bad
        What may be chosen, and which of that is out of limits.
    unit, low, high
        Of a number; None = no such limit.
    """

    what: str
    answer: Answer = "tick"
    choices: tuple[str, ...] = ()
    bad: tuple[str, ...] = ()
    unit: str = ""
    low: float | None = None
    high: float | None = None


def entry(line: str) -> Entry:
    """An entry as it is written. Raises ValueError, saying what is wrong."""
    line = " ".join(line.split())
    found = re.match(r"^(.*?)\s*(?:\{([^{}]*)\}|\[([^\[\]]*)\])?$", line)
    what, choices, number = found.groups() if found else (line, None, None)
    if not what or re.search(r"[\[\]{}]", what):
        raise ValueError(f"{line!r}: write what is checked, then {{one, two}} or [unit low..high]")
    if choices is not None:
        return _chosen(line, what, choices)
    if number is None:
        return Entry(what)
    return Entry(what, "text") if number.strip() == "text" else _number(line, what, number.strip())


def _chosen(line: str, what: str, choices: str) -> Entry:
    words = [c.strip() for c in choices.split(",") if c.strip(" !")]
    names = tuple(w.removeprefix("!").strip() for w in words)
    if len(names) < 2 or len(set(names)) < len(names):
        raise ValueError(f"{line!r}: name at least two different choices, like {{yes, !no}}")
    return Entry(what, "choice", names, tuple(w[1:].strip() for w in words if w.startswith("!")))


def _number(line: str, what: str, limits: str) -> Entry:
    found = LIMITED.match(limits)
    if found is None:
        raise ValueError(f"{line!r}: write a number's unit and limits like [mm 12..18] or [bar]")
    low, high = (float(found[side]) if found[side] else None for side in ("low", "high"))
    if low is not None and high is not None and low > high:
        raise ValueError(f"{line!r}: the lower limit lies above the upper one")
    return Entry(what, "number", unit=found["unit"].strip(), low=low, high=high)


def written(one: Entry) -> str:
    """An entry as the line that reads back equal."""
    if one.answer == "choice":
        return f"{one.what} {{{', '.join(('!' if c in one.bad else '') + c for c in one.choices)}}}"
    if one.answer == "text":
        return f"{one.what} [text]"
    if one.answer == "number":
        low, high = ("" if x is None else f"{x:g}" for x in (one.low, one.high))
        limits = f"{low}..{high}" if low or high else ""
        return f"{one.what} [{' '.join(w for w in (one.unit, limits) if w)}]"
    return one.what


def checked(one: Entry, answer: str) -> bool:
    """Whether an answer lies within limits. Raises ValueError for one that the entry does not take."""
    answer = answer.strip()
    if one.answer == "tick" and answer != TICKED:
        raise ValueError(f"{one.what}: it is ticked, nothing else")
    if one.answer == "choice":
        if answer not in one.choices:
            raise ValueError(f"{one.what}: choose one of {', '.join(one.choices)}")
        return answer not in one.bad
    if one.answer == "number":
        try:
            value = float(answer.replace(",", "."))
        except ValueError:
            raise ValueError(f"{one.what}: {answer!r} is not a number; write it like 12.5") from None
        if value != value or abs(value) == float("inf"):
            raise ValueError(f"{one.what}: {answer!r} is not a number; write it like 12.5")
        return not (one.low is not None and value < one.low or one.high is not None and value > one.high)
    if not answer or len(answer) > LONGEST_TEXT:
        raise ValueError(f"{one.what}: say it in up to {LONGEST_TEXT} letters")
    return True


def limits_in_words(one: Entry) -> str:
    """What an answer is to be: `12 to 18 mm`; empty where there are no limits."""
    if one.answer == "choice":
        return ", ".join(c for c in one.choices if c not in one.bad)
    low, high = ("" if x is None else f"{x:g}" for x in (one.low, one.high))
    words = f"{low} to {high}" if low and high else f"at least {low}" if low else f"at most {high}"
    return f"{words} {one.unit}".strip() if low or high else ""
