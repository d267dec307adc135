"""Accounts, sessions and sign-in attempts."""

from __future__ import annotations

from peewee import BooleanField, CharField, ForeignKeyField

from nundine.store.base import JsonField, KeyField, Table, UtcField

ROLES = ("administrator", "scheduler", "supervisor", "operations", "reader")


class Account(Table):
    """`areas` are the keys of those that the account looks after; none = all."""

    name = KeyField(max_length=60, unique=True)
    full_name = CharField(max_length=120)
    password_hash = CharField(max_length=200)
    role = CharField(max_length=20)
    active = BooleanField(default=True)
    areas = JsonField(null=True)


class SignedIn(Table):
    """A session. Only a hash of its token is kept."""

    token_hash = CharField(max_length=64, unique=True)
    account = ForeignKeyField(Account, on_delete="CASCADE")
    expires = UtcField(index=True)


class SignInAttempt(Table):
    """A failed attempt."""

    name = CharField(max_length=60, index=True)
    address = CharField(max_length=60, index=True)
    at = UtcField(index=True)
