"""What a list is looked at from, as it is now."""

from __future__ import annotations

from zoneinfo import ZoneInfo

from nundine.core.timeline import week_monday, week_name
from nundine.services.errors import Refused
from nundine.services.listing.listing import Around
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.site import site


def around_for(account: Account, week: str | None, of: str = "") -> Around:
    """For an account, with the week that it looks at, without one the present week, and what the list is of.
    Raises Refused."""
    here = site()
    today = settings().day(here.timezone)
    name = week or week_name(today)
    try:
        monday = week_monday(name)
    except ValueError as bad:
        raise Refused("week", str(bad), field="week") from bad
    return Around(account, name, today, monday, ZoneInfo(here.timezone), of)
