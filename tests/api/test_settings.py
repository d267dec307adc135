"""Which day it is, at any hour and in any time zone."""

from __future__ import annotations

from datetime import UTC, date, datetime, tzinfo

import pytest

from nundine import settings as module
from nundine.settings import settings

ZONES = ("Europe/Zurich", "Asia/Tokyo", "America/Los_Angeles", "UTC")


def at(moment: datetime, monkeypatch: pytest.MonkeyPatch) -> None:
    """The clock of the machine stands there."""

    class Clock(datetime):
        @classmethod
        def now(cls, tz: tzinfo | None = None) -> datetime:
            return moment.astimezone(tz)

    monkeypatch.setattr(module, "datetime", Clock)


@pytest.mark.parametrize("zone", ZONES)
@pytest.mark.parametrize("hour", [0, 7, 12, 22, 23])
def test_a_pinned_day_is_that_day_at_every_hour_in_every_zone(
    zone: str, hour: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    at(datetime(2026, 11, 25, hour, 39, tzinfo=UTC), monkeypatch)
    monkeypatch.setenv("NUNDINE_TODAY", "2026-12-01")
    assert settings().day(zone) == date(2026, 12, 1) == settings().local(zone).date()


@pytest.mark.parametrize(("zone", "day"), zip(ZONES, (26, 26, 25, 25), strict=True))
def test_without_a_pinned_day_late_in_the_evening_of_one_zone_is_the_next_day_of_another(
    zone: str, day: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    at(datetime(2026, 11, 25, 23, 39, tzinfo=UTC), monkeypatch)
    monkeypatch.delenv("NUNDINE_TODAY", raising=False)
    assert settings().day(zone) == date(2026, 11, day)
    assert settings().local(zone) == datetime(2026, 11, 25, 23, 39, tzinfo=UTC)
