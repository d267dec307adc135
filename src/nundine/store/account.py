"""Accounts, sessions, and what slows down guessing."""

from __future__ import annotations

from peewee import BooleanField, CharField, ForeignKeyField, IntegerField

from nundine.store.base import JsonField, KeyField, Record, Table, UtcField

ROLES = ("administrator", "scheduler", "supervisor", "operations", "reader")


class Account(Record):
    """`areas` are the keys of those that the account looks after; none = all."""

    name = KeyField(max_length=60, unique=True)
    full_name = CharField(max_length=120)
    password_hash = CharField(max_length=200, default="")
    role = CharField(max_length=20)
    active = BooleanField(default=True)
    areas = JsonField(null=True)


class SignedIn(Table):
    """A session. Only a hash of its token is kept."""

    token_hash = CharField(max_length=64, unique=True)
    account = ForeignKeyField(Account, on_delete="CASCADE")
    expires = UtcField(index=True)


class SignInTry(Table):
    """Tries to sign in that failed, or are being checked, for one reason to be slow: a name and an address together, or one of them."""

    key = KeyField(max_length=64, unique=True)
    failures = IntegerField(default=0)
    last = UtcField(index=True)


class KnownBrowser(Table):
    """A browser in which somebody signed in before. Only a hash of its token is kept."""

    token_hash = CharField(max_length=64)
    account = ForeignKeyField(Account, on_delete="CASCADE")
    seen = UtcField(index=True)

    class Meta:
        indexes = ((("token_hash", "account"), True),)
