"""What hangs on records of any noun: files, notes that are only ever added, and when they went to paper."""

from __future__ import annotations

from peewee import CharField, ForeignKeyField, IntegerField, TextField

from nundine.store.account import Account
from nundine.store.base import KeyField, LongBlobField, UtcField
from nundine.store.belonging import SiteTable


class Attachment(SiteTable):
    """A file that hangs on a record: `noun` and `key` name it, as the ledger does."""

    noun = CharField(max_length=20)
    key = KeyField(max_length=60)
    name = CharField(max_length=200)
    media = CharField(max_length=60)
    size = IntegerField()
    content = LongBlobField()
    at = UtcField()
    account = ForeignKeyField(Account, null=True, on_delete="SET NULL")

    class Meta:
        indexes = ((("site", "noun", "key"), False),)


class Note(SiteTable):
    """Something that somebody said of a record; never changed, never taken away."""

    noun = CharField(max_length=20)
    key = KeyField(max_length=60)
    text = TextField()
    at = UtcField()
    account = ForeignKeyField(Account, null=True, on_delete="SET NULL")

    class Meta:
        indexes = ((("site", "noun", "key"), False),)


class Printing(SiteTable):
    """A sheet of a record that was laid out for paper."""

    noun = CharField(max_length=20)
    key = KeyField(max_length=60)
    at = UtcField()
    account = ForeignKeyField(Account, null=True, on_delete="SET NULL")

    class Meta:
        indexes = ((("site", "noun", "key"), False),)
