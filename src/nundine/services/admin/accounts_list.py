"""Accounts as a list: who may do what, and when they were there last."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

from peewee import JOIN, fn

from nundine.services.access import ADMINISTER
from nundine.services.listing.column import Choice, Column
from nundine.services.listing.listing import Around, Listing, listing
from nundine.services.listing.question import Sort
from nundine.settings import settings
from nundine.store.account import Account, AccountRole, Role, SignedIn


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

    columns = (
        Column("account", "Sign-in", "text", Account.name, find=True, width=120, weight=1),
        Column("name", "Name", "text", Account.full_name, find=True, width=200, weight=1),
        Column("roles", "Roles", "marks", width=220, weight=2, choices=roles, asked=has_role),
        Column("active", "May sign in", "yes", Account.active, group=True, width=100, weight=2),
        Column(
            "sessions",
            "Open sessions",
            "number",
            fn.COALESCE(held.c.sessions, 0),
            ("held",),
            width=110,
            weight=3,
        ),
        Column(
            "seen",
            "Was there last",
            "moment",
            held.c.seen,
            ("held",),
            width=150,
            weight=2,
            hint="of the sessions that are open; it is kept for as long as they are",
        ),
        Column(
            "factor", "Second factor", "yes", Account.factor.is_null(False), group=True, width=110, weight=3
        ),
        Column(
            "one_time", "Has to choose a password", "yes", Account.one_time, group=True, width=150, weight=4
        ),
    )

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
