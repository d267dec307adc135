"""Names of people by their keys."""

from __future__ import annotations

from nundine.store.roster import Person


def people_names() -> dict[str, str]:
    return {p.key: p.name for p in Person.select(Person.key, Person.name)}
