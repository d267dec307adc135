"""People and when they are there."""

from __future__ import annotations

from nundine.services.ledger.lists import CERTIFICATES, CRAFTS
from nundine.services.ledger.noun import END, NAME, Column, Key, Noun
from nundine.services.ledger.values import CLOCK, DAY, MOMENT
from nundine.store.roster import (
    Absence,
    ExtraShift,
    Loan,
    OvertimeOffer,
    PatternShift,
    Person,
    RosterLine,
    ShiftPattern,
)
from nundine.store.site import Area


def _of_person(key: Key) -> str:
    """Whoever the record is about."""
    found = Person.get_or_none(Person.key == key[0])
    return str(found.name) if found else str(key[0])


PEOPLE: tuple[Noun, ...] = (
    Noun(
        "person",
        Person,
        (Column("person", "person", of="key"),),
        (NAME, Column("area", "area", refers=Area), Column("crew", "crew")),
        _of_person,
        (CRAFTS, CERTIFICATES),
        order=(Person.key,),
        people=True,
        work=True,
    ),
    Noun(
        "shift pattern",
        ShiftPattern,
        (Column("pattern", "pattern", of="key"),),
        (Column("cycle_days", "days of its cycle"),),
        lambda key: f"Shift pattern {key[0]}",
        people=True,
    ),
    Noun(
        "shift",
        PatternShift,
        (
            Column("pattern", "pattern", refers=ShiftPattern),
            Column("day", "day", of="day_index", counts_from=1),
            Column("start", "start", CLOCK),
        ),
        (Column("end", "end", CLOCK), Column("standing_minutes", "standing minutes")),
        lambda key: f"The shift of {key[0]} on day {key[1]}",
        order=(PatternShift.pattern, PatternShift.day_index, PatternShift.start),
        people=True,
        owner="shift pattern",
    ),
    Noun(
        "roster line",
        RosterLine,
        (Column("person", "person", refers=Person), Column("first", "first day", DAY)),
        (Column("pattern", "pattern", refers=ShiftPattern), Column("last", "last day", DAY)),
        _of_person,
        order=(RosterLine.person, RosterLine.first),
        people=True,
    ),
    Noun(
        "absence",
        Absence,
        (Column("person", "person", refers=Person), Column("start", "start", MOMENT)),
        (
            END,
            Column("reason", "reason", matters=False),
            Column("stand_in", "stand-in", refers=Person, matters=False),
        ),
        _of_person,
        order=(Absence.person, Absence.start),
        people=True,
    ),
    Noun(
        "overtime",
        OvertimeOffer,
        (Column("person", "person", refers=Person), Column("start", "start", MOMENT)),
        (END,),
        _of_person,
        order=(OvertimeOffer.person, OvertimeOffer.start),
        people=True,
    ),
    Noun(
        "extra shift",
        ExtraShift,
        (Column("person", "person", refers=Person), Column("start", "start", MOMENT)),
        (END,),
        _of_person,
        order=(ExtraShift.person, ExtraShift.start),
        people=True,
    ),
    Noun(
        "loan",
        Loan,
        (Column("person", "person", refers=Person), Column("first", "first day", DAY)),
        (Column("last", "last day", DAY), Column("area", "area", refers=Area)),
        _of_person,
        order=(Loan.person, Loan.first),
        people=True,
    ),
)
