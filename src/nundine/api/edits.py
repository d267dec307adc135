"""From an edit on the wire to the service that makes it."""

from __future__ import annotations

from nundine.api import shapes
from nundine.services import edits, mend, people
from nundine.services.log import Edit
from nundine.services.state import WeekState


def made_by(state: WeekState, e: shapes.AnyEdit) -> Edit:
    """The edit of the week that the wire asks for. Undo and redo are no edits of a state and are not taken here."""
    match e:
        case shapes.PutEdit():
            return edits.put(state, e.jobs, e.day)
        case shapes.MoveEdit():
            return edits.move(state, e.keys, e.day, e.whole)
        case shapes.TakeOutEdit():
            return edits.take_out(state, e.jobs)
        case shapes.NextWeekEdit():
            return edits.into_next_week(state, e.jobs, e.day)
        case shapes.PinEdit():
            return edits.pin(state, e.keys, e.on)
        case shapes.GiveEdit():
            return edits.give(state, e.key, e.seat, e.person)
        case shapes.ExchangeEdit():
            return edits.exchange(state, e.key, e.seat, e.person)
        case shapes.StartEdit():
            return edits.set_start(state, e.key, e.clock)
        case shapes.MendEdit():
            return mend.edit(state, e.put_in)
        case shapes.StatusEdit():
            return edits.set_status(state, e.to)
        case shapes.AbsenceEdit():
            return people.absence(state, e.person, e.day, e.reason, e.start, e.end)
        case shapes.ExtraHoursEdit():
            return people.extra_hours(state, e.person, e.day, e.kind, e.start, e.end)
        case shapes.LendEdit():
            return people.lend(state, e.person, e.area, e.first, e.last)
        case shapes.TakeBackEdit():
            return people.take_back(state, e.person, e.day, e.what, e.start)
        case shapes.SkillsEdit():
            return people.skills(e.person, e.crafts, e.certificates)
        case shapes.PersonDayEdit(kind="back"):
            return people.back(state, e.person, e.day)
        case shapes.PersonDayEdit(kind="free day"):
            return people.free_day(state, e.person, e.day)
        case shapes.PersonDayEdit():
            return people.cover_day(state, e.person, e.day)
        case _:
            raise TypeError(f"{e.kind} is no edit of a state")
