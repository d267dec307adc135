"""Background work: what was asked for, how far it is, what came of it; and the files that went in or came
out."""

from __future__ import annotations

from peewee import BooleanField, CharField, Check, ForeignKeyField

from nundine.store.account import Account
from nundine.store.base import JsonField, KeyField, LongBlobField, UtcField
from nundine.store.belonging import SiteTable

GOING = ("waiting", "running")


class Run(SiteTable):
    """One piece of background work of a kind on a target; no account: Nundine's own.

    `holds` names kind and target while it is going, `lane` a kind of which one runs at a time: nobody else
    can hold the same. `worker` is the machine and process that took it. `slot` names the moment for which a
    periodic run was due. `outcome` is what somebody did with the result.
    """

    kind = CharField(max_length=20, index=True)
    target = KeyField(max_length=80)
    label = CharField(max_length=200)
    account = ForeignKeyField(Account, null=True, on_delete="RESTRICT")
    state = CharField(
        max_length=12,
        default="waiting",
        index=True,
        constraints=[Check("state IN ('waiting','running','done','failed','stopped')")],
    )
    outcome = CharField(max_length=12, null=True)
    asked = JsonField()
    progress = JsonField(null=True)
    result = JsonField(null=True)
    error = CharField(max_length=500, null=True)
    stop = BooleanField(default=False)
    worker = CharField(max_length=120, null=True)
    holds = KeyField(max_length=101, null=True)
    lane = KeyField(max_length=20, null=True)
    slot = KeyField(max_length=60, null=True)
    created = UtcField(index=True)
    began = UtcField(null=True)
    heartbeat = UtcField()
    ended = UtcField(null=True)

    class Meta:
        indexes = (
            (("site", "holds"), True),
            (("site", "lane"), True),
            (("site", "slot"), True),
            (("target", "kind"), False),
        )


class RunFile(SiteTable):
    """A file that a run takes in, or gives out."""

    run = ForeignKeyField(Run, backref="files", on_delete="CASCADE")
    name = CharField(max_length=200)
    out = BooleanField(default=False)
    content = LongBlobField()
