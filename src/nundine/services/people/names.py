"""People by their keys, and their names."""

from __future__ import annotations

from nundine.services.errors import Refused
from nundine.store.roster import Person


def person_row(key: str) -> Person:
    """Raises Refused for a key that nobody has."""
    found = Person.get_or_none(Person.key == key)
    if found is None:
        raise Refused("person", f"There is no person {key}.", field="person")
    return found


def people_names() -> dict[str, str]:
    """Name by key of everybody."""
    return dict(Person.select(Person.key, Person.name).tuples())


def name_of(key: str) -> str:
    """Raises Refused for a key that nobody has."""
    return str(person_row(key).name)
