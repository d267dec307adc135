"""The ledger: who did what when, and what of each record was before and is after. Rows are only ever
added."""

from __future__ import annotations

from peewee import BigAutoField, BooleanField, CharField, ForeignKeyField, IntegerField

from nundine.store.account import Account
from nundine.store.base import JsonField, KeyField, Table, UtcField
from nundine.store.belonging import SharedTable


class LedgerEntry(SharedTable):
    """One deed in a stream, which is a week's or a record's own. No account: Nundine itself.

    `seq` counts the edits of a week. `undoes` names the deed of the stream that this one takes back, `redoes`
    the undo that it takes back. `people` and `work` say whether people, or work and what it needs, are not as
    they were.
    """

    id = BigAutoField()
    stream = KeyField(max_length=80)
    seq = IntegerField(null=True)
    account = ForeignKeyField(Account, null=True, on_delete="RESTRICT")
    at = UtcField(index=True)
    kind = CharField(max_length=20)
    label = CharField(max_length=300)
    touches = JsonField()
    undoes = IntegerField(null=True)
    redoes = IntegerField(null=True)
    people = BooleanField(default=False)
    work = BooleanField(default=False)

    class Meta:
        indexes = ((("site", "stream", "seq"), True), (("people", "id"), False), (("work", "id"), False))


class LedgerChange(SharedTable):
    """One record of a deed: `key` is a JSON list, `before` and `after` hold the fields that differ; null = it
    was not there.

    `derived`: it followed from the others by a rule. `revision` is the record's own after it.
    """

    id = BigAutoField()
    entry = ForeignKeyField(LedgerEntry, backref="changes", on_delete="RESTRICT")
    noun = CharField(max_length=20)
    key = KeyField(max_length=255)
    before = JsonField(null=True)
    after = JsonField(null=True)
    derived = BooleanField(default=False)
    revision = IntegerField(null=True)

    class Meta:
        indexes = ((("noun", "key"), False),)


ADDED_TO: tuple[type[Table], ...] = (LedgerEntry, LedgerChange)
"""Tables whose rows are never changed and never taken away."""


def stream_of_week(name: str) -> str:
    """The stream of a week's edits."""
    return f"week {name}"
