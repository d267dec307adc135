"""Which characters a text of a record, or its key, may hold."""

from __future__ import annotations

import re

BAD = re.compile(
    "[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff\ufdd0-\ufdef"
    + "".join(f"{chr(plane * 0x10000 + 0xFFFE)}{chr(plane * 0x10000 + 0xFFFF)}" for plane in range(17))
    + "]"
)
"""Control characters but tab and line ends, halves of pairs, and code points that Unicode keeps from being
characters (The Unicode Standard, 23.7 "Noncharacters"). XML, and so spreadsheets, can't hold most of them
(XML 1.0, 2.2 "Characters")."""


def bad_character(text: str) -> str | None:
    """The first character that no text of ours may hold, named as U+0001; None where all are fine."""
    found = BAD.search(text)
    return f"U+{ord(found[0]):04X}" if found else None


def key_fault(key: str, without: str = ";", blanks: bool = True) -> str | None:
    """Why a text can not be what a record is known by; None if it can.

    A key is one line that addresses can carry, and cells that hold several keys with signs between.
    """
    for c in key:
        if c in without or c in "\n\r\t" or (c.isspace() and not blanks):
            what = "a blank" if c == " " else "a line end or tab" if c.isspace() else repr(c)
            return f"{key[:40]!r} holds {what}, which no such key may hold"
    return f"{key!r} is nothing that a record can be known by" if key in ("", ".", "..") else None
