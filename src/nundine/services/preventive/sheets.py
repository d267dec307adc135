"""Preventive sheets of the week, sent each Monday: a PDF into the print folder, and a message with it into
the outbox. Both are simulated: folders of files, from which a printer or a mail server would take them."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, time, timedelta
from email.message import EmailMessage
from pathlib import Path
from zoneinfo import ZoneInfo

from nundine.core.lifecycle import OPEN_STATES
from nundine.core.timeline import at_local, week_name
from nundine.services.background.periodic import Weekly, periodic
from nundine.services.errors import Refused
from nundine.services.ledger.commands import note
from nundine.services.preventive.raising import STREAM
from nundine.services.week.state import load_state
from nundine.services.work.order_sheets import Paper, sheets_pdf
from nundine.settings import settings
from nundine.store.asset import Asset
from nundine.store.preventive import Occurrence, PreventivePlan
from nundine.store.site import site
from nundine.store.week import Placement
from nundine.store.work_order import Task, WorkOrder

MOST = 1000
KINDS = ("preventive", "statutory")
SENDER = "nundine@localhost"


@periodic("preventive sheets", "preventive sheets of the week", Weekly(0, time(8)))
def send_each_monday() -> None:
    """On Mondays at eight, by the clock of the site."""
    send(settings().day(site().timezone))


def send(day: date) -> list[str]:
    """Lay out the sheets of what is due or placed in a day's week, by who is answerable, and send them.
    Gives the numbers of the WOs; where there is none, nothing is sent."""
    here, monday = site(), day - timedelta(days=day.weekday())
    numbers = of_week(monday)
    if not numbers:
        note(STREAM, None, "sheets", f"No preventive WO is due in week {week_name(monday)}; nothing was sent")
        return []
    body = sheets_pdf(load_state(week_name(monday)), numbers, Paper(by="crew"))
    name = f"{here.key}-{week_name(monday)}-preventive.pdf"
    _put(settings().var / "print" / name, body)
    to = [a for a in here.settings.get("sheets_to", []) if a]
    if to:
        message = _message(here.name, week_name(monday), len(numbers), to)
        message.add_attachment(body, maintype="application", subtype="pdf", filename=name)
        _put(settings().var / "outbox" / f"{name.removesuffix('.pdf')}.eml", bytes(message))
    sent = f", sent to {', '.join(to)}" if to else ""
    note(
        STREAM,
        None,
        "sheets",
        f"Sheets of {len(numbers)} preventive WOs of {week_name(monday)} printed{sent}",
    )
    return numbers


def of_week(monday: date) -> list[str]:
    """Preventive WOs that are open and due by the end of a week, or placed in it, the soonest first."""
    zone, last = ZoneInfo(site().timezone), monday + timedelta(days=6)
    placed = Task.select(Task.work_order).join(Placement).where(Placement.day.between(monday, last))
    end = at_local(last + timedelta(days=1), time(), zone)
    rows = (
        WorkOrder.select(WorkOrder.number)
        .where(WorkOrder.kind.in_(KINDS) & WorkOrder.state.in_(OPEN_STATES))
        .where((WorkOrder.due < end) | WorkOrder.id.in_(placed))
        .order_by(WorkOrder.due, WorkOrder.number)
        .limit(MOST)
    )
    return [number for (number,) in rows.tuples()]


def orders_of(picked: Sequence[tuple[str, str]]) -> list[str]:
    """The WOs that are raised of these plans on these assets, by when they fall due. Raises Refused where
    none is."""
    wanted = set(picked)
    rows = (
        Occurrence.select(PreventivePlan.number, Asset.key, WorkOrder.number)
        .join(PreventivePlan)
        .join_from(Occurrence, Asset)
        .join_from(Occurrence, WorkOrder)
        .where(
            (Occurrence.state == "raised") & PreventivePlan.number.in_({plan for plan, _ in wanted} or [""])
        )
        .order_by(Occurrence.due, WorkOrder.number)
    )
    found = [number for plan, asset, number in rows.tuples() if (plan, asset) in wanted]
    if not found:
        raise Refused(
            "none", "None of these services is raised as a WO, so there is no sheet.", field="picked"
        )
    return found


def _message(site_name: str, week: str, count: int, to: list[str]) -> EmailMessage:
    message = EmailMessage()
    message["From"], message["To"] = SENDER, ", ".join(to)
    message["Subject"] = f"{site_name}: preventive work of week {week}"
    message["Date"] = settings().now()
    message.set_content(f"{count} preventive work orders of week {week} stand in the sheets attached.\n")
    return message


def _put(path: Path, body: bytes) -> None:
    """A whole file or none, whoever looks meanwhile."""
    path.parent.mkdir(parents=True, exist_ok=True)
    part = path.with_suffix(".part")
    part.write_bytes(body)
    part.replace(path)
