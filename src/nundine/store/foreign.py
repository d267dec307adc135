"""Exports of other systems on their way in: saved mappings, files being brought in, and what they changed of
placed work."""

from __future__ import annotations

from peewee import BooleanField, CharField, ForeignKeyField

from nundine.store.account import Account
from nundine.store.base import JsonField, KeyField, LongBlobField, UtcField
from nundine.store.belonging import SiteRecord, SiteTable
from nundine.store.work_order import WorkOrder


class SavedMapping(SiteRecord):
    """A mapping by its name, for the next week's export of the same system."""

    name = KeyField(max_length=80)
    columns = JsonField()
    body = JsonField()
    at = UtcField()

    class Meta:
        indexes = ((("site", "name"), True),)


class Bringing(SiteTable):
    """One file that somebody brings in; how it is read and what came of it stands with its run. `differs`:
    rows of how it differs from what is here, as it was last compared."""

    account = ForeignKeyField(Account, on_delete="RESTRICT")
    file = CharField(max_length=200)
    content = LongBlobField()
    at = UtcField(index=True)
    differs = JsonField(null=True)


class OrderChange(SiteTable):
    """What an export changed of a WO that was placed: marked until somebody has seen it; nothing was
    moved."""

    work_order = ForeignKeyField(WorkOrder, backref="changes_in", on_delete="CASCADE")
    at = UtcField()
    source = CharField(max_length=80)
    changes = JsonField()
    seen = BooleanField(default=False, index=True)
