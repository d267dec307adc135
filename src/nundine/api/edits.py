"""From an edit on the wire to the service that makes it."""

from __future__ import annotations

from nundine.api import shapes
from nundine.services import edits, mend
from nundine.services.log import Edit
from nundine.services.state import WeekState


def made_by(state: WeekState, e: shapes.AnyEdit) -> Edit:
    """The edit of the week that the wire asks for. Undo and redo are no edits of a state and are not taken here."""
    match e:
        case shapes.PutEdit():
            return edits.put(state, e.jobs, e.day)
        case shapes.MoveEdit():
            return edits.move(state, e.keys, e.day)
        case shapes.TakeOutEdit():
            return edits.take_out(state, e.jobs, e.next_week)
        case shapes.PinEdit():
            return edits.pin(state, e.keys, e.on)
        case shapes.GiveEdit():
            return edits.give(state, e.key, e.seat, e.person)
        case shapes.StartEdit():
            return edits.set_start(state, e.key, e.start)
        case shapes.MendEdit():
            return mend.edit(state, e.put_in)
        case shapes.StatusEdit():
            return edits.set_status(state, e.to)
        case shapes.AbsenceEdit():
            return edits.absence(state, e.person, e.day, e.reason)
        case shapes.PersonDayEdit(kind="back"):
            return edits.back(state, e.person, e.day)
        case shapes.PersonDayEdit(kind="free day"):
            return edits.free_day(state, e.person, e.day)
        case shapes.PersonDayEdit():
            return edits.cover_day(state, e.person, e.day)
        case _:
            raise TypeError(f"{e.kind} is no edit of a state")
