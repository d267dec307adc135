"""What the core finds, before anybody words it: a code and the facts behind it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True)
class Finding:
    """Why a job is left out, what would let it in, which rule is broken, what stands in somebody's way.

    Parameters
    ----------
    code
        What it is about, for programs: stable from version to version.
    facts
        Figures, keys of records, and moments and days as ISO 8601 texts: plain values of JSON. Where one code
        stands for several findings, `how` says which.
    """

    code: str
    facts: dict[str, Any] = field(default_factory=dict)

    @property
    def name(self) -> str:
        """The code, and which of its findings it is where there are several."""
        return f"{self.code}, {self.facts['how']}" if "how" in self.facts else self.code
