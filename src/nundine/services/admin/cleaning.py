"""What is of no use after a time goes by itself: events, plans of builds, files that were brought in, crew
sheets.

The log of edits, revisions and reviews stay always. Set-up says how long the rest is kept.
"""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

from peewee import Model

from nundine.services.background.runs import GOING
from nundine.settings import settings
from nundine.store.base import db
from nundine.store.foreign import Bringing
from nundine.store.site import Site, site
from nundine.store.week import Build, Event, Handout

KEEP_DAYS = {"events": 1, "plans": 31, "sheets": 92}
"""Days for which each is kept, until Set-up says otherwise."""
FILES = timedelta(days=2)
"""How long a file is kept that somebody is bringing in."""
AT_ONCE = 1000
"""Rows in one transaction, so that nobody waits for the cleaning."""


def keep_days() -> dict[str, int]:
    """Days for which events, plans and sheets are kept here."""
    return {**KEEP_DAYS, **site().settings.get("keep_days", {})}


def clean() -> None:
    """Throw away what is older than Set-up says. Sheets that are wanted again are made again."""
    if not Site.select().exists():
        return
    days, now = keep_days(), settings().now()

    def before(what: str) -> datetime:
        return now - timedelta(days=days[what])

    _delete(Event, Event.at < before("events"))
    _delete(Handout, Handout.made < before("sheets"))
    _delete(Bringing, (Bringing.at < now - FILES) & (Bringing.state != "working"))
    old = (Build.created < before("plans")) & Build.state.not_in(GOING) & Build.result.is_null(False)
    Build.update(state="dropped").where(old & (Build.state == "ready")).execute()
    Build.update(result=None, progress=[]).where(old).execute()


def _delete(table: type[Model], which: Any) -> None:
    while True:
        with db.atomic():
            if not table.delete().where(which).limit(AT_ONCE).execute():
                return
