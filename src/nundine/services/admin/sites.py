"""Sites: the first is made at the first start, others by an administrator."""

from __future__ import annotations

from zoneinfo import ZoneInfo, available_timezones

from nundine.services.errors import Refused
from nundine.services.ledger.commands import say_shared_changed, write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.stored import changes_to
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.belonging import Site, forget_first, here
from nundine.store.site import Craft, Tool

FIRST = "site"
"""The key of a site that was made before there were several."""


def make_site(name: str, timezone: str, key: str = FIRST, by: Account | None = None) -> Site:
    """A site without settings of its own. Inside the caller's transaction."""
    row = {"name": name, "timezone": timezone, "settings": {}}
    edit = Edit("set-up", f"Make the site {name}", changes_to("site", {(key,): row}))
    write(f"site {key}", by, edit, checked=True)
    forget_first()
    made: Site = Site.get(Site.key == key)
    return made


def make(by: Account | None, key: str, name: str, timezone: str) -> Site:
    """Another site.

    Raises
    ------
    Refused
        For a key that is taken or can not stand in an address, no name, or a time zone that is not known.
    """
    plain, called = key.strip().lower(), name.strip()
    if not plain or len(plain) > 40 or not all(c.isascii() and (c.isalnum() or c == "-") for c in plain):
        raise Refused(
            "key",
            "A site's key stands in addresses: letters a to z, digits and dashes, at most 40.",
            field="key",
        )
    if not called:
        raise Refused("name", "Say what the site is called.", field="name")
    if timezone not in available_timezones():
        raise Refused(
            "timezone",
            f"{timezone[:60]!r} is no time zone; one is {ZoneInfo('Europe/Zurich')}.",
            field="timezone",
        )
    with db.atomic():
        if Site.select().where(Site.key == plain).for_update().exists():
            raise Refused("key", f"There is a site {plain} already.", field="key")
        return make_site(called, timezone, plain, by)


def listed() -> list[Site]:
    """All sites, the first one first."""
    return list(Site.select().order_by(Site.id))


def share_crafts(by: Account | None = None) -> None:
    """Crafts and tools of the present site belong to all. Raises Refused where another site has one of the
    same key."""
    with db.atomic():
        for table, what in ((Craft, "craft"), (Tool, "tool")):
            own = [t.key for t in table.select(table.key).where(table.site.is_null(False))]
            elsewhere = (table.site != here()) | table.site.is_null()
            twice = table.of_all_sites(table.key).where(table.key.in_(own or [""]) & elsewhere).first()
            if twice is not None:
                text = f"Another site has a {what} {twice.key} too. Give one of them another key first."
                raise Refused(what, text)
            table.update(site=None).execute()
        say_shared_changed(by)
