"""Areas, assets and the times when each may be touched. All invented."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta
from random import Random
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.timeline import at_local

AREAS = (("north", "North valley"), ("middle", "Middle station"), ("lake", "Lake side"))
WAYS = (("middle", "north", 20), ("lake", "middle", 25))
"""Minutes between areas; from the north to the lake the way leads through the middle."""
LIFTS = {
    "north": (
        ("Larch gondola", "gondola", 9),
        ("Saddle chairlift", "chair", 8),
        ("Foxglove chairlift", "chair", 6),
        ("Nursery carpet", "carpet", 3),
    ),
    "middle": (
        ("Tarnfell funicular", "funicular", 10),
        ("Crest gondola", "gondola", 9),
        ("Raven chairlift", "chair", 7),
        ("Hollow chairlift", "chair", 5),
    ),
    "lake": (
        ("Mirror gondola", "gondola", 8),
        ("Heron chairlift", "chair", 6),
        ("Reed drag lift", "drag", 4),
    ),
}
PARTS = {
    "gondola": (("drive station", 9), ("return station", 7), ("line and towers", 8), ("cabins", 6)),
    "chair": (("drive station", 8), ("line and towers", 7)),
    "funicular": (("winch", 10), ("track", 8), ("cars", 9)),
}
OTHERS = (
    ("snow-n", "Snowmaking plant north", "north", 7, ("pump house", "gun line A", "gun line B")),
    ("snow-l", "Snowmaking plant lake", "lake", 6, ("pump house", "gun line")),
    ("res-1", "Upper reservoir", "middle", 6, ("outlet valves",)),
    ("res-2", "Lower reservoir", "lake", 5, ()),
    ("fleet-n", "Piste vehicles north", "north", 6, ("vehicle 11", "vehicle 12", "vehicle 14")),
    ("fleet-m", "Piste vehicles middle", "middle", 6, ("vehicle 21", "vehicle 23")),
    ("shop-m", "Workshop middle", "middle", 4, ("overhead crane",)),
    ("net-1", "Medium-voltage ring", "middle", 9, ("switch house",)),
    ("bld-n", "North terminal", "north", 3, ()),
    ("bld-l", "Lake terminal", "lake", 3, ()),
)


ACCOUNTS = {"north": "4100", "middle": "4200", "lake": "4300"}
"""By area, the account that its assets' accounts begin with."""


MAKERS = ("Orvaldt", "Brandal", "Harrow Forge", "Monteluna")
"""Invented, as all makers of the demo are."""


def assets() -> list[dict[str, Any]]:
    """About 60 assets: lifts with their stations and lines, plants, vehicles, buildings."""
    out: list[dict[str, Any]] = []

    def add(
        key: str,
        name: str,
        area: str,
        criticality: int,
        parent: str | None = None,
        limited: bool = False,
        alone: bool = False,
    ) -> None:
        out.append(
            {
                "asset": key,
                "name": name,
                "area": area,
                "parent": parent,
                "criticality": criticality,
                "limited": limited,
                "one_job_at_a_time": alone,
                "cost_account": f"{ACCOUNTS[area]}-{key.split('-')[0]}",
                "maker": MAKERS[len(out) % len(MAKERS)],
                "model": f"{name.split(', ')[-1].split()[0].upper()[:4]}-{100 + 7 * len(out)}",
                "serial": f"{2009 + len(out) % 14}-{4000 + 37 * len(out)}",
            }
        )

    for area, lifts in LIFTS.items():
        for n, (name, kind, criticality) in enumerate(lifts, 1):
            key = f"{area[0].upper()}{n}"
            add(key, name, area, criticality, limited=kind != "carpet")
            for k, (part, weight) in enumerate(PARTS.get(kind, ()), 1):
                add(
                    f"{key}-{k}",
                    f"{name}, {part}",
                    area,
                    weight,
                    key,
                    alone=part in ("winch", "drive station"),
                )
    for key, name, area, criticality, parts in OTHERS:
        add(key, name, area, criticality)
        for k, part in enumerate(parts, 1):
            add(f"{key}-{k}", f"{name}, {part}", area, criticality, key, alone=part.startswith("vehicle"))
    return out


def windows(monday: date, zone: ZoneInfo) -> list[dict[str, Any]]:
    """Four weeks of nights, early mornings and quiet weekdays; one line is closed for its autumn overhaul."""
    r = Random(77)
    out: list[dict[str, Any]] = []

    def add(asset: str, kind: str, day: date, start: time, hours: float) -> None:
        begin = at_local(day, start, zone)
        out.append({"asset": asset, "kind": kind, "start": begin, "end": begin + timedelta(hours=hours)})

    for area, lifts in LIFTS.items():
        for n, (_, kind, _) in enumerate(lifts, 1):
            key = f"{area[0].upper()}{n}"
            if kind == "carpet":
                for offset in range(-7, 21):
                    add(key, "run", monday + timedelta(days=offset), time(9), 7)
                continue
            for offset in range(-7, 21):
                day = monday + timedelta(days=offset)
                if key == "M4":
                    add(key, "work", day, time(6), 11) if day.weekday() < 5 else None
                elif key == "L3":
                    continue
                elif key == "N3":
                    add(key, "work", day, time(5), 3)
                    add(key, "run", day, time(9), 8)
                elif day.weekday() in (1, 2) and (n + offset) % 2:
                    add(key, "work", day, time(6), 10)
                else:
                    evening = 22 if day.weekday() in (4, 5) else 19
                    add(key, "work", day, time(evening), 24 - evening + 6 if r.random() < 0.8 else 3)
                    add(key, "run", day, time(8), evening - 9)
    return [{**w, "start": _utc(w["start"]), "end": _utc(w["end"])} for w in out]


def _utc(moment: datetime) -> datetime:
    return moment.astimezone(ZoneInfo("UTC"))
