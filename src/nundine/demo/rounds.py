"""Short preventive work of the demo that needs no job plan: its hours, crew and words are typed in."""

from __future__ import annotations

from typing import Any

Row = dict[str, Any]
LIFTS = ("N", "M", "L")
"""How keys of lifts begin, with a figure behind it."""
Round = tuple[str, str, float, str, str]
"""Title, rung, hours, craft, and what is done."""
OF_LIFTS: tuple[Round, ...] = (
    (
        "Grease by the list",
        "every 6 weeks: 6 weeks",
        1.5,
        "mech",
        "All points of the list, drive room first.",
    ),
    ("Look round the stations", "monthly: 1 month", 0.5, "hand", "Fences, signs, platforms, ice on roofs."),
    ("Emergency lamps and signs", "quarterly: 3 months", 1.0, "elec", "Each lamp burns for an hour."),
    ("Rescue gear at the lift", "half a year: 6 months", 1.0, "rig", "Complete, dry, dates of the ropes."),
    (
        "Lightning protection, look",
        "yearly: 1 year",
        1.0,
        "elec",
        "Conductors and clamps of all towers.",
    ),
    ("Tower ladders and platforms", "yearly: 1 year", 3.0, "rig", "Rungs, rails, gratings, fixings."),
)
OF_OTHERS: tuple[Round, ...] = (
    ("Fire extinguishers, look", "quarterly: 3 months", 0.5, "hand", "Place, seal, pressure, date."),
    ("Doors and gates", "yearly: 1 year", 1.5, "mech", "Close by themselves, nothing worn."),
    ("Sockets and leads, test", "yearly: 1 year", 2.0, "elec", "As the list of portable equipment says."),
)
CREWS = {"north": "North", "middle": "Middle", "lake": "Lake"}


def rounds(assets: list[Row], first: int) -> list[Row]:
    """A plan for each round of each lift, house or plant; numbers from `first` on."""
    out: list[Row] = []
    for asset in (a for a in assets if not a.get("parent")):
        is_lift = asset["asset"][:1] in LIFTS and asset["asset"][1:].isdigit()
        for n, (title, rung, hours, craft, words) in enumerate(OF_LIFTS if is_lift else OF_OTHERS):
            out.append(
                {
                    "number": f"PP-{first + len(out)}",
                    "title": title,
                    "state": "running",
                    "kind": "preventive",
                    "job_plan": None,
                    "crew": f"{CREWS[asset['area']]} {1 + n % 2}",
                    "assets": (asset["asset"],),
                    "basis": "floating" if "weeks" in rung else "fixed",
                    "rungs": (rung,),
                    "grid": (),
                    "season": (),
                    "outside": "skip",
                    "together": 0,
                    "before": "7",
                    "behind": "14",
                    "notice": "7",
                    "raises": "request" if title == "Doors and gates" else "work order",
                    "hours": hours,
                    "needs": ((craft, 1, 1, None),),
                    "asset_state": "any",
                    "correction": 0.0,
                    "description": words,
                }
            )
    return out
