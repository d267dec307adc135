"""What a command wants: changes of records, each with what was before and is to be after, and what they
touch."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import Any

from nundine.core.lifecycle import HAND
from nundine.services.ledger.nouns import ELSEWHERE, PLACEMENT
from nundine.store.placement import Key as PlacementKey


@dataclass
class Change:
    """One record before and after, in encoded fields; None = not there. `noun`: placement, elsewhere, or one
    of NOUNS.

    Where it is there before and after, both hold the fields that change, and may hold more. `derived`: it
    follows from the others, so it is not taken back but follows anew.
    """

    noun: str
    key: list[Any]
    before: dict[str, Any] | None
    after: dict[str, Any] | None
    derived: bool = False

    def inverse(self) -> Change:
        return Change(self.noun, self.key, self.after, self.before)


@dataclass
class Edit:
    """What a command wants: changes, and the jobs and person-days that it touches; `notes` tell what it could
    not do."""

    kind: str
    label: str
    changes: list[Change]
    touches: set[str] = field(default_factory=set)
    notes: tuple[str, ...] = ()
    by: str = HAND
    """What moves records from state to state: see `core.lifecycle`."""

    def all_touches(self) -> set[str]:
        return self.touches.union(*(touched_by(c) for c in self.changes))


OF_A_JOB = (PLACEMENT, "task", "work order")


OF_ITSELF = ("person", "area", "craft", "tool", "asset", "site", "account", "view")


def touched_by(c: Change) -> set[str]:
    """Jobs, person-days, persons and windows that a change touches."""
    found = set()
    if c.noun in OF_A_JOB:
        found.add(f"job {c.key[0]}")
    elif c.noun == ELSEWHERE:
        found.add(f"job {c.key[1]}")
    elif c.noun == "week":
        found.add("week")
    elif c.noun == "window":
        found.add(f"window {' '.join(c.key)}")
    elif c.noun in OF_ITSELF:
        found.add(f"{c.noun} {c.key[0]}")
    else:
        found.add(f"person {c.key[0]} {str((c.after or c.before or {}).get('day', ''))}")
    for side in (c.before, c.after):
        if c.noun == PLACEMENT and side:
            found |= {f"person {seat['id']} {side['day']}" for seat in side["people"] if seat["id"]}
    return found


def placement_key(key: list[Any]) -> PlacementKey:
    """The key of a placement as rows of the week have it."""
    return (str(key[0]), str(key[1]), int(key[2]))


def by_noun(changes: Iterable[Change]) -> dict[str, list[Change]]:
    """Changes by what they change."""
    out: dict[str, list[Change]] = {}
    for c in changes:
        out.setdefault(c.noun, []).append(c)
    return out
