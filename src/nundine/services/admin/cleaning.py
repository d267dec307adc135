"""What is of no use after a time goes by itself: events, plans of builds, files that were brought in, crew
sheets.

The log of edits, revisions and reviews stay always. Set-up says how long the rest is kept.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

from peewee import Model

from nundine.services.background.periodic import Hourly, periodic
from nundine.settings import settings
from nundine.store.base import db
from nundine.store.foreign import Bringing
from nundine.store.run import GOING, Run, RunFile
from nundine.store.site import Site, site
from nundine.store.week import Event, Handout

KEEP_DAYS = {"events": 1, "plans": 31, "sheets": 92}
"""Days for which each is kept, until Set-up says otherwise."""
FILES = timedelta(days=2)
"""How long a file is kept that somebody is bringing in, or that was made for somebody."""
OWN = timedelta(days=7)
"""How long the runs are kept that Nundine began by itself."""
AT_ONCE = 1000
"""Rows in one transaction, so that nobody waits for the cleaning."""


def keep_days() -> dict[str, int]:
    """Days for which events, plans and sheets are kept here."""
    return {**KEEP_DAYS, **site().settings.get("keep_days", {})}


@periodic("cleaning", "cleaning of events, plans and sheets", Hourly(17))
def clean() -> None:
    """Throw away what is older than Set-up says. Sheets that are wanted again are made again."""
    if not Site.select().exists():
        return
    days, now = keep_days(), settings().now()

    def before(what: str) -> datetime:
        return now - timedelta(days=days[what])

    _delete(Event, Event.at < before("events"))
    _delete(Handout, Handout.made < before("sheets"))
    _delete(Bringing, (Bringing.at < now - FILES) & Bringing.id.not_in(_on_their_way()))
    over = Run.state.not_in(GOING)
    _delete(RunFile, RunFile.run.in_(Run.select(Run.id).where(over & (Run.ended < now - FILES))))
    _delete(Run, over & Run.account.is_null() & (Run.ended < now - OWN))
    old = over & (Run.created < before("plans")) & Run.result.is_null(False)
    Run.update(outcome="dropped").where(old & Run.outcome.is_null()).execute()
    Run.update(result=None, progress=None).where(old).execute()


def _on_their_way() -> list[int]:
    """Files that are being brought in."""
    going = Run.select(Run.target).where((Run.kind == "bring in") & Run.state.in_(GOING))
    return [int(target.removeprefix("file ")) for (target,) in going.tuples()] or [0]


def _delete(table: type[Model], which: Any) -> None:
    while True:
        with db.atomic():
            if not table.delete().where(which).limit(AT_ONCE).execute():
                return
