"""Accounts, sessions, and what slows down guessing."""

from __future__ import annotations

from peewee import BigIntegerField, BooleanField, CharField, ForeignKeyField, IntegerField

from nundine.store.base import JsonField, KeyField, Record, Table, UtcField


class Role(Table):
    """What somebody may do: the names of rights. `place` orders roles; of several, somebody begins where the
    first one does."""

    name = KeyField(max_length=20, unique=True)
    rights = JsonField()
    place = IntegerField()


class Account(Record):
    """`sites` are the keys of those that the account sees; null = all. `areas` are the keys of those that it
    looks after, which its weeks show first; none = all.

    `look`: how it wants the screens, light or dark and how large; null = as they are.
    `one_time`: the password was given by an administrator and is to be changed. `factor` is the secret of the
    second factor, `factor_step` the step of time whose code was used last.
    """

    name = KeyField(max_length=60, unique=True)
    full_name = CharField(max_length=120)
    password_hash = CharField(max_length=200, default="")
    one_time = BooleanField(default=False)
    factor = CharField(max_length=64, null=True)
    factor_step = BigIntegerField(null=True)
    active = BooleanField(default=True)
    sites = JsonField(null=True)
    areas = JsonField(null=True)
    look = JsonField(null=True)


class AccountRole(Table):
    """A role that somebody has, everywhere or (`areas`, keys) in some areas alone."""

    account = ForeignKeyField(Account, backref="roles", on_delete="CASCADE")
    role = ForeignKeyField(Role, on_delete="RESTRICT")
    areas = JsonField(null=True)

    class Meta:
        indexes = ((("account", "role"), True),)


class SignedIn(Table):
    """A session: since when, from where, and when somebody was active in it last. Only a hash of its token is
    kept."""

    began = UtcField(null=True)
    address = CharField(max_length=60, default="")
    seen = UtcField(null=True)

    token_hash = CharField(max_length=64, unique=True)
    account = ForeignKeyField(Account, on_delete="CASCADE")
    expires = UtcField(index=True)


class SignInTry(Table):
    """Tries to sign in that failed, or are being checked, for one reason to be slow: a name and an address
    together, or one of them."""

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
