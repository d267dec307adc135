"""Sheets of work orders, and lists as they are seen, as PDF."""

from __future__ import annotations

import html
from collections.abc import Sequence
from dataclasses import dataclass, field

from nundine.formats.paper import pdf_aside

STYLE = """
@page { size: A4; margin: 15mm 14mm; @bottom-left { content: string(foot); font: 8pt 'DejaVu Sans' }
        @bottom-right { content: counter(page) " of " counter(pages); font: 8pt 'DejaVu Sans' } }
body { font: 9pt/1.35 'DejaVu Sans'; color: #1f2a30 }
section { break-after: page }
section:last-child { break-after: auto }
.foot { string-set: foot content(); height: 0; overflow: hidden }
h1 { font-size: 15pt; margin: 0 }
.sub { color: #5b615f; margin: 1mm 0 3mm }
dl { columns: 2; margin: 0 0 3mm }
dl div { break-inside: avoid }
dt { color: #5b615f; font-size: 7.5pt }
dd { margin: 0 0 1.2mm }
table { width: 100%; border-collapse: collapse }
th { text-align: left; font-size: 7.5pt; color: #5b615f; border-bottom: 1px solid #1f2a30;
  padding: 1mm 2mm 1mm 0 }
td { padding: 1.4mm 2mm 1.4mm 0; border-bottom: .5px solid #cfc8b8; vertical-align: top }
tr { break-inside: avoid }
.number { text-align: right; white-space: nowrap }
.check { display: flex; justify-content: space-between; gap: 4mm; margin-top: 1mm }
.check span:last-child { white-space: nowrap; color: #5b615f }
.soft { color: #5b615f }
.tick { white-space: nowrap; color: #5b615f; font-size: 7.5pt }
.sign { display: flex; gap: 8mm; margin-top: 9mm }
.sign div { flex: 1; border-top: 1px solid #1f2a30; padding-top: 1mm; font-size: 7.5pt; color: #5b615f }
a { color: inherit; text-decoration: none }
.group { break-before: page; font-size: 11pt; margin: 0 0 3mm; border-bottom: 1px solid #1f2a30 }
.group:first-of-type { break-before: auto }
section.short { break-after: auto; break-inside: avoid; margin-bottom: 6mm }
section.short h1 { font-size: 11pt }
"""
WIDE = """
@page { size: A4 landscape; margin: 12mm }
body { font-size: 7.5pt }
thead { display: table-header-group }
"""


@dataclass(frozen=True)
class TaskLine:
    """A task on a sheet: all in words but its hours."""

    task: str
    what: str
    hours: float
    crew: str
    when: str
    notes: list[str] = field(default_factory=list)
    checks: list[tuple[str, str]] = field(default_factory=list)
    """What is checked, and room for its answer."""
    text: str = ""
    """How it is done."""


@dataclass(frozen=True)
class OrderSheet:
    """A work order on paper; `facts` are pairs of a label and words."""

    number: str
    title: str
    asset: str
    facts: tuple[tuple[str, str], ...]
    description: str
    tasks: tuple[TaskLine, ...]
    link: str = ""
    group: str | None = None
    """Who or what it is for; each begins on a page of its own, under its name."""


def order_sheets_pdf(foot: str, sheets: Sequence[OrderSheet], short: bool = False) -> bytes:
    """A page or more for each work order, with lines to sign on; short ones follow one another, with their
    tasks alone. Sheets of one group stand together."""
    parts, group = "", None
    for one in sheets:
        if one.group is not None and one.group != group:
            group = one.group
            parts += f"<h2 class=group dir=auto>{html.escape(group)}</h2>"
        parts += _short(one) if short else _sheet(one)
    parts = parts or "<section><p>No work order was chosen.</p></section>"
    return pdf_aside(_page("Work orders", foot, STYLE, parts))


def list_pdf(title: str, foot: str, head: Sequence[str], rows: Sequence[Sequence[str]]) -> bytes:
    """A list on wide pages, its columns named on each."""
    e = html.escape
    named = "".join(f"<th>{e(h)}</th>" for h in head)
    lines = "".join(f"<tr>{''.join(f'<td dir=auto>{e(c)}</td>' for c in r)}</tr>" for r in rows)
    body = (
        f"<h1>{e(title)}</h1><p class=sub>{e(foot)}</p><table><thead><tr>{named}</tr></thead>{lines}</table>"
    )
    return pdf_aside(_page(title, foot, STYLE + WIDE, body))


def _page(title: str, foot: str, style: str, body: str) -> str:
    e = html.escape
    head = f"<title>{e(title)}</title><style>{style}</style>"
    return f"<html lang=en>{head}<div class=foot>{e(foot)}</div>{body}</html>"


def _sheet(one: OrderSheet) -> str:
    e = html.escape
    number = f"<a href='{e(one.link)}'>{e(one.number)}</a>" if one.link else e(one.number)
    facts = "".join(f"<div><dt>{e(k)}</dt><dd>{e(v)}</dd></div>" for k, v in one.facts)
    tasks = "".join(
        f"<tr><td class=number>{e(t.task)}</td><td><b>{e(t.what)}</b>"
        + "".join(f"<br><span class=soft>{e(n)}</span>" for n in t.notes)
        + f"</td><td>{e(t.crew)}</td><td>{e(t.when)}</td><td class=number>{t.hours:g} h</td>"
        f"<td class=tick>☐ done<br>hours ______</td></tr>{_below(t)}"
        for t in one.tasks
    )
    head = "<tr><th></th><th>Task</th><th>Crew</th><th>When, who</th><th>Planned</th><th></th></tr>"
    told = f"<p dir=auto>{e(one.description)}</p>" if one.description else ""
    return (
        f"<section><h1 dir=auto>{number} {e(one.title)}</h1><p class=sub>{e(one.asset)}</p>"
        f"<dl>{facts}</dl>{told}"
        f"<table>{head}{tasks}</table><div class=sign><div>Done by, date</div><div>Checked by, date</div>"
        "<div>Remarks</div></div></section>"
    )


def _below(task: TaskLine) -> str:
    """How a task is done and what is checked, over the whole width."""
    e = html.escape
    told = f"<div class=soft dir=auto>{e(task.text)}</div>" if task.text else ""
    checks = "".join(
        f"<div class=check><span>{e(what)}</span><span>{e(room)}</span></div>" for what, room in task.checks
    )
    return f"<tr><td></td><td colspan=5>{told}{checks}</td></tr>" if told or checks else ""


def _short(one: OrderSheet) -> str:
    e = html.escape
    tasks = "".join(
        f"<tr><td class=number>{e(t.task)}</td><td>{e(t.what)}</td><td>{e(t.when)}</td>"
        f"<td class=number>{t.hours:g} h</td><td class=tick>☐ done</td></tr>"
        for t in one.tasks
    )
    return (
        f"<section class=short><h1 dir=auto>{e(one.number)} {e(one.title)}</h1>"
        f"<p class=sub>{e(one.asset)}</p><table>{tasks}</table></section>"
    )
