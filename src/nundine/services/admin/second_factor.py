"""A second factor: six digits that change every 30 seconds, which an application on one's telephone computes
from a secret that it was given once (TOTP, RFC 6238, with SHA-1, as all such applications know it)."""

from __future__ import annotations

import base64
import secrets
from dataclasses import dataclass
from datetime import datetime

import segno
from cryptography.hazmat.primitives.hashes import SHA1
from cryptography.hazmat.primitives.twofactor.totp import TOTP

from nundine.services.admin import sign_in_rules
from nundine.services.errors import Refused
from nundine.services.ledger.commands import note
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db

STEP, DIGITS, BYTES = 30, 6, 20
"""Seconds for which a code is good, its digits, and bytes of a secret (RFC 4226, 4: at least 16, 20
advised)."""
DRIFT = 1
"""Steps by which a telephone's clock may be off (RFC 6238, 5.2)."""


def _codes(secret: str) -> TOTP:
    return TOTP(base64.b32decode(secret), DIGITS, SHA1(), STEP)


def step_of(secret: str, code: str, now: datetime, after: int | None = None) -> int | None:
    """The step of time that a code belongs to; None if it is none of now, or one up to step `after`, which
    was used already."""
    plain = "".join(c for c in code if not c.isspace())
    this = int(now.timestamp()) // STEP
    for step in range(this - DRIFT, this + DRIFT + 1):
        right = secrets.compare_digest(_codes(secret).generate(step * STEP), plain.encode())
        if right and (after is None or step > after):
            return step
    return None


def used(account: Account, code: str) -> bool:
    """Whether a code is right for an account; it is good once."""
    step = step_of(account.factor, code, settings().now(), account.factor_step)
    if step is None:
        return False
    newer = Account.factor_step.is_null() | (Account.factor_step < step)
    return bool(Account.update(factor_step=step).where((Account.id == account.id) & newer).execute())


@dataclass(frozen=True)
class Offer:
    """A secret to be kept by the telephone: typed, or read from the picture (SVG)."""

    secret: str
    picture: str


def offer(account: Account, site: str) -> Offer:
    """A fresh secret; it counts once it is confirmed."""
    secret = base64.b32encode(secrets.token_bytes(BYTES)).decode()
    address = _codes(secret).get_provisioning_uri(account.name, f"Nundine {site}")
    picture = segno.make(address, error="m").svg_inline(scale=4, border=2)
    return Offer(secret, picture)


def confirm(account: Account, secret: str, code: str) -> None:
    """Keep a secret that the telephone has, for it gives the right code. Raises Refused if it does not, or
    the account has a factor already."""
    if account.factor is not None:
        raise Refused("factor", "There is a second factor already. Take it off first.")
    try:
        step = step_of(secret, code, settings().now())
    except (ValueError, TypeError) as bad:
        raise Refused("factor", "This is no secret of ours. Begin again.") from bad
    if step is None:
        raise Refused(
            "code",
            "This code is not right. Look at the clock of your telephone, and take the newest.",
            field="code",
        )
    with db.atomic():
        Account.update(factor=secret, factor_step=step).where(Account.id == account.id).execute()
        note(
            f"account {account.name}", account, "factor", f"{account.full_name} signs in with a second factor"
        )


def take_off(account: Account, by: Account | None, code: str | None = None) -> None:
    """Sign in without it from now on. Whoever takes off their own gives a code of it.

    Raises
    ------
    Refused
        If there is none, the code is not right, or the site asks for one.
    """
    if account.factor is None:
        raise Refused("factor", f"{account.full_name} has no second factor.")
    if by is not None and by.id == account.id:
        if sign_in_rules.demands_factor(account):
            raise Refused("factor", "This site asks administrators for a second factor.")
        if not used(account, code or ""):
            raise Refused("code", "This code is not right. Take the newest.", field="code")
    with db.atomic():
        Account.update(factor=None, factor_step=None).where(Account.id == account.id).execute()
        note(
            f"account {account.name}", by, "factor", f"The second factor of {account.full_name} is taken off"
        )
