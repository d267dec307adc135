"""A second, small site of the demo: a funicular by the sea with its own people, work and clock. All
invented."""

from __future__ import annotations

from datetime import UTC, date, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.timeline import at_local
from nundine.demo.work import order_row

KEY, SITE, ZONE = "saltmere", "Saltmere Funicular", "Europe/Lisbon"
AREAS = (("shore", "Shore"), ("north", "North cliff"))
"""One of them bears the same key as one of the first site, as it may."""
ASSETS = (
    ("fun-1", "Cliff funicular", "north", None, 9, True),
    ("fun-1-w", "Cliff funicular, winch", "north", "fun-1", 9, True),
    ("fun-1-t", "Cliff funicular, track", "north", "fun-1", 7, True),
    ("lift-s", "Harbour lift", "shore", None, 6, True),
    ("pump-s", "Shore pump house", "shore", None, 5, False),
    ("bld-s", "Shore station", "shore", None, 3, False),
)
PEOPLE = (
    ("Duarte Falcão", (("mech", 3),), "north"),
    ("Iris Calder", (("mech", 2), ("hand", 2)), "shore"),
    ("Noam Peretz", (("elec", 3), ("ctrl", 2)), "north"),
    ("Beatriz Luz", (("elec", 2),), "shore"),
    ("Abel Rowntree", (("hand", 2),), "shore"),
)
WORK = (
    ("Brake pads of the winch", "fun-1-w", "preventive", "stopped", (("mech", 3.0), ("elec", 1.0))),
    ("Track bolts, upper third", "fun-1-t", "preventive", "stopped", (("mech", 4.0),)),
    ("Door sensor sticks", "fun-1", "corrective", "any", (("elec", 1.5),)),
    ("Haul rope inspection", "fun-1", "statutory", "stopped", (("mech", 2.5), ("hand", 1.0))),
    ("Landing light flickers", "lift-s", "corrective", "any", (("elec", 1.0),)),
    ("Guide rollers", "lift-s", "preventive", "stopped", (("mech", 3.5),)),
    ("Oil leak at the harbour lift", "lift-s", "corrective", "any", (("mech", 2.0), ("hand", 1.0))),
    ("Pump seal", "pump-s", "corrective", "any", (("mech", 2.5),)),
    ("Float switch", "pump-s", "preventive", "any", (("elec", 1.0),)),
    ("Handrail loose", "bld-s", "safety", "any", (("hand", 1.5),)),
    ("Emergency lighting test", "bld-s", "statutory", "any", (("elec", 2.0),)),
    ("Paint the shore platform", "bld-s", "improvement", "any", (("hand", 6.0),)),
)


def rows(monday: date) -> dict[str, list[dict[str, Any]]]:
    """Everything of the small site by import kind, dated to the week that begins on a Monday."""
    zone = ZoneInfo(ZONE)
    return {
        "areas": [{"area": k, "name": n} for k, n in AREAS],
        "ways": [{"from": "north", "to": "shore", "minutes": 10}],
        "assets": [
            {
                "asset": key, "name": name, "area": area, "parent": parent, "criticality": weight,
                "limited": limited, "one_job_at_a_time": False,
            }
            for key, name, area, parent, weight, limited in ASSETS
        ],
        "windows": _windows(monday, zone),
        "people": [
            {
                "person": f"s{n}", "name": name, "area": area, "crew": "Saltmere", "crafts": crafts,
                "certificates": (),
            }
            for n, (name, crafts, area) in enumerate(PEOPLE, 1)
        ],
        "shifts": [
            {
                "pattern": "early", "cycle_days": 7, "day": d, "start": time(5), "end": time(13, 30),
                "standing_minutes": 30,
            }
            for d in range(1, 6)
        ],
        "rosters": [
            {"person": f"s{n}", "pattern": "early", "first": monday - timedelta(days=56), "last": None}
            for n in range(1, len(PEOPLE) + 1)
        ],
        **_work(monday),
    }  # fmt: skip


def _windows(monday: date, zone: ZoneInfo) -> list[dict[str, Any]]:
    """Before the first run of each working day, and on Wednesday until noon."""
    out = []
    for asset in ("fun-1", "lift-s"):
        for day in range(5):
            start = at_local(monday + timedelta(days=day), time(5), zone).astimezone(UTC)
            hours = 7 if day == 2 else 4
            out.append(
                {"asset": asset, "kind": "work", "start": start, "end": start + timedelta(hours=hours)}
            )
    return out


def _work(monday: date) -> dict[str, list[dict[str, Any]]]:
    orders, tasks = [], []
    for n, (title, asset, kind, state, steps) in enumerate(WORK):
        number = f"WO-{101 + n}"
        order = order_row(number, title, asset, kind)
        raised = monday - timedelta(days=10 + 3 * n)
        orders.append({**order, "raised": raised, "must": kind == "statutory", "divisible": False})
        for k, (craft, hours) in enumerate(steps, 1):
            tasks.append(
                {
                    "number": number, "task": str(10 * k),
                    "title": title if len(steps) == 1 else f"{title}, {k}",
                    "hours": hours, "needs": ((craft, 1, 1, None),), "asset_state": state,
                    "after": ((str(10 * (k - 1)), 0.0),) if k > 1 else (), "splittable": False,
                    "min_portion": 1.0, "tools": (), "state": "to do",
                }
            )  # fmt: skip
    return {"work_orders": orders, "tasks": tasks}
