"""Accounts and signing in: hashed passwords, server-side sessions, limited attempts."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from pwdlib import PasswordHash

from nundine.services.errors import NotAllowed, NotFound, NotSignedIn, Refused, TooMany
from nundine.settings import settings
from nundine.store.account import ROLES, Account, SignedIn, SignInAttempt
from nundine.store.base import db
from nundine.store.site import Area

HASHES = PasswordHash.recommended()
NOBODY = HASHES.hash(secrets.token_urlsafe(12))
LASTS = timedelta(hours=12)
MOST_ATTEMPTS, MOST_FROM_ADDRESS, WITHIN = 8, 40, timedelta(minutes=15)

READ, EDIT, SWAP, ANSWER, REPORT, IMPORT, MANAGE = (
    "read",
    "edit",
    "swap",
    "answer",
    "report",
    "import",
    "manage",
)
REOPEN = "reopen"
MAY: dict[str, frozenset[str]] = {
    "administrator": frozenset({READ, EDIT, SWAP, ANSWER, REPORT, IMPORT, MANAGE, REOPEN}),
    "scheduler": frozenset({READ, EDIT, SWAP, ANSWER, REPORT, IMPORT, MANAGE}),
    "supervisor": frozenset({READ, SWAP, REPORT}),
    "operations": frozenset({READ, ANSWER}),
    "reader": frozenset({READ}),
}


@dataclass(frozen=True)
class SignIn:
    """A fresh session: the token goes to the browser and is kept nowhere."""

    account: Account
    token: str


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


def _hash(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def sign_in(name: str, password: str, address: str) -> SignIn:
    """Check a password. Raises TooMany after several failures for the name or from the address."""
    now = settings().now()
    recent = SignInAttempt.at > now - WITHIN
    by_name = SignInAttempt.select().where(recent & (SignInAttempt.name == name.lower()[:60])).count()
    by_address = SignInAttempt.select().where(recent & (SignInAttempt.address == address)).count()
    if by_name >= MOST_ATTEMPTS or by_address >= MOST_FROM_ADDRESS:
        raise TooMany(
            "attempts",
            "Too many failed attempts. Wait 15 minutes, or ask your administrator for a new password.",
        )
    account = Account.get_or_none((Account.name == name.lower()) & Account.active)
    right = HASHES.verify(password, account.password_hash if account else NOBODY)
    if account is None or not right:
        SignInAttempt.create(name=name.lower()[:60], address=address, at=now)
        raise NotSignedIn("credentials", "Name and password do not go together. Check both and try again.")
    token = secrets.token_urlsafe(32)
    with db.atomic():
        SignedIn.delete().where(SignedIn.expires < now).execute()
        SignInAttempt.delete().where(SignInAttempt.name == name.lower()[:60]).execute()
        SignedIn.create(token_hash=_hash(token), account=account, expires=now + LASTS)
    return SignIn(account, token)


def signed_in(token: str | None) -> Account:
    """The account of a session. Raises NotSignedIn."""
    if token:
        found = (
            SignedIn.select(SignedIn, Account)
            .join(Account)
            .where(
                (SignedIn.token_hash == _hash(token)) & (SignedIn.expires > settings().now()) & Account.active
            )
            .first()
        )
        if found is not None:
            return found.account  # type: ignore[no-any-return]
    raise NotSignedIn("session", "You are not signed in, or your session has ended. Sign in again.")


def sign_out(token: str) -> None:
    SignedIn.delete().where(SignedIn.token_hash == _hash(token)).execute()


def areas_of(account: Account) -> list[str]:
    """Areas that the account looks after; empty for all."""
    return list(account.areas or ())


def listed() -> list[dict[str, Any]]:
    """All accounts, with the areas that each looks after."""
    rows = Account.select().order_by(Account.name)
    return [
        {"name": a.name, "full_name": a.full_name, "role": a.role, "active": a.active, "areas": areas_of(a)}
        for a in rows
    ]


def look_after(name: str, areas: list[str]) -> None:
    """Give an account the areas that it looks after; none means all. Raises Refused for an unknown area, NotFound for an unknown account."""
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
