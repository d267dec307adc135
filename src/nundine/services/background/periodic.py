"""What Nundine does by itself at its times: each is a run of the one table, whichever worker comes first."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from nundine.services.background.run_kinds import background
from nundine.services.background.runs import begin
from nundine.services.background.working import Working
from nundine.services.errors import Refused
from nundine.settings import settings
from nundine.store.belonging import Site, site
from nundine.store.belonging import here as present
from nundine.store.run import Run

WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
SITE = "site"
"""What a periodic run is about."""


@dataclass(frozen=True)
class Hourly:
    """At a minute of each hour."""

    minute: int

    def words(self) -> str:
        return f"each hour, {self.minute} minutes past"

    def latest(self, now: datetime, zone: ZoneInfo) -> datetime:
        """The last moment that was due by now."""
        this = now.astimezone(UTC).replace(minute=self.minute, second=0, microsecond=0)
        return this if this <= now else this - timedelta(hours=1)

    def following(self, now: datetime, zone: ZoneInfo) -> datetime:
        """The next one."""
        return self.latest(now, zone) + timedelta(hours=1)


@dataclass(frozen=True)
class Daily:
    """At a time of each day, as the site's clocks show it."""

    at: time

    def words(self) -> str:
        return f"each day at {self.at:%H:%M}"

    def _on(self, day: date, zone: ZoneInfo) -> datetime:
        return datetime.combine(day, self.at, zone).astimezone(UTC)

    def latest(self, now: datetime, zone: ZoneInfo) -> datetime:
        """The last moment that was due by now."""
        today = now.astimezone(zone).date()
        this = self._on(today, zone)
        return this if this <= now else self._on(today - timedelta(days=1), zone)

    def following(self, now: datetime, zone: ZoneInfo) -> datetime:
        """The next one."""
        day = self.latest(now, zone).astimezone(zone).date()
        return self._on(day + timedelta(days=1), zone)


@dataclass(frozen=True)
class Weekly:
    """On a weekday (0 = Monday) at a time, as the site's clocks show it."""

    weekday: int
    at: time

    def words(self) -> str:
        return f"each {WEEKDAYS[self.weekday]} at {self.at:%H:%M}"

    def latest(self, now: datetime, zone: ZoneInfo) -> datetime:
        """The last moment that was due by now."""
        today = now.astimezone(zone).date()
        day = today - timedelta(days=(today.weekday() - self.weekday) % 7)
        this = datetime.combine(day, self.at, zone).astimezone(UTC)
        earlier = datetime.combine(day - timedelta(days=7), self.at, zone).astimezone(UTC)
        return this if this <= now else earlier

    def following(self, now: datetime, zone: ZoneInfo) -> datetime:
        """The next one."""
        day = self.latest(now, zone).astimezone(zone).date() + timedelta(days=7)
        return datetime.combine(day, self.at, zone).astimezone(UTC)


When = Hourly | Daily | Weekly


@dataclass(frozen=True)
class Periodic:
    """One thing done by itself; `label` says what, as a sentence's object. `at_once`: doing it between its
    times is of use."""

    kind: str
    label: str
    when: When
    at_once: bool


PERIODIC: dict[str, Periodic] = {}


def periodic(
    kind: str, label: str, when: When, *, at_once: bool = True
) -> Callable[[Callable[[], object]], Any]:
    """Declare what is done at these times; what was missed while nothing ran is done at the next start."""

    def declare(work: Callable[[], object]) -> Callable[[], object]:
        def run(_: Working) -> dict[str, Any]:
            work()
            return {}

        background(kind, busy=f"{label[:1].upper()}{label[1:]}: that is under way already.")(run)
        PERIODIC[kind] = Periodic(kind, label, when, at_once)
        return work

    return declare


def due() -> list[Run]:
    """Runs of all that is due and that no worker began."""
    here = Site.get_or_none(Site.id == (present() or 0))
    if here is None:
        return []
    now, zone, made = settings().now(), ZoneInfo(here.timezone), []
    for one in PERIODIC.values():
        slot = f"{one.kind} {one.when.latest(now, zone):%Y-%m-%dT%H:%MZ}"
        if not Run.select().where(Run.slot == slot).exists():
            try:
                made.append(begin(one.kind, SITE, one.label, None, {}, slot=slot))
            except Refused:
                continue  # another worker was quicker
    return made


def next_at(one: Periodic) -> datetime:
    """When it is due next."""
    return one.when.following(settings().now(), ZoneInfo(site().timezone))
