"""Sixty job plans: those that the open jobs were made of, and others that come once or twice a year."""

from __future__ import annotations

from datetime import date, timedelta
from random import Random
from typing import Any

from nundine.demo.jobs import JOBS, PUT_BACK, Step
from nundine.demo.work import task_row

FIRST = 1001
Job = tuple[str, str, tuple[str, ...], tuple[Step, ...]]
SELDOM: tuple[Job, ...] = (
    ("Shorten haul rope", "project", ("track",), (
        ("Slacken and clamp", 4.0, "stopped", "mech x3 level 2 with rope; rig x1 with height"),
        ("Cut and splice", 10.0, "stopped", "mech x4 level 2 with rope"),
        ("Tension and set", 3.0, "stopped", "hyd x1 level 2; mech x2"),
        ("Run in", 2.0, "running", "mech x1 level 2; ctrl x1"))),
    ("Move track rope at the saddles", "project", ("towers",), (
        ("Lift rope out", 3.0, "stopped", "rig x2 level 2 with height; mech x2"),
        ("Shift and grease", 4.0, "stopped", "mech x3"),
        ("Set down and check", 2.0, "stopped", "rig x2 with height"))),
    ("Counterweight shaft, clear and measure", "preventive", ("return", "terminal"), (
        ("Pump out", 2.0, "any", "hand x1"),
        ("Measure travel", 1.0, "stopped", "mech x1 level 2"))),
    ("Emergency drive, monthly run", "statutory", ("drive",), (
        ("Warm up and couple", 0.5, "stopped", "mech x1 level 2"),
        ("Run half an hour", 0.75, "running", "mech x1 level 2"))),
    ("Diesel of the emergency drive, yearly service", "preventive", ("drive",), (
        ("Oil, filters, belts", 2.0, "stopped", "veh x1"),
        ("Trial run", 0.5, "running", "veh x1"))),
    ("Wind gauge exchange", "corrective", ("towers",), (
        ("Climb and exchange", 1.5, "stopped", "rig x1 with height; ctrl x1"),)),
    ("Ice on the line, knock off", "corrective", ("towers", "track"), (
        ("Ride and knock off", 2.0, "running", "hand x2"),)),
    ("Cabin suspension, yearly inspection", "statutory", ("cabins", "cars"), (
        ("Take down", 1.5, "any", "mech x2"),
        ("Test for cracks", 3.0, "any", "weld x1 level 2"),
        ("Hang up and set", 1.5, "any", "mech x2"))),
    ("Cabin glass exchange", "corrective", ("cabins", "cars"), (
        ("Cut out and bond", 2.5, "any", "hand x2"),)),
    ("Seat padding, batch of 20", "improvement", ("chairlift",), (
        ("Exchange", 4.0, "any", "hand x1"),)),
    ("Conveyor belt of the loading carpet", "corrective", ("carpet",), (
        ("Tension and track", 1.5, "stopped", "mech x1"),
        ("Test the comb switch", 0.5, "running", "ctrl x1"))),
    ("Reservoir, winter check", "statutory", ("reservoir",), (
        ("Walk the dam", 1.5, "any", "hand x1; mech x1 level 2"),
        ("Seepage readings", 1.0, "any", "mech x1 level 2"))),
    ("Snow line, drain for summer", "preventive", ("gun line",), (
        ("Open drains from top", 3.0, "stopped", "hand x2"),
        ("Blow through", 2.0, "stopped", "hyd x1; hand x1"))),
    ("Hydrant does not close", "corrective", ("gun line",), (
        ("Exchange cone", 1.5, "stopped", "hyd x1"),)),
    ("Compressor, oil and separator", "preventive", ("pump house",), (
        ("Drain and exchange", 2.0, "stopped", "mech x1"),
        ("Run and sample", 0.5, "running", "mech x1"))),
    ("Winch rope of the piste vehicle", "statutory", ("vehicle",), (
        ("Measure and lubricate", 2.0, "any", "veh x1 level 2"),)),
    ("Battery bank, capacity test", "preventive", ("switch", "house"), (
        ("Discharge", 5.0, "any", "elec x1 level 2"),
        ("Charge and record", 1.0, "any", "elec x1"))),
    ("Gate counts wrongly", "corrective", ("terminal", "drive station"), (
        ("Set light barrier", 0.75, "any", "ctrl x1"),)),
    ("Fire extinguishers, two-yearly", "statutory", ("house", "terminal", "Workshop"), (
        ("Weigh and seal", 3.0, "any", "hand x1"),)),
)  # fmt: skip
WRITTEN = ("Move track rope at the saddles", "Seat padding, batch of 20")
RETIRED = "Fire extinguishers, two-yearly"
LATER = "Battery bank, capacity test"
"""Holds from the first of the next month on."""
SECOND_EDITIONS = (
    ("Brake test, service and safety brake", "20", 1.0, 0.75),
    ("Gearbox oil change", "10", 2.0, 1.5),
    ("Piste vehicle 500 h service", "20", 3.0, 2.5),
    ("Pump seal exchange", "20", 2.0, 2.5),
    ("Hydraulic hose exchange", "10", 2.5, 2.0),
)
"""Plan, task, hours now, hours of the first edition."""


def job_plans(monday: date) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
    """Rows of plans and of their tasks, as they stand now."""
    r = Random(7)
    plans, tasks = [], []
    for n, (title, kind, words, steps) in enumerate((*JOBS, *SELDOM)):
        number = f"JP-{FIRST + n}"
        plans.append(
            {
                "number": number,
                "title": title,
                "kind": kind,
                "state": _state(title),
                "edition": 2 if title in {t for t, *_ in SECOND_EDITIONS} else 1,
                "valid_from": _next_month(monday) if title == LATER else None,
                "assets": (),
                "words": " ".join(words),
                "divisible": kind == "improvement",
                "put_back": title in PUT_BACK,
                "permit": "waiting" if "Weld" in title else "not needed",
                "description": "",
            }
        )
        for k, (what, hours, state, needs) in enumerate(steps, 1):
            row = task_row(r, number, k, what, hours, state, needs)
            tasks.append({"plan": row.pop("number"), **{n: v for n, v in row.items() if n != "state"}})
    return plans, tasks


def _state(title: str) -> str:
    return "being written" if title in WRITTEN else "retired" if title == RETIRED else "in force"


def _next_month(monday: date) -> date:
    return (monday.replace(day=1) + timedelta(days=32)).replace(day=1)


def made_of(orders: list[dict[str, Any]], plans: list[dict[str, Any]]) -> None:
    """Most WOs that have a plan's title were made of it; each seventh was planned by hand."""
    by_title = {p["title"]: p for p in plans}
    for n, order in enumerate(orders):
        plan = by_title.get(order["title"])
        if plan is not None and n % 7:
            order.update(plan=plan["number"], plan_edition=plan["edition"])
