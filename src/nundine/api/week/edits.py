"""From an edit on the wire to the service that makes it."""

from __future__ import annotations

from nundine.api import schemas
from nundine.services.ledger.edits import Edit
from nundine.services.people import cover, giving, hours, skills
from nundine.services.week import edits, mend
from nundine.services.week.state import WeekState


def made_by(state: WeekState, e: schemas.AnyEdit) -> Edit:
    """The edit of the week that the wire asks for. Undo and redo are no edits of a state and are not taken
    here."""
    match e:
        case schemas.PutEdit():
            return edits.put(state, e.jobs, e.day, e.clock)
        case schemas.MoveEdit():
            return edits.move(state, e.keys, e.day, e.whole)
        case schemas.TakeOutEdit():
            return edits.take_out(state, e.jobs)
        case schemas.NextWeekEdit():
            return edits.into_next_week(state, e.jobs, e.day)
        case schemas.PinEdit():
            return edits.pin(state, e.keys, e.on)
        case schemas.GiveEdit():
            return edits.give(state, e.key, e.seat, e.person)
        case schemas.GiveAllEdit():
            return giving.give_all_edit(
                state, giving.Chosen(e.jobs, e.keys), giving.Taker(e.person, e.crew), e.despite
            )
        case schemas.ExchangeEdit():
            return edits.exchange(state, e.key, e.seat, e.person)
        case schemas.StartEdit():
            return edits.set_start(state, e.key, e.clock)
        case schemas.MendEdit():
            return mend.edit(state, e.put_in)
        case schemas.StatusEdit():
            return edits.set_status(state, e.to)
        case schemas.AbsenceEdit():
            at = e.start, e.end, e.last
            return hours.absence(state, e.person, e.day, e.reason, *at, stand_in=e.stand_in)
        case schemas.ExtraHoursEdit():
            return hours.extra_hours(state, e.person, e.day, e.kind, e.start, e.end)
        case schemas.LendEdit():
            return hours.lend(state, e.person, e.area, e.first, e.last)
        case schemas.TakeBackEdit():
            return hours.take_back(state, e.person, e.day, e.what, e.start)
        case schemas.SkillsEdit():
            return skills.skills(e.person, e.crafts, e.certificates)
        case schemas.PersonDayEdit(kind="back"):
            return hours.back(state, e.person, e.day)
        case schemas.PersonDayEdit(kind="free day"):
            return cover.free_days(state, e.person, e.day, e.last)
        case schemas.PersonDayEdit():
            return cover.cover_days(state, e.person, e.day, e.last)
        case _:
            raise TypeError(f"{e.kind} is no edit of a state")
