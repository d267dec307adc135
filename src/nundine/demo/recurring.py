"""The demo's preventive plans: services of its assets, those that stand in the backlog as WOs, and what was
done in three years; of the first of these no WO is left."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, timedelta
from random import Random
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.preventive.cycle import LAST, Cycle
from nundine.core.preventive.rung_text import rung_of
from nundine.demo.plans import LATER, RETIRED, WRITTEN
from nundine.demo.rounds import rounds

Row = dict[str, Any]
FIRST = 1001
RUNGS = {
    "Brake test, service and safety brake": ("monthly: 1 month", "yearly: 1 year"),
    "Haul rope inspection, magnetic": ("yearly: 1 year",),
    "Rope lubrication": ("monthly: 1 month",),
    "Grip service, batch of 12": ("every 2 weeks: 2 weeks on Tue, Wed",),
    "Gearbox oil change": ("oil: 1 year or 2500 h",),
    "Diesel of the emergency drive, yearly service": ("with the overhaul: shutdown autumn +25",),
    "Slip ring inspection": ("quarterly: 3 months",),
    "Door closing force check": ("quarterly: 3 months",),
    "Drive motor insulation test": ("half a year: 6 months",),
    "Hydraulic hose exchange": ("yearly: 1 year",),
    "Chair inspection, non-destructive": ("every 8 weeks: 8 weeks",),
    "Piste vehicle 500 h service": ("500 h: 1 year or 500 h",),
    "Snow gun overhaul": ("yearly: 1 year on day last",),
    "Evacuation equipment check": ("quarterly: 3 months",),
    "Switch gear inspection": ("yearly: 1 year", "every 4 years: 4 years"),
    "Controller battery exchange": ("every 2 years: 2 years",),
}
USUAL = ("yearly: 1 year",)
GRID = {"Brake test, service and safety brake": (("20", ("yearly",)),)}
SEASON = {"Snow gun overhaul": (5, 6, 7, 8, 9), "Rope lubrication": (4, 5, 6, 9, 10, 11)}
FLOATING = (
    "Piste vehicle 500 h service",
    "Rope lubrication",
    "Gearbox oil change",
    "Grip service, batch of 12",
)
WITH_SHUTDOWN = ("Diesel of the emergency drive, yearly service",)
"""Raised for their shutdown by hand, so their notice is short."""
MOST_ASSETS = 24
"""Assets of one plan at most."""
NOTICE = 14
A_YEAR = 365
TOLERANCE, OF_LONG = "21", "10 %"
"""Tolerance of what must not be done by law; of what recurs yearly or less often, a share of its interval."""
LONG_AGO = (104, 156)
"""Weeks from and until which only what was done is known, and no WO."""
LEFT_OUT = 0.03
FEW_HOURS = 1000.0
"""Units of a meter that pass in less than a year."""
FREE = 31
"""Days from the planned Monday on which nothing falls due that is not raised."""


def recurring(
    job_plans: list[Row], assets: list[Row], orders: list[Row], monday: date, zone: ZoneInfo
) -> dict[str, list[Row]]:
    """Rows of preventive plans, of their services and of what is raised, by kind of file."""
    r = Random(1492)
    plans: list[Row] = []
    services: list[Row] = []
    occurrences: list[Row] = []
    used = [p for p in job_plans if p["kind"] in ("preventive", "statutory")]
    used = [p for p in used if p["title"] not in (*WRITTEN, RETIRED, LATER)]
    above = {a["asset"]: a.get("parent") for a in assets}
    for job_plan in used:
        title = job_plan["title"]
        mine = [o for o in orders if o["title"] == title and o["due"]]
        raised = {o["asset"]: o for o in reversed(mine)}
        fit = [a["asset"] for a in assets if any(w in a["name"].lower() for w in job_plan["words"].split())]
        others = [a for a in fit if a not in raised]
        chosen = sorted([*raised, *r.sample(others, min(len(others), MOST_ASSETS))])[: 2 * MOST_ASSETS]
        its: dict[str, list[str]] = {}
        for asset in chosen:
            its.setdefault(_top(above, asset), []).append(asset)
        for together in its.values():
            plan = _plan(f"PP-{FIRST + len(plans)}", job_plan, together)
            plans.append(plan)
            for asset in together:
                due = _day(raised[asset]["due"], zone) if asset in raised else None
                service = _service(r, plan, asset, due, monday)
                services.append(service)
                if due is not None:
                    occurrences.append(_raised(service, due, raised[asset]["number"]))
    for plan in rounds(assets, FIRST + len(plans)):
        plans.append(plan)
        services += [_service(r, plan, asset, None, monday) for asset in plan["assets"]]
    return {"preventive_plans": plans, "services": services, "occurrences": occurrences}


def _top(above: dict[str, str | None], asset: str) -> str:
    """The lift, house or plant that an asset is part of."""
    while (parent := above[asset]) is not None:
        asset = parent
    return asset


def _plan(number: str, job_plan: Row, assets: list[str]) -> Row:
    title, statutory = job_plan["title"], job_plan["kind"] == "statutory"
    rungs = RUNGS.get(title, USUAL)
    is_long = all(one.days >= A_YEAR and one.every is None for one in map(rung_of, rungs))
    tolerance = OF_LONG if is_long else TOLERANCE
    return {
        "number": number,
        "title": title,
        "state": "running",
        "kind": job_plan["kind"],
        "job_plan": job_plan["number"],
        "crew": "",
        "assets": tuple(assets),
        "basis": "floating" if title in FLOATING else "fixed",
        "rungs": rungs,
        "grid": GRID.get(title, ()),
        "season": SEASON.get(title, ()),
        "outside": "move",
        "together": 14 if len(rungs) > 1 else 0,
        "before": "7" if statutory else tolerance,
        "behind": "0" if statutory else tolerance,
        "raises": "work order",
        "hours": None,
        "needs": (),
        "asset_state": "any",
        "correction": 0.0,
        "notice": "2" if title in WITH_SHUTDOWN else str(NOTICE),
        "description": "",
    }


def _day(moment: datetime, zone: ZoneInfo) -> date:
    return moment.astimezone(zone).date()


def _service(r: Random, plan: Row, asset: str, due: date | None, monday: date) -> Row:
    """Its first rung falls due on the day of its WO, or some time later than its notice; the others later."""
    lasts: list[tuple[str, str, str | None, str | None]] = []
    for n, line in enumerate(plan["rungs"]):
        rung = rung_of(line)
        if rung.cycle is None:
            lasts.append((rung.name, str(monday - timedelta(weeks=50)), None, None))
            continue
        cycle = rung.cycle
        following = (
            due
            if due and n == 0
            else monday + timedelta(days=r.randrange(FREE, max(FREE + 20, _days(cycle))))
        )
        start, last = _back(cycle, following, 2), _back(cycle, following, 1)
        if rung.every is not None and rung.every < FEW_HOURS:
            last = (due or monday + timedelta(weeks=r.randrange(6, 12))) - timedelta(weeks=15)
        done = last + timedelta(days=r.randrange(-3, 1))
        lasts.append((rung.name, str(start), str(last), str(done)))
    return {"plan": plan["number"], "asset": asset, "held": False, "moved": None, "lasts": tuple(lasts)}


def _days(cycle: Cycle) -> int:
    return round(cycle.days)


def _back(cycle: Cycle, day: date, times: int) -> date:
    """The day so many intervals before, on the same day of its month where there is one."""
    if cycle.unit in ("day", "week"):
        return day - timedelta(days=_days(cycle) * times)
    if cycle.month_day == LAST:
        day = _back(replace(cycle, month_day=None), day, times)
        return (day.replace(day=1) + timedelta(days=32)).replace(day=1) - timedelta(days=1)
    months = day.year * 12 + day.month - 1 - times * cycle.every * (12 if cycle.unit == "year" else 1)
    return date(months // 12, months % 12 + 1, min(day.day, 28))


def _raised(service: Row, due: date, order: str) -> Row:
    name = service["lasts"][0][0]
    return {
        "plan": service["plan"],
        "asset": service["asset"],
        "due": due,
        "rungs": ((name, str(due)),),
        "state": "raised",
        "done": None,
        "order": order,
        "request": None,
        "lasts": service["lasts"],
        "reason": "",
    }


def done_before(
    plans: list[Row], orders: dict[Any, Row], tasks: dict[Any, Row], zone: ZoneInfo
) -> dict[Any, Row]:
    """Occurrences behind done WOs, by key, as records; each due a few days before or after it was done."""
    r = Random(77)
    of_asset = {(p["job_plan"], a): p for p in plans if p["job_plan"] for a in p["assets"]}
    ended: dict[str, date] = {}
    for (number, _), t in tasks.items():
        ended[number] = max(ended.get(number, date.min), t["ended"].astimezone(zone).date())
    out = {}
    for (number,), order in orders.items():
        plan = of_asset.get((order["plan"], order["asset"]))
        if plan is None:
            continue
        done = ended[number]
        due = done + timedelta(days=r.choice((-30, -9, -4, -2, 0, 0, 1, 1, 2, 3, 5)))
        rung = rung_of(plan["rungs"][0]).name
        out[(plan["number"], order["asset"], due.isoformat())] = {
            "rungs": [[rung, due.isoformat()]],
            "state": "done",
            "done": done,
            "order": number,
            "request": None,
            "lasts": [],
            "reason": "",
        }
    return out


def done_long_ago(services: list[Row], monday: date) -> dict[Any, Row]:
    """Occurrences of the third year back, by key, as records without WOs: of each service as often as its
    first rung comes round; some late, a few left out."""
    r = Random(1291)
    out = {}
    for s in services:
        name, start, last, _ = s["lasts"][0]
        step = max(7, (date.fromisoformat(last) - date.fromisoformat(start)).days if last else 365)
        day = monday - timedelta(weeks=LONG_AGO[0]) - timedelta(days=r.randrange(step))
        while day > monday - timedelta(weeks=LONG_AGO[1]):
            left_out = r.random() < LEFT_OUT
            out[(s["plan"], s["asset"], day.isoformat())] = {
                "rungs": [[name, day.isoformat()]],
                "state": "left out" if left_out else "done",
                "done": None if left_out else day + timedelta(days=r.choice((-5, -3, -1, 0, 0, 1, 2, 4, 16))),
                "order": None,
                "request": None,
                "lasts": [],
                "reason": "closed for the season" if left_out else "",
            }
            day -= timedelta(days=step)
    return out
