"""Crew sheets as PDF and calendars as iCalendar (RFC 5545)."""

from __future__ import annotations

import html
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date, datetime
from zoneinfo import ZoneInfo

from icalendar import Calendar, Event

from nundine.formats.paper import pdf, pdf_aside

SHORT = 40
"""Lines of work that are laid out at once (some 0.3 s); more would keep others waiting."""

STYLE = """
@page { size: A4; margin: 16mm 14mm; @bottom-left { content: string(foot); font: 8pt 'DejaVu Sans' }
        @bottom-right { content: counter(page); font: 8pt 'DejaVu Sans' } }
body { font: 9pt/1.35 'DejaVu Sans'; color: #1f2a30 }
section { break-after: page }
section:last-child { break-after: auto }
h1 { font-size: 15pt; margin: 0 }
.sub { color: #5b615f; margin: 1mm 0 4mm }
.foot { string-set: foot content(); height: 0; overflow: hidden }
h2 { font-size: 10.5pt; margin: 5mm 0 1mm; border-bottom: 1px solid #1f2a30; padding-bottom: 1mm;
  break-after: avoid }
table { width: 100%; border-collapse: separate; border-spacing: 0; table-layout: fixed }
td { padding: 1.2mm 2mm 1.2mm 0; border-bottom: .5px solid #cfc8b8; vertical-align: top }
tr { break-inside: avoid }
.time { width: 31mm; white-space: nowrap }
.hours { width: 14mm; text-align: right }
.job b { font-weight: bold }
.box { width: 26mm; color: #5b615f; font-size: 7.5pt }
.soft { color: #5b615f }
a { color: inherit; text-decoration: none }
"""


@dataclass(frozen=True)
class SheetLine:
    """One task of one person: local day, times (ISO), hours, and where."""

    day: str
    start: str | None
    end: str | None
    hours: float
    job: str
    title: str
    task: str
    asset: str
    window: str
    person: str
    beside: list[str]
    notes: list[str] = field(default_factory=list)
    """Where to go first, whose work this goes on with, who goes on with it."""
    link: str = ""
    """The address of the job."""


@dataclass(frozen=True)
class CrewSheet:
    """The pages of one person or crew."""

    name: str
    label: str
    lines: tuple[SheetLine, ...]


def _clock(moment: str, day: str, zone: ZoneInfo) -> str:
    """A clock of a shift's day; after midnight with the calendar's day: `Wed 01:15`."""
    at = datetime.fromisoformat(moment).astimezone(zone)
    return f"{at:%H:%M}" if at.date().isoformat() == day else f"{at:%a %H:%M}"


def _hours(one: SheetLine, zone: ZoneInfo) -> str:
    if not one.start or not one.end:
        return "time open"
    on = datetime.fromisoformat(one.start).astimezone(zone).date().isoformat()
    return f"{_clock(one.start, one.day, zone)}–{_clock(one.end, on, zone)}"


def _line(one: SheetLine, zone: ZoneInfo, people: bool) -> str:
    e = html.escape
    time = _hours(one, zone)
    beside = ", ".join(one.beside)
    who = f"<b>{e(one.person)}</b><br>" if people else ""
    more = " · ".join(x for x in (e(one.asset), e(one.window), f"with {e(beside)}" if beside else "") if x)
    more += "".join(f"<br><b>→ {e(note)}</b>" for note in one.notes)
    number = f"<a href='{e(one.link)}'>{e(one.job)}</a>" if one.link else e(one.job)
    return (
        f"<tr><td class=time>{time}</td><td class=job>{who}<b>{number}</b> "
        f"{e(one.title)}<br>{e(one.task)}<br>"
        f"<span class=soft>{more}</span></td>"
        f"<td class=hours>{one.hours:g} h</td><td class=box>done ☐ &nbsp; hours ______</td></tr>"
    )


def crew_sheets_pdf(
    site: str,
    of: str,
    revision: int,
    status: str,
    zone: ZoneInfo,
    sheets: tuple[CrewSheet, ...],
    people: bool,
) -> bytes:
    """A PDF with a section for each sheet; says so where there is nothing."""
    foot = f"{site} · {of} · " + (f"revision {revision}" if revision else f"{status}, not published")
    parts = []
    for sheet in sheets:
        days: dict[str, list[SheetLine]] = {}
        for one in sheet.lines:
            days.setdefault(one.day, []).append(one)
        total = sum(one.hours for one in sheet.lines)
        body = "".join(
            f"<h2>{date.fromisoformat(d):%A} {date.fromisoformat(d).day} "
            f"{date.fromisoformat(d):%B}</h2><table>"
            + "".join(_line(one, zone, people) for one in found)
            + "</table>"
            for d, found in sorted(days.items())
        )
        parts.append(
            f"<section><h1>{html.escape(sheet.name)}</h1><p class=sub>{html.escape(foot)} · "
            f"{total:g} h</p>{body}</section>"
        )
    if not parts:
        parts.append(
            f"<section><h1>{of[:1].upper()}{of[1:]}</h1><p class=sub>{html.escape(foot)}</p>"
            "<p>Nobody has work in these days yet.</p></section>"
        )
    page = (
        f"<html lang=en><title>Crew sheets, {of}</title><style>{STYLE}</style><div "
        f"class=foot>{html.escape(foot)}</div>{''.join(parts)}</html>"
    )
    return pdf(page) if sum(len(sheet.lines) for sheet in sheets) <= SHORT else pdf_aside(page)


@dataclass(frozen=True)
class Appointment:
    """A portion of work in somebody's calendar: its lasting name, from when to when (ISO), and what it is."""

    uid: str
    start: str
    end: str
    job: str
    title: str
    place: str
    what: str
    beside: list[str]


def person_calendar(name: str, rows: list[Appointment], link: Callable[[str], str], now: datetime) -> bytes:
    """An event for each placed portion, times in UTC; the uid stays the same while the portion does.
    `link` gives the address of a job."""
    calendar = Calendar()
    calendar.add("prodid", "-//Nundine//crew schedule//EN")
    calendar.add("version", "2.0")
    calendar.add("name", f"Work of {name}")
    utc = ZoneInfo("UTC")
    for r in rows:
        event = Event()
        event.add("uid", f"{r.uid}@nundine")
        event.add("dtstamp", now.astimezone(utc))
        event.add("dtstart", datetime.fromisoformat(r.start).astimezone(utc))
        event.add("dtend", datetime.fromisoformat(r.end).astimezone(utc))
        event.add("summary", f"{r.job} {r.title}")
        event.add("location", r.place)
        event.add("url", link(r.job))
        beside = f"\nWith {', '.join(r.beside)}" if r.beside else ""
        event.add("description", r.what + beside)
        calendar.add_component(event)
    return bytes(calendar.to_ical())
