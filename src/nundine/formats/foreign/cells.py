"""Cells as other systems write them: hours, figures and dates of many styles. What can be read in two ways is
said to be so."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable
from datetime import date, datetime, time, timedelta
from typing import Any

from nundine.formats.bad import BadCell

STYLES = ("ymd", "dmy", "mdy")
EPOCH = datetime(1899, 12, 30)
"""Day 0 of spreadsheets' serial days (ECMA-376, 1900 date system)."""
MONTHS = {
    name: n
    for n, names in enumerate(
        (
            "jan january januar janvier",
            "feb february februar fevrier fev",
            "mar march marz maerz mars mrz",
            "apr april avril avr",
            "may mai",
            "jun june juni juin",
            "jul july juli juillet juil",
            "aug august aout",
            "sep sept september septembre",
            "oct october okt oktober octobre",
            "nov november novembre",
            "dec december dez dezember decembre",
        ),
        1,
    )
    for name in names.split()
}
DATE = re.compile(
    r"^(\d{1,4})\s*[./-]\s*(\d{1,2})\s*[./-]\s*(\d{1,4})"
    r"(?:[ T,]+(\d{1,2}[:.]\d{2}(?:[:.]\d{2})?(?:\s*[ap]m)?).*)?$",
    re.IGNORECASE,
)
COMPACT = re.compile(r"^(\d{4})(\d{2})(\d{2})(?:[ T]?(\d{2}):?(\d{2})(?::?\d{2})?)?$")
WORDED = re.compile(
    r"^(?:[a-z]{2,10}[.,]?\s+)?(\d{1,2})[.\s-]+([a-z]+)[.\s,-]+(\d{2,4})(?:[ T,]+(\d{1,2}[:.]\d{2}).*)?$",
    re.IGNORECASE,
)
MONTH_FIRST = re.compile(
    r"^([a-z]+)[.\s-]+(\d{1,2})(?:st|nd|rd|th)?[,\s-]+(\d{4})(?:[ T,]+(\d{1,2}[:.]\d{2}).*)?$", re.IGNORECASE
)
CLOCK = re.compile(r"^(\d{1,4}):(\d{2})(?::(\d{2}))?$")
HOURS_MINUTES = re.compile(
    r"^(?:(\d+)\s*(?:h|hrs?|std|hours?|heures?)\.?)?\s*(?:(\d{1,3})\s*(?:m|min|mins|minutes?|minuten)?\.?)?$",
    re.IGNORECASE,
)
UNIT = re.compile(
    r"\s*(h|hrs?|hours?|std\.?|stunden|heures?|min\.?|mins|minutes?|minuten)\s*$", re.IGNORECASE
)


class Ambiguous(BadCell):
    """A cell that can be read in two ways while nobody has said how."""


def plain(text: Any) -> str:
    """Lower case, without accents, with single spaces for all that is neither letter nor figure."""
    bare = (
        unicodedata.normalize("NFKD", str(text).replace("ß", "ss")).encode("ascii", "ignore").decode().lower()
    )
    return " ".join(re.sub(r"[^a-z0-9]+", " ", bare).split()) or " ".join(str(text).lower().split())


def blank(cell: Any) -> bool:
    return cell is None or (isinstance(cell, str) and cell.strip() in ("", "-", "--", "n/a", "N/A"))


# -------------------------------------------------------------------- figures


def decimal_marks(cells: Iterable[Any]) -> set[str]:
    """Which of "." and "," may part the decimals in all of these cells; both where nothing tells."""
    may = {".", ","}
    for cell in cells:
        if blank(cell) or not isinstance(cell, str) or not re.search(r"\d[.,]\d", cell):
            continue
        text = re.sub(r"[^\d.,]", "", UNIT.sub("", cell))
        marks = [c for c in text if c in ".,"]
        if len(set(marks)) == 2:
            may &= {marks[-1]}
        elif len(marks) > 1 or (
            len(text) - text.rfind(marks[0]) - 1 == 3 and len(text.split(marks[0])[0]) <= 3
        ):
            if len(marks) > 1:
                may &= {"." if marks[0] == "," else ","}
        else:
            may &= {marks[0]}
    return may


def figure(cell: Any, mark: str | None) -> float:
    """A number. Raises Ambiguous for what reads as thousands or as decimals while `mark` is not known."""
    if isinstance(cell, bool):
        raise BadCell(f"{cell!r} is not a number")
    if isinstance(cell, (int, float)):
        return float(cell)
    text = re.sub(r"[\s'’\u00a0\u202f]", "", str(cell))
    if mark is None and re.fullmatch(r"-?\d{1,3}[.,]\d{3}", text):
        raise Ambiguous(
            f"{cell} may be {text.replace(',', '.')} or {re.sub(r'[.,]', '', text)}; say which "
            "sign parts decimals"
        )
    if mark is None:
        mark = text[-3] if re.search(r"[.,]\d\d$", text) else "," if "," in text and "." not in text else "."
    other = "," if mark == "." else "."
    try:
        return float(text.replace(other, "").replace(mark, "."))
    except ValueError:
        raise BadCell(f"{cell!r} is not a number") from None


def hours(cell: Any, unit: str, mark: str | None) -> float:
    """Hours from 1:30, 1,5, 90 min, 1h30, a time of day or a length of a spreadsheet; bare figures are in
    `unit` (h or min)."""
    if isinstance(cell, timedelta):
        return round(cell.total_seconds() / 3600, 4)
    if isinstance(cell, time):
        return round(cell.hour + cell.minute / 60 + cell.second / 3600, 4)
    if isinstance(cell, datetime):
        return round((cell - EPOCH).total_seconds() / 3600, 4)
    if isinstance(cell, str):
        text = cell.strip()
        if found := CLOCK.match(text):
            return round(int(found[1]) + int(found[2]) / 60 + int(found[3] or 0) / 3600, 4)
        found = HOURS_MINUTES.match(text)
        if found and found[1] and found[2]:
            return round(int(found[1]) + int(found[2]) / 60, 4)
        if found := UNIT.search(text):
            value = figure(text[: found.start()], mark)
            return round(value / 60 if found[1].lower().startswith("m") else value, 4)
    value = figure(cell, mark)
    return round(value / 60 if unit == "min" else value, 4)


# -------------------------------------------------------------------- dates


def date_styles(cells: Iterable[Any]) -> set[str]:
    """The orders of day, month and year in which every written date of these cells can be read (dotted ones:
    day first)."""
    may = set(STYLES)
    for cell in cells:
        if blank(cell) or not isinstance(cell, str):
            continue
        found = DATE.match(cell.strip())
        if found:
            may &= {s for s in STYLES if _parted(found, s, cell) is not None} or may
    return may


def differ(cells: Iterable[Any], styles: set[str]) -> str | None:
    """A cell that means another day in another of these styles, or None."""
    for cell in cells:
        if (
            isinstance(cell, str)
            and (found := DATE.match(cell.strip()))
            and len({_parted(found, s, cell) for s in styles}) > 1
        ):
            return cell.strip()
    return None


def _parted(found: re.Match[str], style: str, cell: str) -> date | None:
    a, b, c = (int(found[n]) for n in (1, 2, 3))
    if len(found[1]) == 4:
        style = "ymd"
    elif "." in cell[: found.end(3)]:
        style = "dmy"
    elif style == "ymd" and len(found[3]) == 4:
        return None
    year, month, day = {"ymd": (a, b, c), "dmy": (c, b, a), "mdy": (c, a, b)}[style]
    try:
        return date(year + 2000 if year < 100 else year, month, day)
    except ValueError:
        return None


def _clock(text: str | None) -> time | None:
    if not text:
        return None
    late = text.lower().rstrip().endswith("pm")
    parts = re.findall(r"\d+", text)
    hour = int(parts[0]) % 12 + (12 if late else 0) if text.lower().rstrip().endswith("m") else int(parts[0])
    try:
        return time(hour % 24 if hour == 24 else hour, int(parts[1]))
    except ValueError:
        raise BadCell(f"{text!r} is not a time of day") from None


def moment(cell: Any, style: str | None, serial: bool = True) -> tuple[date, time | None]:
    """A day, and a time of day where one is given.

    Parameters
    ----------
    style
        Order of day, month and year; None = not said.
    serial
        Whether bare numbers are a spreadsheet's serial days.

    Raises
    ------
    Ambiguous
        For a date that is another day in another order while none was said.
    """
    if isinstance(cell, datetime):
        return cell.date(), (cell.time() if cell.time() != time(0) else None)
    if isinstance(cell, date):
        return cell, None
    if isinstance(cell, (int, float)) and serial and 20000 < cell < 80000:
        return moment(EPOCH + timedelta(days=float(cell)), style)
    text = str(cell).strip()
    if found := COMPACT.match(text):
        return _day(cell, int(found[1]), int(found[2]), int(found[3])), (
            time(int(found[4]), int(found[5])) if found[4] else None
        )
    if found := DATE.match(text):
        return _written(cell, found, style), _clock(found[4])
    bare = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode()
    found, day, month = (f, 1, 2) if (f := WORDED.match(bare)) else (MONTH_FIRST.match(bare), 2, 1)
    if found and found[month].lower() in MONTHS:
        year = int(found[3])
        return _day(
            cell, year + 2000 if year < 100 else year, MONTHS[found[month].lower()], int(found[day])
        ), _clock(found[4])
    raise BadCell(f"{cell!r} is not a date")


def _day(cell: Any, year: int, month: int, day: int) -> date:
    try:
        return date(year, month, day)
    except ValueError:
        raise BadCell(f"{cell!r} is no day of the calendar") from None


def _written(cell: Any, found: re.Match[str], style: str | None) -> date:
    days = {s: d for s in STYLES if (d := _parted(found, s, str(cell).strip())) is not None}
    if style is not None:
        if style in days:
            return days[style]
        raise BadCell(
            f"{cell!r} is no date with the order "
            f"{' '.join({'d': 'day', 'm': 'month', 'y': 'year'}[c] for c in style)}"
        )
    if len(set(days.values())) == 1:
        return next(iter(days.values()))
    if not days:
        raise BadCell(f"{cell!r} is no day of the calendar")
    raise Ambiguous(
        f"{cell} may be {' or '.join(f'{d.day} {d:%b %Y}' for d in sorted(set(days.values())))}; say which"
    )
