"""Views: questions to lists that are kept."""

from __future__ import annotations

from peewee import BooleanField, CharField, ForeignKeyField

from nundine.store.account import Account
from nundine.store.base import JsonField, KeyField
from nundine.store.belonging import SiteRecord


class View(SiteRecord):
    """`body` is the question, the columns and how they are shown. `role`: those who begin with this role
    begin with this view. `pinned_by` are names of accounts in whose rail its count stands."""

    key = KeyField(max_length=16)
    list = KeyField(max_length=40, index=True)
    title = CharField(max_length=80)
    owner = ForeignKeyField(Account, on_delete="CASCADE")
    shared = BooleanField(default=False)
    role = CharField(max_length=20, null=True)
    pinned_by = JsonField()
    body = JsonField()

    class Meta:
        indexes = ((("site", "key"), True),)
