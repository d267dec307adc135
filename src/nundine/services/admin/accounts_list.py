"""Accounts as a list: who may do what, and when they were there last."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

from peewee import JOIN, Case, fn

from nundine.services.access import ADMINISTER
from nundine.services.listing.column import Choice, Column, words
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.settings import settings
from nundine.store.account import Account, AccountRole, Role, SignedIn

MAY, WAITED_FOR, OFF = "may sign in", "has not signed in yet", "switched off"


def roles() -> list[Choice]:
    """All roles in their order."""
    return [Choice(name, name) for (name,) in Role.select(Role.name).order_by(Role.place).tuples()]


@listing("accounts", "Accounts", ADMINISTER)
def accounts(around: Around) -> Listing:
    """Everybody who may sign in, or could once."""
    held: Any = (
        SignedIn.select(
            SignedIn.account.alias("account"),
            fn.COUNT(SignedIn.id).alias("sessions"),
            fn.MAX(SignedIn.seen).alias("seen"),
        )
        .where(SignedIn.expires > settings().now())
        .group_by(SignedIn.account)
        .alias("held")
    )

    def has_role(values: tuple[str, ...]) -> Any:
        having = AccountRole.select(AccountRole.account).join(Role).where(Role.name.in_(list(values)))
        return Account.id.in_(having)

    state = Case(None, [(~Account.active, OFF), (Account.one_time, WAITED_FOR)], MAY)
    sessions = fn.COALESCE(held.c.sessions, 0)
    columns = (
        Column("account", "Sign-in", "text", Account.name, find=True, width=110, weight=1),
        Column("name", "Name", "text", Account.full_name, find=True, width=140, weight=1),
        Column("roles", "Roles", "marks", width=220, weight=1, choices=roles, asked=has_role),
        Column("state", "State", "choice", state, group=True, width=130, weight=2,
               choices=words(MAY, WAITED_FOR, OFF)),
        Column("factor", "Second factor", "yes", Account.factor.is_null(False), group=True, width=100,
               weight=4),
        Column("sessions", "Sessions", "number", sessions, ("held",), width=96, weight=3,
               hint="those that are open"),
        Column("seen", "There last", "moment", held.c.seen, ("held",), width=110, weight=2,
               hint="of the sessions that are open; it is kept for as long as they are"),
    )  # fmt: skip

    def more(ids: list[int]) -> dict[int, dict[str, Any]]:
        named: dict[int, list[str]] = defaultdict(list)
        rows = AccountRole.select(AccountRole.account, Role.name).join(Role)
        for who, role in rows.where(AccountRole.account.in_(ids)).order_by(Role.place).tuples():
            named[who].append(role)
        return {i: {"roles": named.get(i, [])} for i in ids}

    joins = {
        "held": lambda q: q.join(held, JOIN.LEFT_OUTER, on=held.c.account == Account.id, src=Account),
    }

    return Listing(columns, Account.select(), Account.id, "account", joins, (Sort("account"),), more)
