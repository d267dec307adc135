"""Backups are signed, so that a restore reads only what this Nundine wrote, and may be encrypted for
somebody's key.

The signature is an HMAC-SHA256 (RFC 2104) with a key in `var/backup-key`; encryption is age
(age-encryption.org/v1, X25519), done by pyrage, so that any age program opens the file too.
"""

from __future__ import annotations

import hashlib
import hmac
import os
import secrets
from pathlib import Path

import pyrage

AGE = b"age-encryption.org/v1"
"""How an encrypted file begins."""


class BadKey(RuntimeError):
    """Says what is wrong with a key and what to do."""


def signing_key(var: Path) -> bytes:
    """The key of this Nundine, made once, in a file that only its owner can read."""
    path = var / "backup-key"
    if not path.exists():
        write_secret(path, secrets.token_hex(32) + "\n")
    return read_key(path)


def read_key(path: Path) -> bytes:
    """A signing key. Raises BadKey."""
    try:
        key = bytes.fromhex(path.read_text().strip())
    except (OSError, ValueError) as bad:
        raise BadKey(
            f"{path} holds no key for backups ({bad}). It is the file backup-key below var."
        ) from bad
    if len(key) < 16:
        raise BadKey(f"{path} holds no key for backups: it is too short.")
    return key


def write_secret(path: Path, text: str) -> None:
    """A new file that only its owner can read. Raises FileExistsError."""
    with os.fdopen(os.open(path, os.O_CREAT | os.O_WRONLY | os.O_EXCL, 0o600), "w") as out:
        out.write(text)


def signature(key: bytes) -> hmac.HMAC:
    return hmac.new(key, digestmod=hashlib.sha256)


def new_identity(path: Path) -> str:
    """Make a pair of keys for encrypted backups: the secret one into a new file, the public one is given.
    Raises BadKey."""
    identity = pyrage.x25519.Identity.generate()
    try:
        write_secret(path, f"# public key: {identity.to_public()}\n{identity}\n")
    except FileExistsError as bad:
        raise BadKey(f"{path} is there already; nothing was changed. Choose another name.") from bad
    return str(identity.to_public())


def encrypt(plain: Path, to: str, out: Path) -> None:
    """Encrypt a file for a public key. Raises BadKey."""
    try:
        recipient = pyrage.x25519.Recipient.from_str(to)
    except pyrage.RecipientError as bad:
        raise BadKey(
            f"{to!r} is no public key of age; such keys begin with age1. ./nundine backup-keys makes one."
        ) from bad
    pyrage.encrypt_file(str(plain), str(out), [recipient])


def is_encrypted(file: Path) -> bool:
    with file.open("rb") as start:
        return start.read(len(AGE)) == AGE


def decrypt(file: Path, identity: Path, out: Path) -> None:
    """Decrypt a file with the secret key in another. Raises BadKey."""
    try:
        lines = [line.strip() for line in identity.read_text().splitlines()]
        keys = [pyrage.x25519.Identity.from_str(x) for x in lines if x and not x.startswith("#")]
        pyrage.decrypt_file(str(file), str(out), keys)
    except (OSError, UnicodeDecodeError, pyrage.IdentityError) as bad:
        raise BadKey(f"{identity} holds no secret key of age ({bad}).") from bad
    except pyrage.DecryptError as bad:
        raise BadKey(
            f"{file} can not be opened with the key in {identity} ({bad}). Nothing was changed."
        ) from bad
