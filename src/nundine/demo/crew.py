"""Crafts, tools, shift patterns and 40 people. Names are invented."""

from __future__ import annotations

from datetime import date, time, timedelta
from random import Random
from typing import Any
from zoneinfo import ZoneInfo

from nundine.core.timeline import at_local

CRAFTS = (
    ("mech", "Ropeway mechanic", 0.15),
    ("elec", "Electrician", 0.15),
    ("ctrl", "Controls technician", 0.1),
    ("hyd", "Hydraulic fitter", 0.1),
    ("rig", "Rigger", 0.1),
    ("veh", "Vehicle mechanic", 0.15),
    ("weld", "Welder", 0.05),
    ("hand", "General hand", 0.1),
)
RATES = {
    "mech": 84.0, "elec": 88.0, "ctrl": 96.0, "hyd": 86.0,
    "rig": 98.0, "veh": 82.0, "weld": 90.0, "hand": 62.0,
}  # fmt: skip
"""What an hour costs, in the site's currency; invented."""
TOOLS = (
    ("crane", "Mobile crane", 1),
    ("ndt", "Ultrasonic test set", 2),
    ("winch", "Rope winch", 1),
    ("lift", "Work platform", 2),
    ("laser", "Alignment laser", 1),
    ("bench", "Rope test bench, away for repair", 0),
)
PATTERNS: dict[str, tuple[int, tuple[tuple[int, time, time, int], ...]]] = {
    "early": (7, tuple((d, time(6), time(14, 30), 30) for d in range(1, 6))),
    "day": (7, tuple((d, time(7), time(16), 45) for d in range(1, 6))),
    "late": (7, tuple((d, time(13, 30), time(22), 30) for d in range(2, 7))),
    "night": (7, tuple((d, time(20, 30), time(5), 15) for d in (1, 2, 3, 4, 7))),
    "long": (7, tuple((d, time(6), time(16, 30), 30) for d in (4, 5, 6, 7))),
    "rotating": (
        14,
        tuple((d, time(6), time(14, 30), 30) for d in range(1, 6))
        + tuple((d, time(20, 30), time(5), 15) for d in range(8, 13)),
    ),
}
PEOPLE = (
    # name, main craft, level, others, area, pattern, certificates
    ("Ilse Brandner", "mech", 3, (("hyd", 1),), "north", "day", ("rope",)),
    ("Tomo Farkas", "mech", 2, (), "north", "early", ("rope",)),
    ("Ravi Menon", "mech", 2, (("weld", 1),), "north", "night", ()),
    ("Greta Lindahl", "mech", 2, (), "north", "night", ("rope",)),
    ("Yusuf Aydin", "mech", 1, (), "north", "rotating", ()),
    ("Marit Solberg", "mech", 3, (("rig", 1),), "middle", "day", ("rope", "brake")),
    ("Dario Bianchi", "mech", 2, (), "middle", "night", ("brake",)),
    ("Pavel Sokol", "mech", 2, (("hyd", 2),), "middle", "night", ()),
    ("Aoife Brennan", "mech", 2, (), "lake", "early", ("rope",)),
    ("Henk de Wit", "mech", 3, (), "lake", "night", ("brake",)),
    ("Noor Haddad", "mech", 1, (), "lake", "late", ()),
    ("ليلى منصور", "mech", 2, (("elec", 1),), "middle", "long", ("rope",)),
    ("Ana Varga", "elec", 3, (("ctrl", 2),), "north", "day", ("hv",)),
    ("Piet Hoekstra", "elec", 2, (), "north", "night", ()),
    ("Lucia Moretti", "elec", 2, (), "middle", "early", ("hv",)),
    ("Sami Korhonen", "elec", 2, (("ctrl", 1),), "middle", "night", ()),
    ("Bruno Keller", "elec", 2, (), "lake", "late", ()),
    ("Tereza Novotná", "elec", 1, (), "lake", "rotating", ()),
    ("Owen Pryce", "elec", 3, (), "middle", "long", ("hv",)),
    ("Mei Tanaka", "ctrl", 3, (("elec", 2),), "middle", "day", ()),
    ("Jonas Weil", "ctrl", 2, (), "north", "night", ()),
    ("Salma Idrissi", "ctrl", 2, (), "lake", "early", ()),
    ("Viktor Hall", "ctrl", 2, (("elec", 1),), "middle", "late", ()),
    ("Rosa Quint", "hyd", 3, (("mech", 1),), "middle", "day", ()),
    ("Emil Strand", "hyd", 2, (), "north", "night", ()),
    ("Katya Orlova", "hyd", 2, (("veh", 1),), "lake", "early", ()),
    ("Femi Adeyemi", "hyd", 1, (), "middle", "late", ()),
    ("Lars Ekdal", "rig", 3, (("mech", 1),), "north", "day", ("rope", "height")),
    ("Zuzana Krall", "rig", 2, (), "middle", "night", ("rope", "height")),
    ("Cal Murphy", "rig", 2, (), "lake", "early", ("rope", "height")),
    ("Ines Robalo", "veh", 3, (("hyd", 1),), "north", "day", ()),
    ("Matti Salo", "veh", 2, (), "north", "late", ()),
    ("Georg Anders", "veh", 2, (), "middle", "early", ()),
    ("Chloe Marchand", "veh", 2, (("weld", 1),), "middle", "night", ()),
    ("Ibrahim Diallo", "veh", 1, (), "north", "rotating", ()),
    ("Hanna Vogt", "weld", 3, (), "middle", "day", ("pressure",)),
    ("Stefan Rusu", "weld", 2, (("mech", 1),), "north", "early", ()),
    ("Olga Petrenko", "hand", 2, (), "north", "day", ()),
    ("Ben Achterberg", "hand", 1, (), "middle", "early", ()),
    ("Nadia Ferreira", "hand", 2, (("veh", 1),), "lake", "late", ()),
)


def people(monday: date) -> list[dict[str, Any]]:
    """40 people; one rope certificate ends in the middle of the week."""
    out = []
    for n, (name, main, level, others, area, _, held) in enumerate(PEOPLE, 1):
        ends = {1: monday + timedelta(days=2)}.get(n)
        out.append(
            {
                "person": f"p{n:02}",
                "name": name,
                "area": area,
                "crew": f"{ {'north': 'North', 'middle': 'Middle', 'lake': 'Lake'}[area] } {1 + n % 2}",
                "crafts": ((main, level), *others),
                "certificates": tuple(sorted((c, ends if c == "rope" else None) for c in held)),
            }
        )
    return out


def shifts() -> list[dict[str, Any]]:
    return [
        {
            "pattern": name,
            "cycle_days": days,
            "day": d,
            "start": start,
            "end": end,
            "standing_minutes": standing,
        }
        for name, (days, lines) in PATTERNS.items()
        for d, start, end, standing in lines
    ]


def rosters(monday: date) -> list[dict[str, Any]]:
    """Everybody's pattern from eight weeks before; rotating shifts are a week apart."""
    first = monday - timedelta(days=56)
    return [
        {
            "person": f"p{n:02}",
            "pattern": line[5],
            "first": first + timedelta(days=7 * (n % 2) if line[5] == "rotating" else 0),
            "last": None,
        }
        for n, line in enumerate(PEOPLE, 1)
    ]


LONG_LEAVE = 3
"""Days of leave beyond which somebody stands in."""


def absences(monday: date, zone: ZoneInfo) -> list[dict[str, Any]]:
    """Leave, training and one sick day; for a long leave somebody stands in."""
    found = (
        (2, 1, 1, "sick"),
        (15, 3, 2, "leave"),
        (24, 0, 5, "leave"),
        (33, 2, 1, "training"),
        (10, 4, 3, "leave"),
        (38, 0, 2, "training"),
    )
    out = []
    for person, day, days, reason in found:
        start = at_local(monday + timedelta(days=day), time(0), zone)
        end = at_local(monday + timedelta(days=day + days), time(0), zone)
        out.append(
            {
                "person": f"p{person:02}",
                "start": start.astimezone(ZoneInfo("UTC")),
                "end": end.astimezone(ZoneInfo("UTC")),
                "reason": reason,
                "stand_in": f"p{person + 1:02}" if days > LONG_LEAVE else None,
            }
        )
    return out


def overtime(monday: date, zone: ZoneInfo) -> list[dict[str, Any]]:
    """Saturday hours that some have offered."""
    r, out = Random(5), []
    for n in sorted(r.sample(range(1, len(PEOPLE) + 1), 7)):
        if PEOPLE[n - 1][5] in ("long", "late"):
            continue
        start = at_local(monday + timedelta(days=5), time(7), zone).astimezone(ZoneInfo("UTC"))
        out.append({"person": f"p{n:02}", "start": start, "end": start + timedelta(hours=6)})
    return out
