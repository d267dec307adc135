"""Meters by hand: what they were read, how fast they count, and when what hangs on them falls due."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.preventive.due import Rule, Season, next_due
from nundine.core.preventive.meter import rate_of
from nundine.core.preventive.rung_text import rung_of
from nundine.services import access
from nundine.services.errors import NotAllowed, NotFound, Refused
from nundine.services.exchange import importing
from nundine.services.exchange.forms import Cells, cells_of, filled
from nundine.services.exchange.kinds import KINDS
from nundine.services.ledger.commands import write
from nundine.services.ledger.edits import Edit
from nundine.services.ledger.nouns import NOUNS
from nundine.services.ledger.stored import removals
from nundine.services.numbering import PREVENTIVE_PLANS, turn
from nundine.settings import settings
from nundine.store.account import Account
from nundine.store.asset import Asset
from nundine.store.base import db
from nundine.store.meter import Meter, Reading
from nundine.store.preventive import PreventivePlan, Service
from nundine.store.reading.preventive import counter_of, grounds, last_times
from nundine.store.site import Area, site

NOUN = "meter"
MOST_SHOWN, MOST_SENT = 400, 2000


@dataclass(frozen=True)
class ReadingLine:
    """What a meter showed on a day; `counted`: evened out over rollovers and exchanges."""

    day: date
    value: float
    counted: float
    fresh: bool
    by: str
    remark: str


@dataclass(frozen=True)
class RateLine:
    """Units a day over some days, by so many readings, and how far it varies."""

    a_day: float
    days: int
    readings: int
    spread: float


@dataclass(frozen=True)
class DueLine:
    """A rung that hangs on a meter: the counted value at which it falls due, and when that is reached;
    `earliest`, `latest` by the spread of the rate. Days are None where the meter does not get there."""

    plan: str
    title: str
    asset: str
    rung: str
    target: float
    day: date | None
    earliest: date | None
    latest: date | None


@dataclass(frozen=True)
class MeterDocument:
    """A meter as text cells, its readings, the oldest first, and what falls due by it."""

    meter: Cells
    revision: int
    readings: list[ReadingLine]
    rate: RateLine | None
    dues: list[DueLine]


@dataclass(frozen=True)
class Wanted:
    """What a meter showed on a day, None = today; a second one of a day corrects the first."""

    meter: str
    day: date | None
    value: float
    fresh: bool
    remark: str


def _found(key: str) -> Meter:
    found: Meter | None = Meter.get_or_none(Meter.key == key)
    if found is None:
        raise NotFound(NOUN, f"There is no meter {key[:40]}.")
    return found


def document(key: str) -> MeterDocument:
    """Raises NotFound."""
    one = _found(key)
    (row,) = KINDS["meters"].rows(list(NOUNS[NOUN].read([(key,)]).values()))
    rows = list(Reading.select().where(Reading.meter == one).order_by(Reading.day))
    counter = counter_of(one.rollover, [(r.day, r.value, r.fresh) for r in rows])
    lines = [
        ReadingLine(r.day, r.value, count, r.fresh, r.by, r.remark)
        for r, (_, count) in zip(rows, counter.readings, strict=True)
    ]
    rate = rate_of(counter.readings)
    told = RateLine(rate.a_day, rate.days, rate.readings, rate.spread) if rate else None
    cells = cells_of("meters", row, ZoneInfo(site().timezone))
    return MeterDocument(cells, one.revision, lines[-MOST_SHOWN:], told, _dues(one))


def _dues(meter: Meter) -> list[DueLine]:
    """What hangs on a meter: rungs of its unit of running services on its asset and what is part of that."""
    text = PreventivePlan.rungs.cast("char")
    rows = (
        Service.select(Service, PreventivePlan, Asset)
        .join(PreventivePlan)
        .switch(Service)
        .join(Asset)
        .where((PreventivePlan.state == "running") & text.contains(f" {meter.unit}"))
    )
    found = list(rows)
    known = grounds({s.plan_id: s.plan.rungs for s in found}.values())
    today = settings().day(site().timezone)
    out = []
    for s in found:
        mine = known.counter(s.plan.rungs, s.asset_id)
        if mine is None or known.meters[(s.asset_id, meter.unit)] != meter.id:
            continue
        lasts = last_times(known.ladder(s.plan), s.lasts, today, mine)
        for line in s.plan.rungs:
            rung = rung_of(line)
            if rung.every is not None:
                rule = Rule(s.plan.basis, every=rung.every, season=Season())
                last = lasts[rung.name]
                due = next_due(rule, last, mine)
                projected = due.projection if due else None
                target = projected.target if projected else last.value + rung.every
                days = (projected.day, projected.earliest, projected.latest) if projected else (None,) * 3
                out.append(DueLine(s.plan.number, s.plan.title, s.asset.name, rung.name, target, *days))
    return sorted(out, key=lambda d: (d.target, d.plan, d.asset))


def read(account: Account, wanted: Sequence[Wanted]) -> int:
    """Write what meters showed; all or nothing. Gives how many.

    Raises
    ------
    NotFound
        For a meter that there is not.
    NotAllowed
        For one in an area in which the account neither plans nor reports.
    Refused
        For a reading that can't be right, with which; for none or too many.
    """
    if not 1 <= len(wanted) <= MOST_SENT:
        raise Refused("many", f"Between 1 and {MOST_SENT} readings are sent at once.", field="readings")
    today = settings().day(site().timezone)
    with db.atomic():
        turn(PREVENTIVE_PLANS)
        _need_areas(account, {w.meter for w in wanted})
        for n, one in enumerate(wanted):
            if one.day is not None and one.day > today:
                raise Refused("day", f"{one.day} is still to come.", field=f"readings.{n}.day")
        report, changes = importing.checked_rows({"readings": [_cells(account, w) for w in wanted]})
        if report.errors:
            first = report.errors[0]
            told = f"{wanted[(first.row or 1) - 1].meter}: {first.reason}"
            raise Refused("field", told, field=f"readings.{(first.row or 1) - 1}.{first.column}")
        if changes:
            one = wanted[0]
            label = (
                f"{one.meter} reads {one.value:g}" if len(wanted) == 1 else f"{len(wanted)} meters are read"
            )
            write(f"{NOUN} {one.meter}", account, Edit("reading", label, changes), checked=True)
    return len(wanted)


def _cells(account: Account, one: Wanted) -> Cells:
    return filled(
        {
            "meter": one.meter,
            "day": str(one.day or settings().day(site().timezone)),
            "value": repr(one.value),
            "fresh": "yes" if one.fresh else "no",
            "by": account.full_name,
            "remark": one.remark,
        }
    )


def _need_areas(account: Account, meters: Collection[str]) -> None:
    """Raises NotFound for a meter that there is not, NotAllowed for one elsewhere."""
    rows: Any = Meter.select(Meter.key, Area.key).join(Asset).join(Area).where(Meter.key.in_(sorted(meters)))
    areas = dict(rows.tuples())
    for key in meters:
        if key not in areas:
            raise NotFound(NOUN, f"There is no meter {key[:40]}.")
    for right in (access.PLAN, access.REPORT, access.EDIT):
        try:
            access.require_in(account, right, list(areas.values()))
            return
        except NotAllowed as bad:
            told = bad
    raise told


def take_back(account: Account, key: str, day: date) -> None:
    """Take a reading away that was wrong; the ledger keeps it. Raises NotFound."""
    with db.atomic():
        turn(PREVENTIVE_PLANS)
        _need_areas(account, {key})
        if not NOUNS["reading"].ids([(key, str(day))]):
            raise NotFound("reading", f"{key[:40]} was not read on {day}.")
        edit = Edit(
            "reading", f"The reading of {key} on {day} is taken back", removals("reading", [(key, str(day))])
        )
        write(f"{NOUN} {key}", account, edit, checked=True)
