"""Names of people by their keys."""

from __future__ import annotations

from nundine.services.ledger.records import person as person_row
from nundine.store.roster import Person


def people_names() -> dict[str, str]:
    return {p.key: p.name for p in Person.select(Person.key, Person.name)}


def name_of(key: str) -> str:
    """Raises Refused for a key that nobody has."""
    return str(person_row(key).name)
