"""What a person can do: crafts with their levels, certificates with their last valid day."""

from __future__ import annotations

from datetime import date

from nundine.services.errors import Refused
from nundine.services.ledger.edits import Change, Edit
from nundine.services.ledger.stored import stored
from nundine.services.people.names import name_of
from nundine.store.site import Craft

NOT_IN_NAMES = dict.fromkeys(map(ord, ";: \t\n"))
"""What parts certificates in a cell of a file."""


def skills(person: str, crafts: list[tuple[str, int]], certificates: list[tuple[str, date | None]]) -> Edit:
    """Crafts with levels, the main one first, and certificates with their last valid day."""
    name, known = name_of(person), {c.key for c in Craft.select(Craft.key)}
    if not crafts:
        raise Refused("craft", f"{name} needs at least one craft; the first is the main one.", field="crafts")
    for craft, level in crafts:
        if craft not in known:
            raise Refused("craft", f"There is no craft {craft}.", field="crafts")
        if not 1 <= level <= 3:
            raise Refused("level", "A level is 1 helper, 2 qualified or 3 lead.", field="crafts")
    for what in (crafts, certificates):
        if len({x[0] for x in what}) < len(what):
            raise Refused("twice", "A craft or certificate stands twice.", field="crafts")
    if any(not c.strip() or len(c) > 40 for c, _ in certificates):
        raise Refused("certificate", "A certificate has a name of 1 to 40 characters.", field="certificates")
    if any(c.strip() != c.strip().translate(NOT_IN_NAMES) for c, _ in certificates):
        raise Refused(
            "certificate",
            "The name of a certificate is one word, without colon and semicolon.",
            field="certificates",
        )
    held = sorted(
        ([c.strip(), until.isoformat() if until else None] for c, until in certificates),
        key=lambda c: str(c[0]),
    )
    after = {"crafts": [list(c) for c in crafts], "certificates": held}
    had = stored("person", [person]) or {}
    before = {field: had[field] for field in after}
    return Edit("skills", f"Crafts and certificates of {name}", [Change("person", [person], before, after)])
