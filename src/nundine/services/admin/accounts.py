"""Accounts: hashed passwords, roles, and the areas that each looks after."""

from __future__ import annotations

from typing import Any

from pwdlib import PasswordHash

from nundine.services.access import areas_of
from nundine.services.errors import NotFound, Refused
from nundine.store.account import ROLES, Account
from nundine.store.site import Area

HASHES = PasswordHash.recommended()


def create(name: str, full_name: str, password: str, role: str) -> Account:
    """A new account. Raises Refused for a short password, an unknown role or a name that is taken."""
    if role not in ROLES:
        raise Refused("role", f"{role!r} is no role; roles are {', '.join(ROLES)}.", field="role")
    if len(password) < 10:
        raise Refused("password", "A password has at least 10 characters.", field="password")
    if Account.get_or_none(Account.name == name.lower()):
        raise Refused("name", f"The name {name} is taken.", field="name")
    return Account.create(
        name=name.lower(), full_name=full_name, password_hash=HASHES.hash(password), role=role
    )


def listed() -> list[dict[str, Any]]:
    """All accounts, with the areas that each looks after."""
    rows = Account.select().order_by(Account.name)
    return [
        {"name": a.name, "full_name": a.full_name, "role": a.role, "active": a.active, "areas": areas_of(a)}
        for a in rows
    ]


def look_after(name: str, areas: list[str]) -> None:
    """Give an account the areas that it looks after (see `areas_of`). Raises Refused for an unknown area, NotFound for an unknown account."""
    strangers = sorted(set(areas) - {a.key for a in Area.select(Area.key)})
    if strangers:
        raise Refused("area", f"There is no area {strangers[0]}.", field="areas")
    if (
        not Account.update(areas=sorted(set(areas))).where(Account.name == name).execute()
        and Account.get_or_none(Account.name == name) is None
    ):
        raise NotFound("account", f"There is no account {name}.")
