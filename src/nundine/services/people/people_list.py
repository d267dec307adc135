"""People as a list: crafts, crew, area, certificates that end."""

from __future__ import annotations

from collections import defaultdict
from datetime import datetime, time, timedelta
from typing import Any

from peewee import JOIN

from nundine.services.access import READ
from nundine.services.listing.choices import areas, crafts
from nundine.services.listing.column import Column, by_truth
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.store.roster import Absence, Person, PersonCertificate, PersonCraft
from nundine.store.site import Area, Craft


@listing("people", "People", READ)
def people(around: Around) -> Listing:
    """Everybody on the roster."""
    main: Any = PersonCraft.alias("main")

    def has_craft(values: tuple[str, ...]) -> Any:
        having = PersonCraft.select(PersonCraft.person).join(Craft).where(Craft.key.in_(list(values)))
        return Person.id.in_(having)

    away = Person.id.in_(_away(around).select(Absence.person))

    columns = (
        Column("person", "Person", "text", Person.key, find=True, width=110, weight=2),
        Column("name", "Name", "text", Person.name, find=True, width=200, weight=1),
        Column("craft", "Main craft", "choice", Craft.key, ("main", "craft"), group=True, width=150, weight=1,
               choices=crafts),
        Column("crafts", "Crafts and levels", "marks", width=190, weight=3, choices=crafts, asked=has_craft),
        Column("crew", "Crew", "text", Person.crew, find=True, group=True, width=120, weight=2),
        Column("area", "Home area", "choice", Area.key, ("area",), group=True, width=120, weight=2,
        choices=areas),
        Column("certificates", "Certificates", "marks", width=220, weight=4),
        Column("away", "Away this week", "yes", None, width=96, weight=2, asked=by_truth(away)),
    )  # fmt: skip
    joins = {
        "main": lambda q: q.join(
            main, JOIN.LEFT_OUTER, on=(Person.id == main.person) & (main.rank == 0), src=Person
        ),
        "craft": lambda q: q.join(Craft, JOIN.LEFT_OUTER, on=main.craft == Craft.id, src=main),
        "area": lambda q: q.join(Area, JOIN.LEFT_OUTER, on=Person.area == Area.id, src=Person),
    }

    def more(ids: list[int]) -> dict[int, dict[str, Any]]:
        levels: dict[int, dict[str, int]] = defaultdict(dict)
        rows = PersonCraft.select(PersonCraft.person, Craft.key, PersonCraft.level).join(Craft)
        for who, craft, level in rows.where(PersonCraft.person.in_(ids)).order_by(PersonCraft.rank).tuples():
            levels[who][craft] = level
        held: dict[int, list[str]] = defaultdict(list)
        own = PersonCertificate.select().where(PersonCertificate.person.in_(ids))
        for c in own.order_by(PersonCertificate.certificate):
            until = f" to {c.until.isoformat()}" if c.until else ""
            held[c.person_id].append(f"{c.certificate}{until}")
        gone = {
            who for (who,) in _away(around).select(Absence.person).where(Absence.person.in_(ids)).tuples()
        }
        return {
            i: {"crafts": levels.get(i, {}), "certificates": held.get(i, []), "away": i in gone} for i in ids
        }

    return Listing(columns, Person.select(), Person.id, "person", joins, (Sort("name"),), more)


def _away(around: Around) -> Any:
    """Absences that touch the week looked at."""
    start = datetime.combine(around.monday, time(), around.zone)
    end = datetime.combine(around.monday + timedelta(days=7), time(), around.zone)
    return Absence.select().where((Absence.start < end) & (Absence.end > start))
