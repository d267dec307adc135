"""Exports of other systems on their way in: saved mappings, files being brought in, and what they changed of
placed work."""

from __future__ import annotations

from peewee import BooleanField, CharField, DoubleField, ForeignKeyField

from nundine.store.account import Account
from nundine.store.base import JsonField, KeyField, LongBlobField, Record, Table, UtcField
from nundine.store.work_order import WorkOrder


class SavedMapping(Record):
    """A mapping by its name, for the next week's export of the same system."""

    name = KeyField(max_length=80, unique=True)
    columns = JsonField()
    body = JsonField()
    at = UtcField()


class Bringing(Table):
    """One file that somebody brings in: its bytes, how it is read, how far it is, what came of it."""

    account = ForeignKeyField(Account, on_delete="RESTRICT")
    file = CharField(max_length=200)
    content = LongBlobField()
    asked = JsonField(null=True)
    state = CharField(max_length=12, default="new")
    progress = DoubleField(default=0.0)
    stop = BooleanField(default=False)
    result = JsonField(null=True)
    error = CharField(max_length=500, null=True)
    at = UtcField(index=True)
    heartbeat = UtcField()


class OrderChange(Table):
    """What an export changed of a WO that was placed: marked until somebody has seen it; nothing was
    moved."""

    work_order = ForeignKeyField(WorkOrder, backref="changes_in", on_delete="CASCADE")
    at = UtcField()
    source = CharField(max_length=80)
    changes = JsonField()
    seen = BooleanField(default=False, index=True)
