"""What the demo's work says beside hours and crews: how things are done, what is checked, which permits are
needed, which points are shut off, and who comes from outside."""

from __future__ import annotations

from datetime import date, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.timeline import at_local

Rows = list[dict[str, Any]]

PERMIT_KINDS = (
    ("height", "Work at height", "Anchors and ropes seen; somebody on the ground; wind below 50 km/h"),
    ("hot", "Hot work", "Fire watch for two hours; nothing that burns within ten metres; extinguisher there"),
    ("electric", "Electrical isolation", "Switched off, locked, tested dead, earthed; key box number"),
    ("confined", "Confined space", "Air measured; somebody at the opening; way out practised"),
)
PLANNING_TEAMS = {"north": "Ropeways", "middle": "Ropeways", "lake": "Lake and water"}
VEHICLES = ("crane", "lift")
OVERTIME = 1.25
"""Times the cost of a regular hour."""
CHECKLISTS = {
    "Static test": ("Braking distance [m 3.5..6.5]", "Brake lining [mm 4..]", "Callipers move freely"),
    "Dynamic test": ("Deceleration [m/s² ..1.25]", "Noise {none, slight, !loud}"),
    "Inspect and clean": ("Brushes [mm 12..]", "Traces of arcing {none, !some, !many}"),
    "Measure springs": ("Spring force [kN 8.2..9.4]", "Springs exchanged [pieces]"),
    "Fill and sample": ("Oil level {low, right, high}", "Oil filled [l 60..85]", "Sample sent to laboratory"),
    "Measure": ("Value [text]",),
    "Check ropes and seats": ("All ropes whole", "All buckles close", "Next check written on the tag"),
    "Measure earth": ("Earth resistance [Ohm ..10]",),
    "Load test": ("Test load [t 2.5..]", "Hook without cracks", "Remarks [text]"),
    "Lubricate at creep speed": ("Lubricant used [kg]", "Strands look {sound, !broken wires}"),
    "Oils and filters": ("Engine oil [l 18..22]", "Filter of hydraulics changed"),
}
FIVE_RULES = "Switch off, lock, test dead, earth, cover. The key goes into the box in the control room."
HOW = {
    "Static test": "Lift empty, wind below 8 m/s. Each brake by itself: put it on, run the drive to 1.5 "
    "times the rated torque, mark the pulley; it may not turn.",
    "Exchange bearing": "Secure the rope in the catcher first. Heat the inner ring to 80 °C, never with a "
    "flame. Grease until it comes out on both sides.",
    "Run rope through": "Twice, at 0.5 m/s, with the test head going the same way. Mark what lies above 5 %.",
    "Isolate": FIVE_RULES,
    "Isolate ring": FIVE_RULES,
    "Weld": "Preheat to 120 °C; two layers at least; let it cool under a blanket.",
    "Lift motor": "Four slings of 5 m, at least 3 t each. Nobody under the load.",
}
ISOLATION = {
    "Drive motor insulation test": (
        "Main switch Q1",
        "Converter supply Q4",
        "Service brake, mechanical lock",
    ),
    "Switch gear inspection": ("Ring feeder A", "Ring feeder B", "Voltage transformer fuses"),
    "Drive overhaul": ("Main switch Q1", "Hydraulic unit, valve V3", "Counter rope, lock pin"),
    "Pump seal exchange": ("Pump switch Q7", "Suction valve", "Pressure valve"),
}
PERMITS = {
    "Drive motor insulation test": ("electric",),
    "Switch gear inspection": ("electric",),
    "Exchange sheave bearing": ("height",),
    "Tower lighting repair": ("electric", "height"),
    "Weld crack in platform frame": ("hot",),
    "Handrail repair": ("hot",),
    "Chair inspection, non-destructive": ("height",),
}
EVERYWHERE = ("Handrail repair", "Lightning protection survey")
"""Plans that serve other sites, too."""
USUAL = ("height",)
"""Of other work that needs a permit."""
OUTSIDE = {
    "Run rope through": (("Seilprüf Aarwangen", 1, 145.0),),
    "Test for cracks": (("Prüfwerk Ost", 1, 138.0),),
    "Lift motor": (("Kranen Bruggmoos, with driver", 1, 210.0),),
    "Put motor back": (("Kranen Bruggmoos, with driver", 1, 210.0),),
}


def say_more(plans: Rows, plan_tasks: Rows, orders: Rows, tasks: Rows) -> None:
    """Fill in plans, and the WOs that were made of them."""
    for row in (*plan_tasks, *tasks):
        row["text"] = HOW.get(row["title"], "")
        row["checklist"] = CHECKLISTS.get(row["title"], ())
        row["outside"] = OUTSIDE.get(row["title"], ())
    for plan in plans:
        plan["permits"] = PERMITS.get(plan["title"], ())
        plan["permit"] = "waiting" if plan["permits"] else "not needed"
        plan["isolation"] = ISOLATION.get(plan["title"], ())
        plan["sites"] = ("everywhere",) if plan["title"] in EVERYWHERE else ()
    for order in orders:
        order["isolation"] = ISOLATION.get(order["title"], ())
        needed = order["permit"] != "not needed"
        order["permits"] = PERMITS.get(order["title"], USUAL) if needed else ()


def permits(orders: Rows, monday: date, zone: ZoneInfo) -> Rows:
    """Those that were given, and those that are asked for; some are still to be asked for."""
    start = at_local(monday - timedelta(days=14), time(6), zone)
    out = []
    for n, order in enumerate(o for o in orders if o["permit"] != "not needed"):
        given = order["permit"] == "granted"
        if not given and n % 3 == 0:
            continue
        for kind in order["permits"]:
            times = (start, start + timedelta(days=70)) if given else (None, None)
            out.append(
                {
                    "number": order["number"],
                    "permit": kind,
                    "state": "given" if given else "asked",
                    "valid_from": times[0],
                    "valid_to": times[1],
                    "remark": "",
                    "by": "Olivia Thorne" if given else "Sven Ostrova",
                    "at": start,
                }
            )
    return out
