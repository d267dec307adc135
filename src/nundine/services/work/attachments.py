"""Files that hang on records: photos of a request, documents of a WO."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from nundine.services.errors import NotFound, Refused
from nundine.services.ledger.commands import note
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.base import db
from nundine.store.beside import Attachment

MOST_BYTES, MOST_FILES = 12 * 1024 * 1024, 20
PICTURES = {
    "png": b"\x89PNG",
    "jpg": b"\xff\xd8\xff",
    "jpeg": b"\xff\xd8\xff",
    "gif": b"GIF8",
    "webp": b"RIFF",
}
"""Kinds of pictures that are shown, and how their files begin; all else is only given out as a file."""


@dataclass(frozen=True)
class AttachedFile:
    """`picture`: it can be shown as one; `size` in bytes."""

    id: int
    name: str
    size: int
    picture: bool
    at: datetime
    by: str


def attached(noun: str, key: str) -> list[AttachedFile]:
    """The oldest first."""
    rows = (
        Attachment.select(
            Attachment.id,
            Attachment.name,
            Attachment.size,
            Attachment.media,
            Attachment.at,
            Account.full_name,
        )
        .left_outer_join(Account)
        .where((Attachment.noun == noun) & (Attachment.key == key))
        .order_by(Attachment.id)
    )
    return [
        AttachedFile(i, name, size, media.startswith("image/"), at, by or "Nundine")
        for i, name, size, media, at, by in rows.tuples()
    ]


def attach(account: Account, noun: str, key: str, name: str, content: bytes) -> None:
    """Hang a file on a record, which the caller knows to be there. Raises Refused for one that is too large,
    empty, or one too many."""
    name = name.replace("\\", "/").rsplit("/", 1)[-1].strip()[:200] or "file"
    if not content:
        raise Refused("file", f"{name} is empty.", field="files")
    if len(content) > MOST_BYTES:
        raise Refused(
            "file", f"{name} has more than {MOST_BYTES // 1024**2} MB. Make it smaller.", field="files"
        )
    with db.atomic():
        held = Attachment.select().where((Attachment.noun == noun) & (Attachment.key == key)).count()
        if held >= MOST_FILES:
            raise Refused("file", f"At most {MOST_FILES} files hang on one record.", field="files")
        Attachment.create(
            noun=noun,
            key=key,
            name=name,
            media=media_of(name, content),
            size=len(content),
            content=content,
            at=settings().now(),
            account=account,
        )
        note(f"{noun} {key}", account, "file", f"{name} is attached")


def media_of(name: str, content: bytes) -> str:
    """What a file is served as: a picture only where its name and its first bytes say the same."""
    ending = name.rsplit(".", 1)[-1].lower()
    if ending in PICTURES and content.startswith(PICTURES[ending]):
        return "image/jpeg" if ending == "jpg" else f"image/{ending}"
    return "application/octet-stream"


def file_of(noun: str, key: str, id_: int) -> Attachment:
    """Raises NotFound for a file that hangs on no such record."""
    found: Attachment | None = Attachment.get_or_none(
        (Attachment.id == id_) & (Attachment.noun == noun) & (Attachment.key == key)
    )
    if found is None:
        raise NotFound("file", "This file is not here any more.")
    return found


def carry_over(noun: str, key: str, to_noun: str, to_key: str) -> None:
    """The files of a record hang on another one too."""
    for one in Attachment.select().where((Attachment.noun == noun) & (Attachment.key == key)):
        Attachment.create(
            noun=to_noun,
            key=to_key,
            name=one.name,
            media=one.media,
            size=one.size,
            content=one.content,
            at=one.at,
            account=one.account_id,
        )
