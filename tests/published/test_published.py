"""Facts from outside, each with its published source."""

from __future__ import annotations

from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import pytest

from nundine.core.metrics import Scheduled, schedule_compliance
from nundine.core.priority import PriorityWeights, priority_index
from nundine.core.timeline import at_local, week_interval, week_monday, week_name
from nundine.formats.sheets import Appointment, person_calendar

# Source: ISO 8601-1:2019, week calendar: week 1 holds the year's first Thursday. Examples as in the
# standard's
# common worked examples (dates around the turn of the year).
ISO_WEEKS = [
    (date(2005, 1, 1), "2004-W53"),
    (date(2005, 1, 2), "2004-W53"),
    (date(2005, 12, 31), "2005-W52"),
    (date(2006, 1, 2), "2006-W01"),
    (date(2007, 1, 1), "2007-W01"),
    (date(2007, 12, 30), "2007-W52"),
    (date(2007, 12, 31), "2008-W01"),
    (date(2008, 12, 28), "2008-W52"),
    (date(2008, 12, 29), "2009-W01"),
    (date(2009, 12, 31), "2009-W53"),
    (date(2010, 1, 3), "2009-W53"),
]


@pytest.mark.parametrize(("day", "week"), ISO_WEEKS)
def test_iso_8601_weeks(day: date, week: str) -> None:
    assert week_name(day) == week
    assert week_monday(week) <= day < week_monday(week) + timedelta(days=7)


# Source: Directive 2000/84/EC: summer time begins and ends at 01:00 UTC on the last Sunday of March and of
# October.
@pytest.mark.parametrize(
    ("day", "before", "after"),
    [(date(2026, 3, 29), 1, 2), (date(2026, 10, 25), 2, 1), (date(2027, 3, 28), 1, 2)],
)
def test_european_clock_changes_are_at_one_utc_on_the_last_sunday(day: date, before: int, after: int) -> None:
    zone = ZoneInfo("Europe/Zurich")
    change = datetime.combine(day, time(1), UTC)
    assert (change - timedelta(seconds=1)).astimezone(zone).utcoffset() == timedelta(hours=before)
    assert change.astimezone(zone).utcoffset() == timedelta(hours=after)
    assert week_interval(week_name(day), zone).hours == 168 + before - after


def test_a_local_time_that_a_clock_change_skips_lands_after_the_gap() -> None:
    # Source: PEP 495: with fold=0 a missing time is read with the offset before the change.
    assert at_local(date(2026, 3, 29), time(2, 30), ZoneInfo("Europe/Zurich")).hour == 3


def test_calendars_are_rfc_5545_as_an_independent_reading_sees_them() -> None:
    # Source: RFC 5545, 3.1 (lines of at most 75 octets, CRLF), 3.6.1 (uid, dtstamp, dtstart of an event),
    # 3.3.5 (UTC times end in Z).
    row = Appointment(
        uid="WO-1-10-1-p01",
        start="2026-10-25T02:30:00+01:00",
        end="2026-10-25T06:00:00+01:00",
        job="WO-1",
        title="Überprüfung der Bremse, sehr lange Bezeichnung; mit Komma, Strichpunkt und ليلى " * 2,
        place="Lift",
        what="Task 10 a, b, 3.5 h",
        beside=[],
    )
    made = person_calendar(
        "Ilse", [row], lambda job: f"http://nundine.test/{job}", datetime(2026, 10, 1, tzinfo=UTC)
    )
    lines = made.split(b"\r\n")
    assert made.endswith(b"END:VCALENDAR\r\n")
    assert all(len(line) <= 75 for line in lines)
    unfolded = made.replace(b"\r\n ", b"").decode().split("\r\n")
    plain = dict(
        line.split(":", 1) for line in unfolded if ":" in line and not line.startswith(("BEGIN", "END"))
    )
    assert plain["DTSTART"] == "20261025T013000Z"
    assert plain["DTEND"] == "20261025T050000Z"
    assert plain["UID"] == "WO-1-10-1-p01@nundine"
    assert "\\;" in plain["SUMMARY"]
    assert "\\," in plain["SUMMARY"]


def test_priority_is_the_product_of_criticality_and_work_class() -> None:
    # Source: Ranking Index for Maintenance Expenditures: equipment criticality x work class, both 1-10 (value
    # from memory).
    day, w = date(2026, 1, 1), PriorityWeights({"safety": 10, "corrective": 6, "improvement": 3})
    assert priority_index(10, "safety", day, day, w) == 100
    assert priority_index(7, "corrective", day, day, w) == 42
    assert priority_index(1, "improvement", day, day, w) == 3


def test_schedule_compliance_is_work_done_as_scheduled_over_work_scheduled() -> None:
    # Source: SMRP best-practice metrics, work order management pillar, "schedule compliance" (definition from
    # memory); worked by hand:
    # 3 of 4 WOs = 75 %; 8 + 4 + 6 + 2 of 8 + 4 + 6 + 10 hours = 20 of 28 = 71.4 %.
    rows = [
        Scheduled("a", 8, True, 8),
        Scheduled("b", 4, True, 4),
        Scheduled("c", 6, True, 7),
        Scheduled("d", 10, False, 2),
    ]
    found = schedule_compliance(rows)
    assert found.by_jobs == 0.75
    assert found.by_hours == pytest.approx(20 / 28)
    assert schedule_compliance([]).by_jobs is None
