"""Passwords: hashed, long enough, and none of those that everybody tries."""

from __future__ import annotations

import secrets
from functools import lru_cache
from pathlib import Path

from pwdlib import PasswordHash

from nundine.services.errors import Refused

HASHES = PasswordHash.recommended()
SHORTEST = 10
"""Characters. Length rather than kinds of characters, and a list of common ones: NIST SP 800-63B, 5.1.1.2."""
COMMON = Path(__file__).with_name("common_passwords.txt")


@lru_cache(maxsize=1)
def _common() -> frozenset[str]:
    return frozenset(COMMON.read_text(encoding="utf-8").split())


def need_good(password: str, name: str, full_name: str) -> None:
    """Raises Refused for a password that is too short, common, or made of the name alone."""
    if len(password) < SHORTEST:
        raise Refused("password", f"A password has at least {SHORTEST} characters.", field="password")
    plain = password.lower()
    if plain in _common() or len(set(plain)) < 3:
        raise Refused(
            "password",
            "This password is one of those that are tried first. Choose another.",
            field="password",
        )
    rest = plain
    for part in sorted({name.lower(), *full_name.lower().split()}, key=len, reverse=True):
        rest = rest.replace(part, "") if len(part) > 2 else rest
    if len(rest) < SHORTEST // 2:
        raise Refused("password", "A password is not made of the name. Choose another.", field="password")


def made_up() -> str:
    """A password to be used once."""
    return secrets.token_urlsafe(12)
