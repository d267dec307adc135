"""Accounts: hashed passwords, roles, and the areas that each looks after."""

from __future__ import annotations

from typing import Any

from pwdlib import PasswordHash

from nundine.services.access import areas_of
from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import Edit, write
from nundine.services.ledger.revisions import need_revision
from nundine.services.ledger.stored import changes_to
from nundine.store.account import ROLES, Account
from nundine.store.base import db
from nundine.store.site import Area

HASHES = PasswordHash.recommended()


def create(name: str, full_name: str, password: str, role: str, by: Account | None = None) -> Account:
    """A new account. Raises Refused for a short password, an unknown role or a name that is taken."""
    if role not in ROLES:
        raise Refused("role", f"{role!r} is no role; roles are {', '.join(ROLES)}.", field="role")
    if len(password) < 10:
        raise Refused("password", "A password has at least 10 characters.", field="password")
    if Account.get_or_none(Account.name == name.lower()):
        raise Refused("name", f"The name {name} is taken.", field="name")
    row = {"full_name": full_name, "role": role, "active": True, "areas": None}
    with db.atomic():
        edit = Edit(
            "account", f"Make the account {name.lower()}", changes_to("account", {(name.lower(),): row})
        )
        write(f"account {name.lower()}", by, edit)
        Account.update(password_hash=HASHES.hash(password)).where(Account.name == name.lower()).execute()
    return Account.get(Account.name == name.lower())


def listed() -> list[dict[str, Any]]:
    """All accounts, with the areas that each looks after."""
    rows = Account.select().order_by(Account.name)
    return [
        {
            "name": a.name,
            "full_name": a.full_name,
            "role": a.role,
            "active": a.active,
            "areas": areas_of(a),
            "revision": a.revision,
        }
        for a in rows
    ]


def look_after(name: str, areas: list[str], by: Account | None = None, revision: int | None = None) -> None:
    """Give an account the areas that it looks after (see `areas_of`).

    Raises
    ------
    Refused
        For an unknown area.
    NotFound
        For an unknown account.
    Stale
        If somebody changed the account after the revision that was seen.
    """
    strangers = sorted(set(areas) - {a.key for a in Area.select(Area.key)})
    if strangers:
        raise Refused("area", f"There is no area {strangers[0]}.", field="areas")
    with db.atomic():
        found = Account.select().where(Account.name == name).for_update().first()
        if found is None:
            raise NotFound("account", f"There is no account {name}.")
        if revision is not None:
            need_revision("account", [name], revision)
        changes = changes_to("account", {(name,): {"areas": sorted(set(areas))}})
        if changes:
            write(
                f"account {name}", by, Edit("account", f"Areas of {found.full_name}", changes), checked=True
            )
