"""The demo's storerooms and parts: what lies where, and which assets use it. Makers and numbers are
invented."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from random import Random
from typing import Any

Row = dict[str, Any]
STOREROOMS = (
    ("main", "Main storeroom, Middle station", "middle"),
    ("north", "North terminal store", "north"),
    ("lake", "Lake side container", "lake"),
)
MAKERS = ("Orvaldt", "Keshi Works", "Brandal", "Tessit", "Monteluna", "Harrow Forge", "Juvisol", "Pellnau")
COUNT = 600
Family = tuple[str, str, tuple[str, ...], str, float, tuple[int, int], str]
"""Group, what one is called, its sizes, unit, usual price, lead days from and to, words of assets that use
it."""
FAMILIES: tuple[Family, ...] = (
    (
        "Bearings",
        "Ball bearing {}",
        ("6204", "6205", "6206", "6208", "6210", "6212", "6306", "6308"),
        "pcs",
        18,
        (3, 15),
        "drive return",
    ),
    (
        "Bearings",
        "Roller bearing {}",
        ("22212", "22216", "22220", "23024", "NU 212", "NU 216"),
        "pcs",
        140,
        (10, 40),
        "drive return sheaves towers",
    ),
    (
        "Seals",
        "Shaft seal {}",
        ("30x52x7", "40x62x8", "50x72x8", "65x90x10", "80x110x10"),
        "pcs",
        9,
        (3, 12),
        "drive return hydraulic",
    ),
    (
        "Seals",
        "O-ring set {}",
        ("small", "medium", "large", "metric 400"),
        "set",
        24,
        (3, 8),
        "hydraulic pump",
    ),
    (
        "Seals",
        "Cylinder seal kit {}",
        ("40/28", "63/45", "80/56", "100/70"),
        "set",
        85,
        (7, 25),
        "hydraulic vehicle pump",
    ),
    (
        "Brakes",
        "Brake lining {}",
        ("service, 120", "service, 160", "safety, 160", "safety, 200"),
        "pcs",
        210,
        (20, 60),
        "drive",
    ),
    ("Brakes", "Brake spring set {}", ("A", "B", "C"), "set", 320, (30, 70), "drive"),
    (
        "Sheaves",
        "Sheave liner {}",
        ("400", "450", "500", "support", "compression"),
        "pcs",
        64,
        (10, 30),
        "towers line",
    ),
    ("Sheaves", "Sheave axle {}", ("400", "450", "500"), "pcs", 118, (20, 50), "towers line"),
    ("Grips", "Grip spring {}", ("left", "right", "T2", "T4"), "pcs", 95, (25, 60), "cabins chairs grips"),
    ("Grips", "Grip jaw {}", ("38", "40", "42", "45"), "pcs", 260, (40, 90), "cabins chairs grips"),
    (
        "Cabins",
        "Door {}",
        ("roller", "belt", "seal 2 m", "lock", "window", "step"),
        "pcs",
        48,
        (10, 30),
        "cabins",
    ),
    (
        "Chairs",
        "Chair {}",
        ("cushion", "bar", "damper", "footrest", "foil"),
        "pcs",
        72,
        (10, 30),
        "chairs line",
    ),
    (
        "Filters",
        "Oil filter {}",
        ("H-60", "H-110", "H-160", "V-22", "V-31"),
        "pcs",
        31,
        (2, 8),
        "hydraulic vehicle pump drive",
    ),
    (
        "Filters",
        "Air filter {}",
        ("V-1", "V-2", "cabinet", "compressor"),
        "pcs",
        27,
        (2, 8),
        "vehicle snow drive",
    ),
    ("Oils", "Gear oil {}", ("220", "320", "460"), "l", 7, (2, 6), "drive return"),
    ("Oils", "Hydraulic oil {}", ("22", "32", "46"), "l", 5, (2, 6), "hydraulic vehicle"),
    (
        "Electric",
        "Contactor {}",
        ("9 A", "18 A", "32 A", "65 A", "95 A"),
        "pcs",
        42,
        (3, 20),
        "drive cabinet switch control",
    ),
    (
        "Electric",
        "Relay {}",
        ("24 V", "48 V", "230 V", "safety", "time"),
        "pcs",
        29,
        (3, 20),
        "control drive cabinet",
    ),
    (
        "Electric",
        "Limit switch {}",
        ("roller", "plunger", "magnetic", "inductive M12", "inductive M18"),
        "pcs",
        54,
        (3, 20),
        "drive return line towers",
    ),
    ("Electric", "Fuse {}", ("10 A", "16 A", "35 A", "63 A", "125 A"), "pcs", 4, (2, 6), "cabinet switch"),
    (
        "Electric",
        "Lamp {}",
        ("LED 8 W", "LED 18 W", "emergency", "signal red", "signal green"),
        "pcs",
        16,
        (2, 10),
        "terminal station building",
    ),
    (
        "Controls",
        "Control module {}",
        ("DI 16", "DO 16", "AI 8", "CPU", "supply", "safety"),
        "pcs",
        520,
        (15, 80),
        "control drive network",
    ),
    ("Controls", "Radio {}", ("aerial", "unit", "battery"), "pcs", 190, (10, 40), "network control"),
    (
        "Hydraulics",
        "Hose {}",
        ("1/4 0.6 m", "3/8 1 m", "1/2 1.2 m", "3/4 1.5 m"),
        "pcs",
        38,
        (3, 14),
        "hydraulic vehicle pump",
    ),
    (
        "Hydraulics",
        "Valve {}",
        ("4/3", "4/2", "relief", "check", "throttle"),
        "pcs",
        175,
        (10, 45),
        "hydraulic pump",
    ),
    ("Snowmaking", "Nozzle {}", ("set 8", "set 12", "set 24", "air"), "set", 110, (10, 30), "snow"),
    ("Snowmaking", "Hydrant {}", ("valve", "hose 10 m", "hose 20 m", "seal"), "pcs", 88, (7, 25), "snow"),
    (
        "Vehicles",
        "Track {}",
        ("belt", "cross-link", "bolt set", "tyre"),
        "pcs",
        130,
        (10, 30),
        "vehicle fleet",
    ),
    ("Vehicles", "Winch {}", ("rope 1000 m", "brake pad", "sheave"), "pcs", 640, (20, 60), "vehicle fleet"),
    (
        "Fixings",
        "Bolt {}",
        ("M12x60 10.9", "M16x80 10.9", "M20x100 10.9", "M24x120 10.9"),
        "pcs",
        2,
        (2, 6),
        "towers line drive",
    ),
    ("Fixings", "Lock nut {}", ("M12", "M16", "M20", "M24"), "pcs", 0.6, (2, 6), "towers line drive"),
)


def parts(assets: list[Row]) -> dict[str, list[Row]]:
    """Rows of storerooms, parts and parts lists, by kind of file."""
    r = Random(4004)
    rows: list[Row] = []
    lists: dict[tuple[str, str], Row] = {}
    sizes = [(f, size, n) for n in range(9) for f in FAMILIES for size in f[2]]
    for family, size, turn in sizes[:COUNT]:
        group, name, _, unit, price, (low, high), words = family
        key = f"{group[:2].upper()}-{1001 + len(rows)}"
        made_by = "" if not turn else f", {MAKERS[(turn + len(name)) % len(MAKERS)]}"
        rows.append(
            {
                "part": key,
                "name": f"{name.format(size)}{made_by}",
                "unit": unit,
                "group": group,
                "maker": MAKERS[(turn + len(name)) % len(MAKERS)],
                "maker_number": f"{r.randrange(10**5, 10**6)}",
                "price": round(price * r.uniform(0.7, 1.6), 2),
                "valued": "average",
                "lead_days": r.randrange(low, high + 1),
                "minimum": float(r.choice((0, 0, 1, 2, 4, 10))),
                "reorder": None,
                "alternates": (),
                "tracked": group != "Fixings",
                "must_use": group not in ("Fixings", "Oils"),
                "blocked": False,
                "description": "",
            }
        )
        if turn == 1:
            rows[-1]["alternates"] = ((_first_of(rows, name.format(size)), True),)
        fit = [a["asset"] for a in assets if any(w in a["name"].lower() for w in words.split())]
        for asset in r.sample(fit, min(len(fit), 2)):
            lists[(asset, key)] = {
                "asset": asset, "part": key, "quantity": float(r.choice((1, 1, 2, 2, 4, 8))), "remark": "",
            }  # fmt: skip
    stores = [{"storeroom": k, "name": n, "area": a} for k, n, a in STOREROOMS]
    return {"storerooms": stores, "parts": rows, "asset_parts": list(lists.values())}


def _first_of(rows: list[Row], name: str) -> str:
    return next(str(p["part"]) for p in rows if p["name"] == name)


def movements(parts: list[Row], monday: date) -> list[Row]:
    """What came into the storerooms in the last two years; a part in nine is out."""
    r = Random(1812)
    out: list[Row] = []
    for part in parts:
        if not part["tracked"] or r.random() < 0.11:
            continue
        for n in range(r.choice((1, 1, 2))):
            days = r.randrange(30, 700)
            at = datetime.combine(monday - timedelta(days=days), datetime.min.time(), UTC) + timedelta(
                hours=r.randrange(6, 15), minutes=r.choice((0, 10, 25, 40))
            )
            store = r.choices(("main", "north", "lake"), (6, 2, 1))[0]
            quantity = float(r.choice((1, 2, 2, 4, 6, 10)) * (20 if part["unit"] == "l" else 1))
            out.append(
                {
                    "number": "",
                    "at": at,
                    "kind": "receipt",
                    "part": part["part"],
                    "storeroom": store,
                    "shelf": f"{'ABCDEF'[len(part['group']) % 6]}-{1 + (len(out) * 7 + n) % 48:02}",
                    "lot": "",
                    "quantity": quantity,
                    "price": round(part["price"] * r.uniform(0.9, 1.1), 2),
                    "order": None,
                    "by": "Rudi Kemper",
                    "reason": "",
                }
            )
    out.sort(key=lambda m: m["at"])
    for n, row in enumerate(out):
        row["number"] = f"M-{100_001 + n}"
    return out


NEEDED = (
    ("Gearbox oil change", "Oils", 20.0),
    ("500 h service", "Filters", 2.0),
    ("hose exchange", "Hydraulics", 2.0),
    ("Grip service", "Grips", 4.0),
    ("Snow gun overhaul", "Snowmaking", 2.0),
    ("battery exchange", "Controls", 1.0),
    ("Drive motor", "Bearings", 2.0),
)
"""Words of job plans, the group of a part that their first task needs, and how many."""


def say_needs(job_plans: list[Row], plan_tasks: list[Row], parts: list[Row]) -> None:
    """First tasks of some job plans say the part that they need."""
    first: dict[str, Row] = {}
    for task in plan_tasks:
        task.setdefault("parts", ())
        first.setdefault(task["plan"], task)
    for plan in job_plans:
        for words, group, quantity in NEEDED:
            if words in plan["title"] and plan["number"] in first:
                part = next(p["part"] for p in parts if p["group"] == group)
                first[plan["number"]]["parts"] = ((part, "", quantity, None, True),)
