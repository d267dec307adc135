"""Preventive sheets: laid out each Monday at eight by the clock of the site, printed, sent, and told."""

from __future__ import annotations

from datetime import UTC, date, datetime, time
from email import message_from_bytes, policy
from zoneinfo import ZoneInfo

import pytest
from pypdf import PdfReader

from nundine.services.background.periodic import Weekly
from nundine.services.preventive import sheets
from nundine.settings import settings
from nundine.store.ledger import LedgerEntry
from nundine.store.work_order import WorkOrder
from tests.api.conftest import Client

ZURICH = ZoneInfo("Europe/Zurich")


@pytest.mark.long
def test_what_is_due_this_week_is_printed_and_sent_to_who_is_to_have_it(client: Client) -> None:
    sven = client("sven")
    told = sven.get("/api/setup").json()
    body = {
        **{k: told[k] for k in ("seconds", "weights", "reasons", "revision")},
        "held_back": {}, "sheets_to": ["foreman@tarnfell.example", " ", "a@b.example"],
    }  # fmt: skip
    assert sven.put("/api/setup", json=body).json()["sheets_to"] == [
        "foreman@tarnfell.example",
        "a@b.example",
    ]
    recurring = WorkOrder.select(WorkOrder.id).where(WorkOrder.kind.in_(sheets.KINDS))
    rest = recurring.order_by(WorkOrder.due).offset(12).limit(10_000)
    WorkOrder.update(kind="corrective").where(WorkOrder.id.in_([o.id for o in rest])).execute()
    numbers = sheets.send(date(2026, 12, 1))
    kinds = {o.kind for o in WorkOrder.select().where(WorkOrder.number.in_(numbers))}
    assert numbers and kinds <= {"preventive", "statutory"}
    printed = settings().var / "print" / "tarnfell-2026-W49-preventive.pdf"
    text = "".join(page.extract_text() for page in PdfReader(printed).pages)
    assert all(n in text for n in numbers[:5])
    mail = settings().var / "outbox" / "tarnfell-2026-W49-preventive.eml"
    message = message_from_bytes(mail.read_bytes(), policy=policy.default)
    assert message["To"] == "foreman@tarnfell.example, a@b.example" and "2026-W49" in message["Subject"]
    (attached,) = message.iter_attachments()
    assert attached.get_content() == printed.read_bytes()
    newest = LedgerEntry.select().order_by(LedgerEntry.id.desc()).get()
    assert newest.label.startswith(f"Sheets of {len(numbers)} preventive WOs") and newest.kind == "sheets"


def test_where_nothing_is_due_nothing_is_sent_and_that_is_told(client: Client) -> None:
    WorkOrder.update(kind="corrective").execute()
    assert sheets.send(date(2026, 12, 1)) == []
    newest = LedgerEntry.select().order_by(LedgerEntry.id.desc()).get()
    assert newest.label == "No preventive WO is due in week 2026-W49; nothing was sent"


def test_an_address_that_can_be_none_is_refused(client: Client) -> None:
    sven = client("sven")
    told = sven.get("/api/setup").json()
    body = {**{k: told[k] for k in ("seconds", "weights", "reasons", "revision")}, "held_back": {}}
    answer = sven.put("/api/setup", json={**body, "sheets_to": ["x@y.example\nBcc: z@y.example"]})
    assert answer.status_code == 422 and answer.json()["field"] == "sheets_to"


@pytest.mark.parametrize(
    ("now", "last", "following"),
    [
        ("2026-11-30T06:59Z", "2026-11-23T07:00Z", "2026-11-30T07:00Z"),
        ("2026-11-30T07:00Z", "2026-11-30T07:00Z", "2026-12-07T07:00Z"),
        ("2026-03-25T12:00Z", "2026-03-23T07:00Z", "2026-03-30T06:00Z"),  # the clocks went forward
        ("2026-10-21T12:00Z", "2026-10-19T06:00Z", "2026-10-26T07:00Z"),  # and back
    ],
)
def test_a_weekly_time_is_that_of_the_clock_on_the_wall(now: str, last: str, following: str) -> None:
    at, one = datetime.fromisoformat(now), Weekly(0, time(8))
    assert one.latest(at, ZURICH) == datetime.fromisoformat(last).astimezone(UTC)
    assert one.following(at, ZURICH) == datetime.fromisoformat(following).astimezone(UTC)
