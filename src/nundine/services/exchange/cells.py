"""Cells of files: how each kind of value is read, and written so that it reads back equal."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import UTC, date, datetime, time
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core import checklist as checking
from nundine.core.characters import bad_character, key_fault
from nundine.core.timeline import in_our_time
from nundine.formats.bad import BadCell

Read = Callable[[Any, ZoneInfo], Any]


def blank(cell: Any) -> bool:
    return cell is None or (isinstance(cell, str) and not cell.strip())


def text(longest: int) -> Read:
    def read(cell: Any, _: ZoneInfo) -> str:
        if isinstance(cell, float) and cell.is_integer():
            cell = int(cell)
        value = _plain(cell)
        if len(value) > longest:
            raise BadCell(f"has {len(value)} characters; at most {longest}")
        return value

    return read


def _plain(cell: Any) -> str:
    """A cell as text, with line ends as XML does them, so XLSX too. Raises BadCell."""
    value = str(cell).strip().replace("\r\n", "\n").replace("\r", "\n")
    bad = bad_character(value)
    if bad:
        raise BadCell(f"holds {bad}, a control character or one that no text may hold; take it out")
    return value


def key(longest: int, without: str = ";", blanks: bool = True) -> Read:
    """What a record is known by."""
    plain = text(longest)

    def read(cell: Any, zone: ZoneInfo) -> str:
        value: str = plain(cell, zone)
        fault = key_fault(value, without, blanks)
        if fault:
            raise BadCell(fault)
        return value

    return read


def number(low: float, high: float) -> Read:
    def read(cell: Any, _: ZoneInfo) -> float:
        try:
            value = float(cell if not isinstance(cell, str) else cell.strip())
        except (TypeError, ValueError):
            raise BadCell(f"{cell!r} is not a number; write it like 2.5") from None
        if not low <= value <= high:
            raise BadCell(f"must lie between {low:g} and {high:g}")
        return value

    return read


def whole(low: int, high: int) -> Read:
    def read(cell: Any, zone: ZoneInfo) -> int:
        value = number(low, high)(cell, zone)
        if value != int(value):
            raise BadCell(f"{cell!r} is not a whole number")
        return int(value)

    return read


def yes_no(cell: Any, _: ZoneInfo) -> bool:
    value = str(cell).strip().lower()
    if value in ("yes", "true", "1"):
        return True
    if value in ("no", "false", "0"):
        return False
    raise BadCell(f"{cell!r}: write yes or no")


def one_of(*choices: str) -> Read:
    def read(cell: Any, _: ZoneInfo) -> str:
        value = str(cell).strip().lower()
        if value not in choices:
            raise BadCell(f"{cell!r} is none of: {', '.join(choices)}")
        return value

    return read


def _in_our_time(value: date) -> None:
    try:
        in_our_time(value.year)
    except ValueError as bad:
        raise BadCell(f"{bad}; leave the cell empty if there is none") from None


def day(cell: Any, _: ZoneInfo) -> date:
    try:
        value = cell if isinstance(cell, date) else date.fromisoformat(str(cell).strip()[:10])
    except ValueError:
        raise BadCell(f"{cell!r} is not a day; write it like 2026-11-30") from None
    _in_our_time(value)
    return value.date() if isinstance(value, datetime) else value


def moment(cell: Any, zone: ZoneInfo) -> datetime:
    try:
        value = cell if isinstance(cell, datetime) else datetime.fromisoformat(str(cell).strip())
    except ValueError:
        raise BadCell(f"{cell!r} is not a time; write it like 2026-11-30 06:00") from None
    _in_our_time(value)
    return (value if value.tzinfo else value.replace(tzinfo=zone)).astimezone(UTC)


def clock(cell: Any, _: ZoneInfo) -> time:
    if isinstance(cell, time):
        return cell.replace(second=0, microsecond=0)
    try:
        hour, minute = str(cell).strip().split(":")[:2]
        return time(int(hour) % 24 if hour == "24" else int(hour), int(minute))
    except ValueError:
        raise BadCell(f"{cell!r} is not a time of day; write it like 06:00") from None


def _parts(cell: Any) -> list[str]:
    parts = [p.strip() for p in _plain(cell).split(";") if p.strip()]
    if not parts:
        raise BadCell("is empty but for signs between")
    return parts


def crafts(cell: Any, _: ZoneInfo) -> tuple[tuple[str, int], ...]:
    out = []
    for part in _parts(cell):
        craft, _sep, level = part.partition(":")
        if not craft.strip() or level.strip() not in ("", "1", "2", "3"):
            raise BadCell(f"{part!r}: write a craft and its level 1-3, like mech:2; weld:1")
        out.append((craft.strip(), int(level or 2)))
    if len({c for c, _ in out}) < len(out):
        raise BadCell("a craft stands twice")
    return tuple(out)


CERTIFICATE = key(40, ";:", blanks=False)


def certificates(cell: Any, zone: ZoneInfo) -> tuple[tuple[str, date | None], ...]:
    out = []
    for part in _parts(cell):
        name, _sep, until = part.partition(":")
        try:
            last = date.fromisoformat(until.strip()) if until.strip() else None
        except ValueError:
            last = date.min
        if not name.strip() or last == date.min:
            raise BadCell(f"{part!r}: write a certificate and its last valid day, like rope:2027-01-31")
        out.append((CERTIFICATE(name, zone), last))
    return tuple(sorted(out, key=lambda c: c[0]))


MOST_PEOPLE = 99


NEED = re.compile(r"^(\S+?)(?:\s+x\s*(\d+))?(?:\s+level\s+([123]))?(?:\s+with\s+(\S+))?$")


def needs(cell: Any, _: ZoneInfo) -> tuple[tuple[str, int, int, str | None], ...]:
    """(craft, people, level, certificate) of each need."""
    out = []
    for part in _parts(cell):
        found = NEED.match(part)
        if not found or not 1 <= int(found[2] or 1) <= MOST_PEOPLE:
            raise BadCell(f"{part!r}: write crew needs like: mech x2 level 2 with rope; elec")
        out.append((found[1], int(found[2] or 1), int(found[3] or 1), found[4]))
    return tuple(out)


LONGEST_LAG = 2000.0
"""Hours, as long as the longest task."""


def follows(cell: Any, _: ZoneInfo) -> tuple[tuple[str, float], ...]:
    out = []
    for part in _parts(int(cell) if isinstance(cell, float) and cell.is_integer() else cell):
        task, _sep, lag = part.partition("+")
        try:
            hours = float(lag or 0)
        except ValueError:
            hours = -1
        if not task.strip() or not 0 <= hours <= LONGEST_LAG:
            raise BadCell(f"{part!r}: write the task before and hours to wait, like 10 or 10+2.5")
        out.append((task.strip(), hours))
    return tuple(sorted(out))


def shares(cell: Any, _: ZoneInfo) -> tuple[tuple[str, float], ...]:
    """(asset, percent) of each; together at most 100."""
    out = []
    for part in _parts(cell):
        asset, _sep, percent = part.rpartition(":")
        try:
            value = float(percent)
        except ValueError:
            value = -1
        if not asset.strip() or not 0 < value <= 100:
            raise BadCell(f"{part!r}: write an asset and its percent of the cost, like lift-3:40")
        out.append((asset.strip(), value))
    if len({a for a, _ in out}) < len(out):
        raise BadCell("an asset stands twice")
    if sum(p for _, p in out) > 100:
        raise BadCell("the shares add up to more than 100 %")
    return tuple(sorted(out))


OUTSIDE = re.compile(r"^(.+?)(?:\s+x\s*(\d+))?(?:\s+at\s+(\d+(?:\.\d+)?))?$")


def outside(cell: Any, _: ZoneInfo) -> tuple[tuple[str, int, float], ...]:
    """(contract, people, cost of an hour) of people of other firms."""
    out = []
    for part in _parts(cell):
        found = OUTSIDE.match(part)
        if not found or not 1 <= int(found[2] or 1) <= MOST_PEOPLE or len(found[1]) > 120:
            raise BadCell(f"{part!r}: write a contract, people and the cost of an hour: Seilbau Ost x2 at 95")
        out.append((found[1], int(found[2] or 1), float(found[3] or 0)))
    return tuple(out)


def checklist(cell: Any, _: ZoneInfo) -> tuple[str, ...]:
    """Entries, each as `core.checklist` writes it; none stands twice."""
    try:
        entries = [checking.written(checking.entry(part)) for part in _parts(cell)]
    except ValueError as bad:
        raise BadCell(str(bad)) from None
    if len(set(entries)) < len(entries):
        raise BadCell("an entry of the checklist stands twice")
    return tuple(entries)


PART_NEED = re.compile(
    r"""(?:"(?P<text>[^"]+)"|(?P<part>.+?))(?: x(?P<quantity>[\d.]+))?"""
    r"""(?: from (?P<store>.+?))?(?P<may> may)?"""
)
NeedOfPart = tuple[str | None, str, float, str | None, bool]
"""A part's key, what it is where it has none, quantity, storeroom, and whether it must be used."""


def parts(cell: Any, _: ZoneInfo) -> tuple[NeedOfPart, ...]:
    """`BE-1002 x2 from main; SE-1015 may; "rags" x3`: parts that a task needs; `may`: it may be used."""
    out: list[NeedOfPart] = []
    for one in _parts(cell):
        found = PART_NEED.fullmatch(one)
        quantity = number(0.001, 10**6)(found["quantity"] or 1, _) if found else 0.0
        if found is None:
            raise BadCell(f"{one!r}: write a part, how many and from where, like BE-1002 x2 from main")
        out.append((found["part"], found["text"] or "", round(quantity, 3), found["store"], not found["may"]))
    if len({(part, text) for part, text, *_ in out}) < len(out):
        raise BadCell("a part stands twice; write how many")
    return tuple(out)


def lines(cell: Any, _: ZoneInfo) -> tuple[str, ...]:
    """Texts in their order."""
    return tuple(dict.fromkeys(_parts(cell)))


def names(cell: Any, _: ZoneInfo) -> tuple[str, ...]:
    return tuple(sorted(_parts(cell)))


def write_cell(name: str, value: Any, zone: ZoneInfo) -> Any:
    """A value as text that reads back equal."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, datetime):
        return value.astimezone(zone).isoformat(
            timespec="minutes" if not value.second and not value.microsecond else "microseconds"
        )
    if isinstance(value, time):
        return f"{value:%H:%M}"
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, tuple):
        return "; ".join(_part(name, v) for v in value)
    return value


def _part(name: str, v: Any) -> str:
    if name == "crafts":
        return f"{v[0]}:{v[1]}"
    if name == "certificates":
        return f"{v[0]}:{v[1].isoformat()}" if v[1] else str(v[0])
    if name == "shares":
        return f"{v[0]}:{v[1]!r}"
    if name == "grid":
        return f"{v[0]}={', '.join(v[1])}"
    if name == "lasts":
        return f"{v[0]} {v[1]}" + (f" due {v[2]}" if v[2] else "") + (f" done {v[3]}" if v[3] else "")
    if name == "rungs" and isinstance(v, tuple):
        return " ".join(v)
    if name == "parts":
        what = v[0] if v[0] is not None else f'"{v[1]}"'
        quantity = f"{v[2]:.3f}".rstrip("0").rstrip(".")
        return f"{what} x{quantity}" + (f" from {v[3]}" if v[3] else "") + ("" if v[4] else " may")
    if name == "alternates":
        return f"{v[0]}{' both ways' if v[1] else ''}"
    if name == "outside":
        return f"{v[0]} x{v[1]}" + (f" at {v[2]!r}" if v[2] else "")
    if name == "after":
        return f"{v[0]}+{v[1]!r}" if v[1] else str(v[0])
    if name == "needs":
        return f"{v[0]} x{v[1]} level {v[2]}" + (f" with {v[3]}" if v[3] else "")
    return str(v)
