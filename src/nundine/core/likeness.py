"""How alike two short texts are: what offers requests and WOs that may say the same."""

from __future__ import annotations

import re
import unicodedata

STEM, SHORTEST = 5, 3
"""Letters by which words are compared, so that endings do not matter; shorter words say nothing."""


def stems(text: str) -> frozenset[str]:
    """The beginnings of the words of a text, without capitals and accents."""
    plain = unicodedata.normalize("NFKD", text.casefold())
    plain = "".join(c for c in plain if not unicodedata.combining(c))
    return frozenset(w[:STEM] for w in re.findall(r"\w+", plain) if len(w) >= SHORTEST)


def likeness(one: str, other: str) -> float:
    """Shared stems of all stems of both, from 0 to 1 (the Jaccard index); 0 where a text has none."""
    a, b = stems(one), stems(other)
    return len(a & b) / len(a | b) if a and b else 0.0
