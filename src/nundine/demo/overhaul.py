"""The demo's meters with their readings, and its autumn overhauls: the one that is on, with the open work of
lifts and plants, the last one, and the next."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from random import Random
from typing import Any

Row = dict[str, Any]
WEEKS_READ = 60
ENGINE_HOURS, RUNNING_HOURS = (18.0, 34.0), (30.0, 62.0)
"""Hours a week, from and to, of piste vehicles and of lifts' drives."""
SERIES = "autumn"
ON = 60
"""Open WOs of the overhaul that is on."""
DONE = 22
"""Its WOs that are done."""


def meters(assets: list[Row], monday: date) -> dict[str, list[Row]]:
    """Hours of engines and drives, read each Monday; one engine was exchanged, with its meter."""
    r = Random(77)
    found, read = [], []
    for a in assets:
        engine = a["asset"].startswith("fleet") and a["parent"] is not None
        drive = a["name"].endswith(("drive station", "winch"))
        if not engine and not drive:
            continue
        key = f"H-{a['asset']}"[:40]
        what = "Engine hours" if engine else "Running hours"
        found.append({"meter": key, "name": what, "asset": a["asset"], "unit": "h", "rollover": 100_000.0})
        low, high = ENGINE_HOURS if engine else RUNNING_HOURS
        value = round(r.uniform(900, 6000), 1)
        exchanged = r.randrange(20, 50) if engine and a["asset"].endswith("2") else None
        for n in range(WEEKS_READ):
            value = 3.5 if n == exchanged else round(value + r.uniform(low, high), 1)
            read.append(
                {
                    "meter": key,
                    "day": monday - timedelta(weeks=WEEKS_READ - n),
                    "value": value,
                    "fresh": n == exchanged,
                    "by": "Ivo Lindt" if engine else "Runa Falk",
                    "remark": "engine exchanged" if n == exchanged else "",
                }
            )
    return {"meters": found, "readings": read}


def shutdowns(monday: date) -> list[Row]:
    """One autumn overhaul a year; this year's began three weeks ago and ends with next week."""
    year = monday.year
    first = monday - timedelta(weeks=3)
    days = (
        (year - 1, first - timedelta(weeks=52), first - timedelta(weeks=52) + timedelta(days=32)),
        (year, first, monday + timedelta(days=11)),
        (year + 1, first + timedelta(weeks=52), first + timedelta(weeks=52) + timedelta(days=32)),
    )
    return [
        {
            "shutdown": f"AUT-{y % 100}",
            "name": f"Autumn overhaul {y}",
            "series": SERIES,
            "first": begins,
            "last": ends,
            "moves_work": True,
        }
        for y, begins, ends in days
    ]


def hang(orders: list[Row], assets: list[Row], monday: date) -> None:
    """The open work of lifts' stations and plants that is due soon hangs on this year's overhaul."""
    areas = {a["asset"]: a for a in assets}
    fits = [
        o
        for o in orders
        if o["kind"] != "breakdown" and isinstance(o["due"], datetime) and areas[o["asset"]]["parent"]
    ]
    for o in sorted(fits, key=lambda o: (o["due"], o["number"]))[:ON]:
        o["shutdown"] = f"AUT-{monday.year % 100}"


def hang_done(orders: dict[Any, Row], tasks: dict[Any, Row], monday: date) -> None:
    """Some of the work that was done in the last weeks was the overhaul's."""
    first, key = monday - timedelta(weeks=3), f"AUT-{monday.year % 100}"
    ended: dict[str, date] = {}
    for (number, _), t in tasks.items():
        ended[number] = max(ended.get(number, date.min), t["ended"].date())
    late = [n for n in sorted(orders) if first <= ended[n[0]] < monday and orders[n]["kind"] != "breakdown"]
    for n in late[:: max(1, len(late) // DONE)][:DONE]:
        orders[n]["shutdown"] = key
