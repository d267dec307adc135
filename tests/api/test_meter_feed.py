"""Readings that come by themselves: files of loggers in a folder, taken in each hour."""

from __future__ import annotations

import csv
from datetime import date
from pathlib import Path

import pytest

from nundine.services.exchange.feed import Fed
from nundine.services.preventive.meter_feed import FEED, take_each_hour
from nundine.standins import meter_logger
from nundine.store.ledger import LedgerEntry
from nundine.store.meter import Meter, Reading
from tests.api.conftest import Client

TODAY = date(2026, 11, 23)


@pytest.fixture(autouse=True)
def site_of(client: Client) -> None:
    """The demo's site, before anything was read today, and no files but a test's own."""
    client("sven")
    Reading.delete().where(Reading.day >= TODAY).execute()
    for path in FEED.folder().rglob("*.csv"):
        path.unlink()


def put(name: str, *lines: str, head: str = "meter,day,value") -> Path:
    FEED.folder().mkdir(parents=True, exist_ok=True)
    path = FEED.folder() / name
    path.write_text("\n".join((head, *lines)) + "\n")
    return path


def last(meter: str) -> Reading:
    found: Reading = (
        Reading.select().join(Meter).where(Meter.key == meter).order_by(Reading.day.desc()).first()
    )
    return found


def test_what_a_logger_writes_is_taken_in_once(client: Client) -> None:
    one = Meter.select().order_by(Meter.key).first()
    before = last(one.key)
    value = before.value + 5
    put("a.csv", f"{one.key},{TODAY},{value}")
    assert take_each_hour() == [Fed("a.csv", 1, 0)]
    assert (last(one.key).day, last(one.key).value, last(one.key).by) == (TODAY, value, "logger")
    assert take_each_hour() == [] and (FEED.folder() / "taken" / "a.csv").is_file()
    put("a.csv", f"{one.key},{TODAY},{value}")  # cut off before it was put away
    assert take_each_hour() == [Fed("a.csv", 0, 0)]


def test_lines_that_can_not_be_right_are_written_beside_with_the_reason_and_the_others_kept() -> None:
    one, other = Meter.select().order_by(Meter.key).limit(2)
    put("b.csv", f"{one.key},{TODAY},{last(one.key).value - 1000}", f"{other.key},{TODAY},soon",
        f"nothing,{TODAY},1", f"{other.key},{TODAY},{last(other.key).value + 1}")  # fmt: skip
    assert take_each_hour() == [Fed("b.csv", 1, 3)]
    with (FEED.folder() / "refused" / "b.csv").open() as file:
        told = {row["meter"]: row["reason"] for row in csv.DictReader(file)}
    assert set(told) == {one.key, other.key, "nothing"} and all(told.values())
    assert last(other.key).day == TODAY and last(one.key).day < TODAY


@pytest.mark.parametrize("head", ["time,number", ""])
def test_a_file_of_another_kind_is_put_aside_whole_and_says_why(head: str) -> None:
    put("c.csv", "x,y", head=head)
    assert take_each_hour() == [Fed("c.csv", 0, 0)]
    assert (FEED.folder() / "refused" / "c.csv").is_file()
    told = LedgerEntry.select().where(LedgerEntry.stream == "meter feed").order_by(LedgerEntry.id.desc())
    assert "names no meter" in told.first().label


def test_the_simulated_logger_reads_each_meter_once_a_day_as_fast_as_it_counts() -> None:
    path = meter_logger.write_file(TODAY)
    assert path is not None
    ((name, new, refused),) = [(f.name, f.new, f.refused) for f in take_each_hour()]
    assert (name, refused) == (path.name, 0) and new > 0
    assert meter_logger.write_file(TODAY) is None
