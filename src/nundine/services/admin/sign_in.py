"""Signing in and out: server-side sessions, and guessing slowed down rather than names locked.

Each failure makes the next try wait longer: for the name and the address together, and, far later and less,
for the name from anywhere and for the address under any name. A browser in which the account signed in before
waits for nobody's failures but its own, so nobody can keep another out.
"""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cache
from typing import Any

from peewee import JOIN, SQL, fn

from nundine.services import access
from nundine.services.admin import passwords, second_factor, sign_in_rules
from nundine.services.errors import NotSignedIn, TooMany
from nundine.services.ledger.commands import note
from nundine.services.retrying import patiently
from nundine.settings import settings
from nundine.store.account import Account, AccountRole, KnownBrowser, Role, SignedIn, SignInTry
from nundine.store.base import db

LASTS = timedelta(hours=12)
KNOWN_FOR = timedelta(days=180)
FORGOTTEN = timedelta(minutes=15)
"""After so long without a failure, those before count no more; nor do those of a clock that was set back
since."""


@dataclass(frozen=True)
class Slow:
    """So many failures are free; then each next try waits 1 s, 2 s, 4 s ... and at most `longest` seconds."""

    free: int
    longest: int

    def wait(self, failures: int) -> int:
        """Seconds from the last failure to the next try."""
        return min(self.longest, 2 ** min(20, failures - self.free)) if failures >= self.free else 0


TOGETHER, NAME, ADDRESS, BROWSER = Slow(5, 300), Slow(30, 15), Slow(40, 60), Slow(5, 60)


SEEN = timedelta(minutes=1)
"""How exactly it is kept when somebody was active in a session last."""


class CodeNeeded(Exception):
    """Name and password are right; the account has a second factor, whose code is still to be given."""


@dataclass(frozen=True)
class SignIn:
    """A fresh session: its token and that of the browser go there and are kept nowhere."""

    account: Account
    token: str
    browser: str


@cache
def _hash_of_nobody() -> str:
    """What a password is compared with under a name that there is not, so that it takes as long."""
    return passwords.HASHES.hash(secrets.token_urlsafe(12))


def sign_in(
    name: str, password: str, address: str, browser: str | None = None, code: str | None = None
) -> SignIn:
    """Check a password, and the code of the second factor where there is one; `browser` is the token of one
    that may be known.

    Raises
    ------
    TooMany
        With the seconds to wait, after several failures.
    NotSignedIn
        If name and password do not go together, or the code is not right.
    CodeNeeded
        If a code is still to be given.
    """
    name, now = name.lower(), settings().now()
    account = Account.get_or_none((Account.name == name) & Account.active)
    reasons = _reasons(name, address, _known(account, browser, now))
    patiently(lambda: _count(reasons, now))
    nobodys = _hash_of_nobody()
    right = passwords.HASHES.verify(password, account.password_hash if account else nobodys)
    if account is None or not right:
        note(
            f"account {name}"[:80],
            account,
            "sign-in failed",
            f"Sign-in as {name[:60]!r} from {address} failed",
        )
        raise NotSignedIn("credentials", "Name and password do not go together. Check both and try again.")
    if account.factor is not None and not code:
        patiently(lambda: _not_counted(reasons))
        raise CodeNeeded
    if account.factor is not None and not second_factor.used(account, code or ""):
        text = f"Sign-in as {name[:60]!r} from {address}: the code was not right"
        note(f"account {name}"[:80], account, "sign-in failed", text)
        raise NotSignedIn("code", "This code is not right, or was used already. Take the newest.")
    token, browser = secrets.token_urlsafe(32), browser or secrets.token_urlsafe(32)
    with db.atomic():
        _succeeded(reasons)
        SignedIn.delete().where(SignedIn.expires < now).execute()
        SignInTry.delete().where(SignInTry.last < now - FORGOTTEN).execute()
        KnownBrowser.delete().where(KnownBrowser.seen < now - KNOWN_FOR).execute()
        SignedIn.create(
            token_hash=token_hash(token),
            account=account,
            expires=now + LASTS,
            began=now,
            seen=now,
            address=address[:60],
        )
        KnownBrowser.insert(token_hash=token_hash(browser), account=account, seen=now).on_conflict(
            preserve=[KnownBrowser.seen]
        ).execute()
        note(f"account {account.name}", account, "sign in", f"{account.full_name} signed in from {address}")
    return SignIn(account, token, browser)


def _known(account: Account | None, browser: str | None, now: datetime) -> str | None:
    """The hash of the browser's token if the account signed in there before."""
    if account is None or not browser:
        return None
    known = (
        (KnownBrowser.token_hash == token_hash(browser))
        & (KnownBrowser.account == account)
        & (KnownBrowser.seen > now - KNOWN_FOR)
    )
    return token_hash(browser) if KnownBrowser.select().where(known).exists() else None


def _reasons(name: str, address: str, browser: str | None) -> dict[str, Slow]:
    """Why a try may have to wait, by keys of one length whatever was typed."""
    if browser is not None:
        return {token_hash(f"browser {browser} {name}"): BROWSER}
    return {
        token_hash(f"together {name} {address}"): TOGETHER,
        token_hash(f"name {name}"): NAME,
        token_hash(f"address {address}"): ADDRESS,
    }


def _count(reasons: dict[str, Slow], now: datetime) -> None:
    """Take a try for a failure before its password is looked at, so that many at one moment are counted like
    many in a row."""
    with db.atomic():
        for key in sorted(reasons):
            SignInTry.insert(key=key, last=now).on_conflict_ignore().execute()
        tries = {t.key: t for t in SignInTry.select().where(SignInTry.key.in_(list(reasons))).for_update()}
        for one in tries.values():
            one.failures = 0 if abs(now - one.last) > FORGOTTEN else one.failures
        waits = [
            (tries[k].last + timedelta(seconds=slow.wait(tries[k].failures)) - now).total_seconds()
            for k, slow in reasons.items()
            if tries[k].failures
        ]
        if max(waits, default=0) > 0:
            seconds = max(1, round(max(waits)))
            raise TooMany(
                "attempts", f"That was tried too often. Wait {seconds} s, then try again.", wait=seconds
            )
        for one in tries.values():
            one.failures, one.last = one.failures + 1, now
            one.save()


def _succeeded(reasons: dict[str, Slow]) -> None:
    """The try was none that failed: of the name and address together, or the browser, nothing is left to
    count."""
    cleared = sorted(key for key, slow in reasons.items() if slow in (TOGETHER, BROWSER))
    SignInTry.delete().where(SignInTry.key.in_(cleared or [""])).execute()
    _not_counted({key: slow for key, slow in reasons.items() if key not in cleared})


def _not_counted(reasons: dict[str, Slow]) -> None:
    """The try is none that failed; those before it still count."""
    for key in sorted(reasons):
        counted = (SignInTry.key == key) & (SignInTry.failures > 0)
        SignInTry.update(failures=SignInTry.failures - 1).where(counted).execute()


def token_hash(token: str) -> str:
    """What is kept of a token."""
    return hashlib.sha256(token.encode()).hexdigest()


def signed_in(token: str | None, active: bool = False) -> Account:
    """The account of a session. `active`: somebody sits there, so it is not idle. Raises NotSignedIn."""
    if token:
        now = settings().now()
        open_ = (SignedIn.token_hash == token_hash(token)) & _goes_on(now)
        rows = list(
            SignedIn.select(SignedIn, Account, AccountRole, Role)
            .join(Account)
            .join(AccountRole, JOIN.LEFT_OUTER, on=AccountRole.account == Account.id, attr="granted")
            .join(Role, JOIN.LEFT_OUTER)
            .where(open_)
        )
        if rows:
            found = rows[0]
            access.grant(found.account, [r.account.granted for r in rows if r.account.granted.id is not None])
            if active and (found.seen is None or found.seen < now - SEEN):
                SignedIn.update(seen=now).where(SignedIn.id == found.id).execute()
            return found.account  # type: ignore[no-any-return]
    raise NotSignedIn("session", "You are not signed in, or your session has ended. Sign in again.")


def _goes_on(now: datetime) -> Any:
    """Of sessions beside their accounts: those that are neither over nor idle for too long."""
    minutes, moment = sign_in_rules.idle_minutes(), SignedIn.seen.db_value(now)
    awake = SignedIn.seen.is_null() | (fn.TIMESTAMPDIFF(SQL("MINUTE"), SignedIn.seen, moment) < minutes)
    return (SignedIn.expires > now) & awake & Account.active


def ended_among(tokens: set[str]) -> set[str]:
    """Those of some sessions that are over, asked for all at once."""
    hashes = {token_hash(t): t for t in tokens}
    alive = (
        SignedIn.select(SignedIn.token_hash)
        .join(Account)
        .where(SignedIn.token_hash.in_(sorted(hashes) or [""]) & _goes_on(settings().now()))
    )
    return tokens - {hashes[h] for (h,) in alive.tuples()}


def sign_out(token: str) -> None:
    SignedIn.delete().where(SignedIn.token_hash == token_hash(token)).execute()
