"""Accounts: hashed passwords, roles and what each may do."""

from __future__ import annotations

from typing import Any

from pwdlib import PasswordHash

from nundine.services.errors import NotAllowed, NotFound, Refused
from nundine.store.account import ROLES, Account
from nundine.store.site import Area

HASHES = PasswordHash.recommended()

READ, EDIT, SWAP, ANSWER, REPORT = "read", "edit", "swap", "answer", "report"
IMPORT, MANAGE, REOPEN, ADMINISTER = "import", "manage", "reopen", "administer"
MAY: dict[str, frozenset[str]] = {
    "administrator": frozenset({READ, IMPORT, MANAGE, REOPEN, ADMINISTER}),
    "scheduler": frozenset({READ, EDIT, SWAP, ANSWER, REPORT, IMPORT, MANAGE}),
    "supervisor": frozenset({READ, SWAP, REPORT}),
    "operations": frozenset({READ, ANSWER}),
    "reader": frozenset({READ}),
}
"""Rights of each role. Whoever looks after accounts does not schedule, and the other way round."""


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


def may_know_why(account: Account) -> bool:
    """Whether the account may see why somebody is away; others see that they are."""
    return bool(MAY[account.role] & {EDIT, SWAP})


def areas_of(account: Account) -> list[str]:
    """Areas that the account looks after. None means all for schedulers, and that operations may answer nothing."""
    return list(account.areas or ())


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


def require(account: Account, right: str) -> None:
    """Raises NotAllowed if the account's role does not have the right."""
    if right not in MAY[account.role]:
        who = ", ".join(r for r, rights in MAY.items() if right in rights)
        raise NotAllowed("role", f"A {account.role} may not do this; it takes one of: {who}.")
