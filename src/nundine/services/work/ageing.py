"""Priorities age: all derived columns of WOs, and when their parts are there, are computed anew once for each
day of the site; on the first of a week how work stands at the planning desk is kept."""

from __future__ import annotations

from datetime import time

from nundine.services import derived, derived_parts
from nundine.services.background.periodic import Daily, periodic
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.services.work import desk_weeks
from nundine.settings import settings
from nundine.store.base import db
from nundine.store.belonging import Site
from nundine.store.belonging import here as present


@periodic("ageing", "priorities of the day", Daily(time(0, 0)), at_once=False)
def grow_older() -> bool:
    """Compute all derived columns anew if that was not done today. Whether there was anything to do."""
    with db.atomic():
        here = Site.select().where(Site.id == (present() or 0)).for_update().first()
        if here is None or here.aged == settings().day(here.timezone):
            return False
        derived.refresh()
        today = settings().day(here.timezone)
        Site.update(aged=today).where(Site.id == here.id).execute()
        ready = derived_parts.refresh(derived_parts.all_parts())
        changes = changes_to("work order", {(number,): now for number, (_, now) in ready.items()})
        write("day", None, Edit("day", f"Priorities of {today:%Y-%m-%d}", changes), work=True, checked=True)
    desk_weeks.keep(today)
    return True
