"""Weeks, accounts, and what people keep for themselves."""

from __future__ import annotations

from nundine.services.ledger.lists import ROLES
from nundine.services.ledger.noun import Column, Noun, Row
from nundine.services.ledger.values import MOMENT
from nundine.store.account import Account
from nundine.store.foreign import SavedMapping
from nundine.store.view import View
from nundine.store.week import Week


class WeekNoun(Noun):
    """A week; only closing it, or opening it again, changes what may be placed elsewhere."""

    def matters(self, before: Row | None, after: Row | None) -> bool:
        return "closed" in {(side or {}).get("status") for side in (before, after)}


KEPT: tuple[Noun, ...] = (
    WeekNoun(
        "week",
        Week,
        (Column("week", "week", of="name"),),
        (Column("status", "status"),),
        lambda key: "The week",
        work=True,
    ),
    Noun(
        "account",
        Account,
        (Column("account", "account", of="name"),),
        (
            Column("full_name", "full name"),
            Column("active", "may sign in"),
            Column("one_time", "password given once"),
            Column("sites", "sites seen"),
            Column("areas", "areas looked after"),
            Column("look", "look of the screens"),
        ),
        lambda key: f"Account {key[0]}",
        (ROLES,),
    ),
    Noun(
        "view",
        View,
        (Column("view", "view", of="key"),),
        (
            Column("list", "list"),
            Column("title", "title"),
            Column("owner", "owner", refers=Account, by="name"),
            Column("shared", "shared with all"),
            Column("role", "role that begins with it"),
            Column("pinned_by", "pinned by"),
            Column("body", "what it shows"),
        ),
        lambda key: "The view",
    ),
    Noun(
        "mapping",
        SavedMapping,
        (Column("mapping", "mapping", of="name"),),
        (
            Column("columns", "columns"),
            Column("body", "what each column is"),
            Column("at", "saved at", MOMENT),
        ),
        lambda key: f"The mapping {key[0]}",
    ),
)
